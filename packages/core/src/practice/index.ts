export type { Operation } from "./operations.ts";
export { operationsOf } from "./operations.ts";
export type { Complaint } from "./complaint.ts";
export { complaintOf } from "./complaint.ts";
export type { Chance, Truth } from "./truth.ts";
export { chanceOf, resultOf } from "./truth.ts";
export type { Manner, Run, Step } from "./technician.ts";
export { batteryCheck, practise } from "./technician.ts";
