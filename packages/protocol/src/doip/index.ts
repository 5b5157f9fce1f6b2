export type { Announcement, DoipMessage, DoipType } from "./message.ts";
export { ACTIVATION, ANY_VERSION, encodeDoip, HEADER_BYTES, HEADER_REFUSALS, UNDELIVERED, VERSION, vinBytes } from "./message.ts";
export type { Framed, Framer } from "./framer.ts";
export { createFramer, readDatagram } from "./framer.ts";
export { activationWords, undeliveredWords } from "./words.ts";

/** Port of vehicle discovery and of diagnostics, ISO 13400-2. */
export const DOIP_PORT = 13400;
/** Functional address of everything that answers emissions services (ISO 27145). */
export const EMISSIONS_GROUP = 0xe000;
