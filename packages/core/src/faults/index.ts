export type { Experience, SupposedFault } from "./catalogue.ts";
export type { FaultEffect } from "./effect.ts";
export { dragsItsNet, FAULT_EFFECTS, isChafed, isShort, staysInSeries } from "./effect.ts";
export { catalogueOf, countFaults, measurementFaults } from "./catalogue.ts";
export type { Sweep } from "./sweep.ts";
export { insulated, sweep, UNSOLVED } from "./sweep.ts";
export { mostAmpsOf } from "./degrees.ts";
