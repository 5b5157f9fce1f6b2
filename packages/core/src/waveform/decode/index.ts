export type { LinFrame, LinRead } from "./lin.ts";
export { decodeLin, protectedId } from "./lin.ts";
export type { CanFrame, CanRead } from "./can.ts";
export { decodeCan } from "./can.ts";
