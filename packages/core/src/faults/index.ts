export type { FaultMode, SupposedFault } from "./catalogue.ts";
export { catalogueOf } from "./catalogue.ts";
export type { Sweep } from "./sweep.ts";
export { sweep } from "./sweep.ts";
