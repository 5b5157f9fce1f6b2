export type { Experience, SupposedFault } from "./catalogue.ts";
export { catalogueOf, measurementFaults } from "./catalogue.ts";
export type { Sweep } from "./sweep.ts";
export { insulated, sweep, UNSOLVED } from "./sweep.ts";
