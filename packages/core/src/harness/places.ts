import { deviceOf } from "./device-of.ts";
import { lookupOf } from "./lookup.ts";
import { onlyPlace, partNameIn, pinPlace, type PlaceId } from "./names.ts";
import type { Component, Harness, PinRef } from "./schema.ts";

/** Splices and grounds have one pin, which their place leaves out. */
const hasOnePin = (kind: Component["kind"]): boolean => kind === "splice" || kind === "ground";

/** The place of a pin. Throws RangeError for a component that the harness does not hold. */
export function placeOf(harness: Harness, pin: PinRef): PlaceId {
  const part = lookupOf(harness).parts.get(pin.component);
  if (part === undefined) throw new RangeError(`no component ${pin.component}`);
  return hasOnePin(part.kind) ? onlyPlace(part.id) : pinPlace(part.id, pin.pin);
}

/** Cavity numbers of a connector in use, in counting order. */
export const cavitiesOf = (harness: Harness, connectorId: string): readonly string[] => lookupOf(harness).cavities.get(connectorId) ?? [];

/** The pieces of metal that grounds are bolted to, such as "body" and "engine". */
export function massesOf(harness: Harness): PlaceId[] {
  const masses = new Set<PlaceId>();
  for (const c of harness.components) if (c.kind === "ground") masses.add(onlyPlace(c.on));
  return [...masses];
}

/** The places of one component, in pin order. */
export function placesOfComponent(harness: Harness, part: Component): PlaceId[] {
  switch (part.kind) {
    case "battery":
      return [pinPlace(part.id, "+"), pinPlace(part.id, "-")];
    case "fuse":
    case "switch":
      return [pinPlace(part.id, "1"), pinPlace(part.id, "2")];
    case "load":
      return part.pins.map((pin) => pinPlace(part.id, pin));
    case "connector":
      return cavitiesOf(harness, part.id).flatMap((n) => [pinPlace(part.id, `${n}a`), pinPlace(part.id, `${n}b`)]);
    case "device": {
      const { device, settings } = deviceOf(part);
      return device.terminals(settings).map((t) => pinPlace(part.id, t.name));
    }
    case "splice":
    case "ground":
      return [onlyPlace(part.id)];
  }
}

/** Every place of the circuit. */
export function allPlaces(harness: Harness): PlaceId[] {
  return [...harness.components.flatMap((c) => placesOfComponent(harness, c)), ...massesOf(harness)];
}

/** The battery that the circuit is fed from; undefined when there is none. */
export function batteryOf(harness: Harness): Extract<Component, { kind: "battery" }> | undefined {
  return harness.components.find((c) => c.kind === "battery");
}

/** Battery negative, the reference of record. Throws RangeError when there is no battery. */
export function batteryNegative(harness: Harness): PlaceId {
  const part = batteryOf(harness);
  if (part === undefined) throw new RangeError("the circuit has no battery");
  return pinPlace(part.id, "-");
}

/** Battery positive post. Throws RangeError when there is no battery. */
export function batteryPositive(harness: Harness): PlaceId {
  return pinPlace(partNameIn(batteryNegative(harness)), "+");
}

const wiresByPlace = new WeakMap<Harness, Map<string, Harness["wires"]>>();

/** Wires that end at a place, for telling the two sides of a cavity apart. */
export function wiresAt(harness: Harness, at: string): Harness["wires"] {
  let byPlace = wiresByPlace.get(harness);
  if (byPlace === undefined) {
    byPlace = new Map();
    for (const wire of harness.wires) {
      for (const place of new Set([placeOf(harness, wire.from), placeOf(harness, wire.to)]))
        byPlace.set(place, [...(byPlace.get(place) ?? []), wire]);
    }
    wiresByPlace.set(harness, byPlace);
  }
  return byPlace.get(at) ?? [];
}

export type PlaceAnswer =
  | { readonly kind: "place"; readonly place: PlaceId }
  | { readonly kind: "ambiguous"; readonly choices: readonly PlaceId[] }
  | { readonly kind: "unknown"; readonly nearest: readonly PlaceId[] };

/**
 * Reads a typed lead place. Case does not matter; "-" and "+" (or "neg", "pos") are the battery posts. A name that
 * could be two spots, such as "F3" or "C12.4", is answered with the choices.
 */
export function parsePlace(harness: Harness, text: string): PlaceAnswer {
  const typed = text.trim().toLowerCase().replaceAll("\u2212", "-");
  const places = allPlaces(harness);
  const posts: Record<string, () => PlaceId> = {
    "-": () => batteryNegative(harness),
    neg: () => batteryNegative(harness),
    "+": () => batteryPositive(harness),
    pos: () => batteryPositive(harness),
  };
  const post = posts[typed];
  if (post !== undefined && batteryOf(harness) !== undefined) return { kind: "place", place: post() };
  const exact = places.find((p) => p.toLowerCase() === typed);
  if (exact !== undefined) return { kind: "place", place: exact };
  if (typed === "") return { kind: "unknown", nearest: places.slice(0, 3) };
  const wire = harness.wires.find((w) => w.id.toLowerCase() === typed);
  if (wire !== undefined) return { kind: "ambiguous", choices: [placeOf(harness, wire.from), placeOf(harness, wire.to)] };
  const within = places.filter((p) => {
    const low = p.toLowerCase();
    return low.startsWith(`${typed}.`) || low === `${typed}a` || low === `${typed}b`;
  });
  if (within.length === 1) return { kind: "place", place: within[0]! };
  if (within.length > 1) return { kind: "ambiguous", choices: within };
  const nearest = places.filter((p) => p.toLowerCase().startsWith(typed.slice(0, 1))).slice(0, 4);
  return { kind: "unknown", nearest: nearest.length > 0 ? nearest : places.slice(0, 3) };
}
