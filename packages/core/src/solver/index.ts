export type { Element, Netlist, SolveResult } from "./netlist.ts";
export { solve } from "./solve.ts";
