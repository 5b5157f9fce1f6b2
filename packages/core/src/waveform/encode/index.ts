export type { CanBits } from "./can.ts";
export { canFrameBits } from "./can.ts";
export type { LinRun } from "./lin.ts";
export { linHeaderRuns, linResponseRuns } from "./lin.ts";
