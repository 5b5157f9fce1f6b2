export type { Reader } from "./reader.ts";
export { createReader } from "./reader.ts";
export type { Writer } from "./writer.ts";
export { createWriter } from "./writer.ts";
export { asciiOf, fromAscii, fromLatin1, hexOf, latin1Of } from "./text.ts";
