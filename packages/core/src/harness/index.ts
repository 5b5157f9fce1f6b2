export { harness as harnessSchema, WIRE_COLOURS, KEY_POSITIONS, LOAD_SORTS } from "./schema.ts";
export type { Harness, Component, Battery, Load, Wire, PinRef, WireColour, KeyPosition } from "./schema.ts";
export type { PlaceId, PlaceAnswer } from "./places.ts";
export {
  allPlaces,
  batteryNegative,
  batteryOf,
  batteryPositive,
  cavitiesOf,
  massesOf,
  parsePlace,
  placeOf,
  placesOfComponent,
  wiresAt,
} from "./places.ts";
export type { Hop, Link, LoadPath } from "./graph.ts";
export { linkOf, linksOf, pathOfLoad } from "./graph.ts";
export { lookupOf } from "./lookup.ts";
export type { HarnessProblem } from "./validate.ts";
export { ratedAmps, validateHarness } from "./validate.ts";
export { describeLink, describePlace } from "./describe.ts";
