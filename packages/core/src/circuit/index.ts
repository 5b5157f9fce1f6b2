export type { VehicleState } from "./state.ts";
export { describeState, REST_STATE, stateKey, vehicleState } from "./state.ts";
export type { Fault } from "./fault.ts";
export { fault as faultSchema } from "./fault.ts";
export type { BuildOptions, Circuit } from "./build.ts";
export { buildCircuit } from "./build.ts";
export type { SpiceFile, SpicePrint, SpiceProblem, SpiceResult, TransientWish } from "./spice/index.ts";
export { printSpice, readSpice } from "./spice/index.ts";
