export type { Coupling, Element, Netlist, Point, SolveFailure, SolveResult } from "./netlist.ts";
export { solve } from "./solve.ts";
export type { Wave } from "./wave.ts";
export { nextCorner, waveAt } from "./wave.ts";
export type { Course, TransientOptions, TransientResult } from "./transient.ts";
export { transient } from "./transient.ts";
export type { Change, Prepared } from "./update.ts";
export { prepare } from "./update.ts";
