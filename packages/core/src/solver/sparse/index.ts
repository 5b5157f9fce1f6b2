export type { Csc } from "./csc.ts";
export { checkCsc, multiply, patternOf } from "./csc.ts";
export { minimumDegree } from "./order.ts";
export type { FactorResult, Factors } from "./lu.ts";
export { factor, refactor, solveFactored } from "./lu.ts";
