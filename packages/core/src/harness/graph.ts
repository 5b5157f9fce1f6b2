import { deviceOf } from "./device-of.ts";
import { lookupOf } from "./lookup.ts";
import { onlyPlace, partNameIn, pinPlace, type PlaceId } from "./names.ts";
import { batteryOf, cavitiesOf, placeOf } from "./places.ts";
import type { Component, Harness } from "./schema.ts";

/** One thing that current passes through between two places: a wire, a cavity, a fuse, a ground joint, a load. */
export interface Link {
  /** "W2", "F3", "C12.4", "G5", "FAN"; direct joints are "=1", "=2", … */
  readonly id: string;
  readonly kind: "wire" | "joint" | "cavity" | Exclude<Component["kind"], "connector" | "splice" | "battery">;
  readonly a: PlaceId;
  readonly b: PlaceId;
  /** Ways inside a device: whether current does work there (a winding) or only passes (a contact). */
  readonly consumes?: boolean;
}

/** The links of a harness, gathered once: it is immutable. */
interface Graph {
  readonly links: readonly Link[];
  readonly byId: ReadonlyMap<string, Link>;
  readonly byPlace: ReadonlyMap<string, readonly Link[]>;
  /** Ways without a load in them, from a root to everything it reaches, made when first asked for. */
  readonly trees: Map<PlaceId, ReadonlyMap<PlaceId, Hop>>;
}
const graphs = new WeakMap<Harness, Graph>();

function graphOf(harness: Harness): Graph {
  const known = graphs.get(harness);
  if (known !== undefined) return known;
  const links = gatherLinks(harness);
  const byPlace = new Map<PlaceId, Link[]>();
  for (const link of links) {
    for (const place of link.a === link.b ? [link.a] : [link.a, link.b]) {
      const here = byPlace.get(place);
      if (here === undefined) byPlace.set(place, [link]);
      else here.push(link);
    }
  }
  const made: Graph = { links, byId: new Map(links.map((l) => [l.id, l])), byPlace, trees: new Map() };
  graphs.set(harness, made);
  return made;
}

/** Every link of the circuit except the battery itself. */
export const linksOf = (harness: Harness): readonly Link[] => graphOf(harness).links;
/** Links that end at a place. */
export const linksAt = (harness: Harness, place: string): readonly Link[] => graphOf(harness).byPlace.get(place) ?? [];
/** The link of that name; undefined when there is none. */
export const linkOf = (harness: Harness, id: string): Link | undefined => graphOf(harness).byId.get(id);

function gatherLinks(harness: Harness): Link[] {
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
  const at = (pin: string): PlaceId => pinPlace(part.id, pin);
  switch (part.kind) {
    case "battery":
    case "splice":
      return [];
    case "fuse":
    case "switch":
      return [{ id: part.id, kind: part.kind, a: at("1"), b: at("2") }];
    case "load":
      return [{ id: part.id, kind: "load", a: at(part.pins[0]), b: at(part.pins[1]) }];
    case "device": {
      const { device, settings } = deviceOf(part);
      return device
        .ways(settings)
        .map((w) => ({ id: `${part.id}.${w.part}`, kind: "device", a: at(w.a), b: at(w.b), consumes: w.consumes }));
    }
    case "ground":
      return [{ id: part.id, kind: "ground", a: onlyPlace(part.id), b: onlyPlace(part.on) }];
    case "connector":
      return cavitiesOf(harness, part.id).map((n) => ({
        id: `${part.id}.${n}`,
        kind: "cavity",
        a: at(`${n}a`),
        b: at(`${n}b`),
      }));
  }
}

const turned = ({ link, from, to }: Hop): Hop => ({ link, from: to, to: from });

/** Whether current does work in a link, so that it ends a feed instead of passing it on. */
export const consumes = (link: Link): boolean => link.kind === "load" || link.consumes === true;

/** A link walked in one direction. */
export interface Hop {
  readonly link: Link;
  readonly from: PlaceId;
  readonly to: PlaceId;
}

/** The two contacts of a changeover relay: never both closed, so that no current goes through the one into the other. */
const opposed = (before: Link | undefined, next: Link): boolean =>
  before !== undefined &&
  before.id !== next.id &&
  before.id.endsWith("contact") &&
  next.id.endsWith("contact") &&
  partNameIn(before.id) === partNameIn(next.id);

/** Ways with the fewest links from a root to every place that can be reached without passing a load: the last hop to each. */
function treeFrom(graph: Graph, root: PlaceId): ReadonlyMap<PlaceId, Hop> {
  const known = graph.trees.get(root);
  if (known !== undefined) return known;
  const cameBy = new Map<PlaceId, Hop>();
  const queue = [root];
  for (const here of queue) {
    for (const link of graph.byPlace.get(here) ?? []) {
      const next = link.a === here ? link.b : link.a;
      if (consumes(link) || next === root || cameBy.has(next) || opposed(cameBy.get(here)?.link, link)) continue;
      cameBy.set(next, { link, from: here, to: next });
      queue.push(next);
    }
  }
  graph.trees.set(root, cameBy);
  return cameBy;
}

/** The hops that lead to a place, in order; `root` is where they begin. */
function trace(cameBy: ReadonlyMap<PlaceId, Hop>, root: PlaceId, to: PlaceId): Hop[] | undefined {
  const way: Hop[] = [];
  for (let at = to; at !== root;) {
    const hop = cameBy.get(at);
    if (hop === undefined) return undefined;
    way.push(hop);
    at = hop.from;
  }
  return way.reverse();
}

/** Whether two places are joined without passing a load. */
export const joined = (harness: Harness, from: PlaceId, to: PlaceId): boolean => from === to || treeFrom(graphOf(harness), from).has(to);

/** The way with the fewest other loads in it, and of those the one with the fewest links. Undefined when there is none. */
function wayBetween(graph: Graph, from: PlaceId, to: PlaceId, without: string): Hop[] | undefined {
  const direct = trace(treeFrom(graph, from), from, to);
  if (direct !== undefined) return direct;
  const cameBy = new Map<PlaceId, Hop>();
  // Rounds by number of loads passed; inside a round breadth first. The first arrival counts.
  for (let front: Hop[] | undefined, queue: PlaceId[] = [from]; queue.length > 0;) {
    front = [];
    for (const here of queue) {
      for (const link of graph.byPlace.get(here) ?? []) {
        const next = link.a === here ? link.b : link.a;
        if (link.id === without || next === from || cameBy.has(next) || opposed(cameBy.get(here)?.link, link)) continue;
        const hop = { link, from: here, to: next };
        if (consumes(link)) front.push(hop);
        else {
          cameBy.set(next, hop);
          queue.push(next);
        }
      }
    }
    queue = [];
    for (const hop of front) {
      if (cameBy.has(hop.to)) continue;
      cameBy.set(hop.to, hop);
      queue.push(hop.to);
    }
  }
  return trace(cameBy, from, to);
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
  const graph = graphOf(harness);
  const own = graph.byId.get(loadId);
  if (own === undefined || !consumes(own)) throw new RangeError(`no load ${loadId}`);
  const plus = pinPlace(source.id, "+");
  const minus = pinPlace(source.id, "-");
  const walks = [
    [own.a, own.b],
    [own.b, own.a],
  ] as const;
  /** Feed and ground through one way round of the pins. `find`: how a way is looked for. */
  const waysBy = (find: (from: PlaceId, to: PlaceId) => Hop[] | undefined) =>
    walks.map(([near, far]) => ({ near, far, feed: find(plus, near), ground: find(minus, far)?.map(turned).reverse() }));
  // Nearly always one way round needs no other load; only otherwise are ways through loads looked for.
  const direct = waysBy((from, to) => trace(treeFrom(graph, from), from, to));
  const clear = direct.some((w) => w.feed !== undefined && w.ground !== undefined);
  const ways = clear ? direct : waysBy((from, to) => wayBetween(graph, from, to, loadId));
  const weight = (hops: readonly Hop[] | undefined): number =>
    hops === undefined ? Infinity : hops.reduce((sum, h) => sum + (consumes(h.link) ? 1000 : 1), 0);
  const [first, second] = [ways[0]!, ways[1]!];
  const best = weight(first.feed) + weight(first.ground) <= weight(second.feed) + weight(second.ground) ? first : second;
  if (best.feed === undefined) return { kind: "no feed", place: best.near };
  if (best.ground === undefined) return { kind: "no ground", place: best.far };
  return { kind: "path", feed: best.feed, load: { link: own, from: best.near, to: best.far }, ground: best.ground };
}

const loads = new WeakMap<Harness, readonly Link[]>();

function hasWaysOfItsOwn(harness: Harness, link: Link): boolean {
  const path = pathOfLoad(harness, link.id);
  return path.kind === "path" && ![...path.feed, ...path.ground].some((hop) => consumes(hop.link));
}

/**
 * What current can be followed to: loads, and the parts of devices in which current does work and that have a feed and a ground of
 * their own.
 */
export function loadsOf(harness: Harness): readonly Link[] {
  const known = loads.get(harness);
  if (known !== undefined) return known;
  const found = graphOf(harness).links.filter((l) => l.kind === "load" || (consumes(l) && hasWaysOfItsOwn(harness, l)));
  loads.set(harness, found);
  return found;
}

/** How many wires or joints end at each pin, by place. */
export function endsByPlace(harness: Harness): Map<PlaceId, number> {
  const count = new Map<PlaceId, number>();
  for (const end of lookupOf(harness).ends) {
    const at = placeOf(harness, end);
    count.set(at, (count.get(at) ?? 0) + 1);
  }
  return count;
}
