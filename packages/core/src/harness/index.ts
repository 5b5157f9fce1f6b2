export { harness as harnessSchema, WIRE_COLOURS, EXPOSURES } from "./schema.ts";
export type {
  Harness,
  Component,
  Battery,
  Connector,
  Device,
  Exposure,
  Ground,
  Load,
  Loom,
  Monitor,
  Option,
  Vehicle,
  Wire,
  PinRef,
  WireColour,
  Spot,
  Zone,
} from "./schema.ts";
export type { HarnessEdit } from "./edit.ts";
export { applyEdit, editOfFinding, freeId } from "./edit.ts";
export { canMeet, isFitted, optionsNamed, optionChanges, resolveVariant, variantsOf, withParts } from "./variants.ts";
export type { PlaceId } from "./names.ts";
export {
  acrossPlug,
  cavityIn,
  deviceNode,
  innerPlace,
  isInnerPlace,
  moduleGround,
  moduleSupply,
  onlyPlace,
  partNameIn,
  pinNameIn,
  pinPlace,
} from "./names.ts";
export type { PlaceAnswer } from "./places.ts";
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
export { consumes, linkOf, linksAt, linksOf, loadsOf, pathOfLoad } from "./graph.ts";
export type { KnownDevice } from "./device-of.ts";
export { deviceOf, settingsAs } from "./device-of.ts";
export type { BusMember } from "./bus-members.ts";
export { busMembersOf, extentOfLine, linMasterAt, mayAsk } from "./bus-members.ts";
export { leadFuseAmps } from "./lead-fuse.ts";
export { lookupOf } from "./lookup.ts";
export type { HarnessProblem } from "./validate.ts";
export { ratedAmps, validateHarness } from "./validate.ts";
export { describeLink, describePlace } from "./describe.ts";
export type { Net } from "./net.ts";
export { endsOfNet, netAt, netsOf, partOfLink, partOfPlace, roleOfPlace } from "./net.ts";
export type { Found, Slice } from "./slice.ts";
export { findInHarness, focusOfCode, MAX_DRAWN_SHARERS, sliceOf, usersOf, walksOf } from "./slice.ts";
export type { NodeKind, SharedNode } from "./shared.ts";
export { askableParts, busName, NODE_KINDS, sharedNodes } from "./shared.ts";
export type { Difference } from "./diff.ts";
export { diffHarness } from "./diff.ts";
export type { BusEntry, Face, FaceCavity, FuseEntry, GroundEntry, LoomEntry, Served } from "./maps.ts";
export {
  accessMinutes,
  ampsFromDrop,
  besideCavity,
  busMap,
  faceOf,
  fuseMap,
  groundMap,
  loomMap,
  moduleMap,
  neighboursOf,
  otherEnd,
} from "./maps.ts";
export type { Whereabouts } from "./plan.ts";
export { heightWords, spotWords, whereaboutsOf } from "./plan.ts";
