import { deviceOf } from "./device-of.ts";
import { linksOf, type Link } from "./graph.ts";
import { lookupOf } from "./lookup.ts";
import { partNameIn, type PlaceId } from "./names.ts";
import type { Component, Harness } from "./schema.ts";

/** Everything joined by copper alone: wires, cavities, splices, direct joints; it ends at the pins of parts. */
export interface Net {
  /** Number in the harness, from 0. */
  readonly index: number;
  readonly places: readonly PlaceId[];
  readonly links: readonly Link[];
}

const known = new WeakMap<Harness, { readonly nets: readonly Net[]; readonly byPlace: ReadonlyMap<string, Net> }>();

function gather(harness: Harness): { readonly nets: readonly Net[]; readonly byPlace: ReadonlyMap<string, Net> } {
  const found = known.get(harness);
  if (found !== undefined) return found;
  const copper = linksOf(harness).filter((l) => l.kind === "wire" || l.kind === "cavity" || l.kind === "joint");
  const lead = new Map<PlaceId, PlaceId>();
  const top = (p: PlaceId): PlaceId => {
    let at = p;
    for (let up = lead.get(at) ?? at; up !== at; up = lead.get(at) ?? at) at = up;
    // The way is shortened, so that long chains stay cheap.
    for (let walk = p; walk !== at;) {
      const up = lead.get(walk) ?? walk;
      lead.set(walk, at);
      walk = up;
    }
    return at;
  };
  for (const l of copper) {
    for (const p of [l.a, l.b]) if (!lead.has(p)) lead.set(p, p);
    lead.set(top(l.a), top(l.b));
  }
  const nets = new Map<PlaceId, { index: number; places: PlaceId[]; links: Link[] }>();
  const byPlace = new Map<PlaceId, Net>();
  for (const p of lead.keys()) {
    const root = top(p);
    const net = nets.get(root) ?? { index: nets.size, places: [], links: [] };
    nets.set(root, net);
    net.places.push(p);
    byPlace.set(p, net);
  }
  for (const l of copper) nets.get(top(l.a))!.links.push(l);
  const made = { nets: [...nets.values()], byPlace };
  known.set(harness, made);
  return made;
}

/** All nets of a harness: places that wires and joints hold together with nothing between. */
export const netsOf = (harness: Harness): readonly Net[] => gather(harness).nets;
/** The net of a place; undefined where no copper ends. */
export const netAt = (harness: Harness, place: string): Net | undefined => gather(harness).byPlace.get(place);

/** The part that a place belongs to; undefined for bare metal. */
export function partOfPlace(harness: Harness, place: string): Component | undefined {
  return lookupOf(harness).parts.get(partNameIn(place));
}

/** The part that a link belongs to; undefined for wires and direct joints. */
export const partOfLink = (harness: Harness, link: Link): Component | undefined =>
  link.kind === "wire" || link.kind === "joint" ? undefined : partOfPlace(harness, link.id);

/** The role of a device's terminal, such as "bus" or "reference"; undefined for other places. */
export function roleOfPlace(harness: Harness, place: string): string | undefined {
  const part = partOfPlace(harness, place);
  if (part?.kind !== "device") return undefined;
  const { device, settings } = deviceOf(part);
  return device.terminals(settings).find((t) => `${part.id}.${t.name}` === place)?.role;
}

/** Parts at whose pins a net ends, connectors and splices left out. */
export function endsOfNet(harness: Harness, net: Net): readonly PlaceId[] {
  return net.places.filter((p) => {
    const kind = partOfPlace(harness, p)?.kind;
    return kind !== "connector" && kind !== "splice";
  });
}
