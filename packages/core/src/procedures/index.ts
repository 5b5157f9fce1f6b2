export type { Candidate } from "./pin-candidates.ts";
export { CANDIDATES } from "./pin-candidates.ts";
export type { Assignment, Moment, PinAnswer, PinReading, PinReadings } from "./pin-finder.ts";
export { circuitOf, expectedOf, findPins, harnessOf, MOMENTS } from "./pin-finder.ts";
