import { lookupOf, partNameIn, type Harness } from "../harness/index.ts";

/**
 * What a new part costs, in hours of labour, so that it needs no currency. Estimates of orders of magnitude, from a fuse to a control unit; a price list knows better.
 */
const HOURS: Readonly<Record<string, number>> = {
  fuse: 0.02,
  ground: 0.05,
  splice: 0.05,
  led: 0.1,
  diode: 0.1,
  resistor: 0.2,
  relay: 0.3,
  connector: 0.3,
  switch: 0.6,
  load: 0.4,
  strap: 0.4,
  glowplug: 0.4,
  ntc: 0.5,
  pickup: 0.7,
  hall: 0.7,
  pot: 1.2,
  ptc: 1.5,
  injector: 1.5,
  ignition: 1,
  battery: 2,
  dcmotor: 2.5,
  squib: 3,
  starter: 4,
  alternator: 5,
  module: 8,
};
/** Wires and looms by the metre. */
const WIRE_HOURS = 0.1;

/** Price of a part named by its id, or by a place of it, in hours of labour. */
export function partPriceHours(harness: Harness, at: string): number {
  const { parts } = lookupOf(harness);
  const part = parts.get(at) ?? parts.get(partNameIn(at));
  if (part === undefined) return WIRE_HOURS;
  return HOURS[part.kind === "device" ? part.device : part.kind] ?? WIRE_HOURS;
}
