export type { SpiceFile, SpiceProblem, SpiceResult, TransientWish } from "./read.ts";
export { readSpice } from "./read.ts";
export type { SpicePrint } from "./print.ts";
export { printSpice } from "./print.ts";
