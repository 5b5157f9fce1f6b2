import { allEnds, batteryOf, cavitiesOf, placeOf, type PlaceId } from "./places.ts";
import type { Component, Harness } from "./schema.ts";

/** One thing that current passes through between two places: a wire, a cavity, a fuse, a ground joint, a load. */
export interface Link {
  /** "W2", "F3", "C12.4", "G5", "FAN"; direct joints are "=1", "=2", … */
  readonly id: string;
  readonly kind: "wire" | "joint" | "cavity" | Exclude<Component["kind"], "connector" | "splice" | "battery">;
  readonly a: PlaceId;
  readonly b: PlaceId;
}

/** Every link of the circuit except the battery itself. */
export function linksOf(harness: Harness): Link[] {
  const links: Link[] = harness.wires.map((w) => ({
    id: w.id,
    kind: "wire",
    a: placeOf(harness, w.from),
    b: placeOf(harness, w.to),
  }));
  harness.joints.forEach((j, i) => links.push({ id: `=${i + 1}`, kind: "joint", a: placeOf(harness, j.from), b: placeOf(harness, j.to) }));
  for (const part of harness.components) links.push(...linksOfComponent(harness, part));
  return links;
}

function linksOfComponent(harness: Harness, part: Component): Link[] {
  const at = (pin: string): PlaceId => `${part.id}.${pin}` as PlaceId;
  switch (part.kind) {
    case "battery":
    case "splice":
      return [];
    case "fuse":
    case "switch":
      return [{ id: part.id, kind: part.kind, a: at("1"), b: at("2") }];
    case "load":
      return [{ id: part.id, kind: "load", a: at(part.pins[0]), b: at(part.pins[1]) }];
    case "ground":
      return [{ id: part.id, kind: "ground", a: part.id as PlaceId, b: part.on as PlaceId }];
    case "connector":
      return cavitiesOf(harness, part.id).map((n) => ({
        id: `${part.id}.${n}`,
        kind: "cavity",
        a: at(`${n}a`),
        b: at(`${n}b`),
      }));
  }
}

/** A link walked in one direction. */
export interface Hop {
  readonly link: Link;
  readonly from: PlaceId;
  readonly to: PlaceId;
}

/**
 * The way with the fewest links from one place to another; other loads are passed only when there is no way round them.
 * Returns undefined when there is none.
 */
export function wayBetween(links: readonly Link[], from: PlaceId, to: PlaceId, without: string): Hop[] | undefined {
  const LOAD_COST = 1000;
  const cost = new Map<PlaceId, number>([[from, 0]]);
  const cameBy = new Map<PlaceId, Hop>();
  const open = new Set<PlaceId>([from]);
  while (open.size > 0) {
    let here: PlaceId | undefined;
    for (const p of open) if (here === undefined || cost.get(p)! < cost.get(here)!) here = p;
    if (here === undefined || here === to) break;
    open.delete(here);
    for (const link of links) {
      if (link.id === without || (link.a !== here && link.b !== here)) continue;
      const next = link.a === here ? link.b : link.a;
      const total = cost.get(here)! + (link.kind === "load" ? LOAD_COST : 1);
      if (total < (cost.get(next) ?? Infinity)) {
        cost.set(next, total);
        cameBy.set(next, { link, from: here, to: next });
        open.add(next);
      }
    }
  }
  if (!cost.has(to)) return undefined;
  const way: Hop[] = [];
  for (let at = to; at !== from;) {
    const hop = cameBy.get(at)!;
    way.unshift(hop);
    at = hop.from;
  }
  return way;
}

export type LoadPath =
  | { readonly kind: "path"; readonly feed: readonly Hop[]; readonly load: Hop; readonly ground: readonly Hop[] }
  | { readonly kind: "no feed"; readonly place: PlaceId }
  | { readonly kind: "no ground"; readonly place: PlaceId }
  | { readonly kind: "no battery" };

/** Battery positive → load → battery negative, through the pins that give the shorter whole. */
export function pathOfLoad(harness: Harness, loadId: string): LoadPath {
  const source = batteryOf(harness);
  if (source === undefined) return { kind: "no battery" };
  const links = linksOf(harness);
  const own = links.find((l) => l.id === loadId && l.kind === "load");
  if (own === undefined) throw new RangeError(`no load ${loadId}`);
  const plus = `${source.id}.+` as PlaceId;
  const minus = `${source.id}.-` as PlaceId;
  const walks = [
    [own.a, own.b],
    [own.b, own.a],
  ] as const;
  const ways = walks.map(([near, far]) => ({
    near,
    far,
    feed: wayBetween(links, plus, near, loadId),
    ground: wayBetween(links, far, minus, loadId),
  }));
  const weight = (hops: readonly Hop[] | undefined): number =>
    hops === undefined ? Infinity : hops.reduce((sum, h) => sum + (h.link.kind === "load" ? 1000 : 1), 0);
  const best = weight(ways[0]!.feed) + weight(ways[0]!.ground) <= weight(ways[1]!.feed) + weight(ways[1]!.ground) ? ways[0]! : ways[1]!;
  if (best.feed === undefined) return { kind: "no feed", place: best.near };
  if (best.ground === undefined) return { kind: "no ground", place: best.far };
  return { kind: "path", feed: best.feed, load: { link: own, from: best.near, to: best.far }, ground: best.ground };
}

/** How many wires or joints end at each pin, by place. */
export function endsByPlace(harness: Harness): Map<PlaceId, number> {
  const count = new Map<PlaceId, number>();
  for (const end of allEnds(harness)) {
    const at = placeOf(harness, end);
    count.set(at, (count.get(at) ?? 0) + 1);
  }
  return count;
}
