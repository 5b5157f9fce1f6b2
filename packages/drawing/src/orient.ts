import {
  type Harness,
  loadsOf,
  netsOf,
  partOfPlace,
  pathOfLoad,
  type PlaceId,
  placesOfComponent,
  roleOfPlace,
  walksOf,
} from "@rheonom/core/harness";
import { linksOf, type Link, type Net } from "@rheonom/core/harness";

/** Which end of everything stands above, so that feed comes from the top and current falls to ground. */
export interface Orientation {
  /** The upper end of each link. */
  readonly upper: ReadonlyMap<string, PlaceId>;
  /** Places of devices that stand on the lower edge of their box. */
  readonly below: ReadonlySet<PlaceId>;
}

/**
 * Within a net everything hangs from one root: the battery, or the pin of a module that gives, or where current comes out of a part. A net with a ground in it
 * falls towards that. `whole`: the vehicle that the drawn part was cut from; current is followed there.
 */
export function orient(drawn: Harness, whole: Harness): Orientation {
  const entering = new Map<string, PlaceId>();
  const outflow = new Set<PlaceId>();
  const note = (link: Link, from: PlaceId, to: PlaceId): void => {
    if (!entering.has(link.id)) entering.set(link.id, from);
    if (link.kind !== "wire" && link.kind !== "cavity" && link.kind !== "joint") outflow.add(to);
  };
  // Ways that need no other load come first, and say more.
  for (const w of walksOf(whole))
    for (const h of [...w.feed, { link: w.load, from: w.feed.at(-1)?.to ?? w.load.a, to: w.ground[0]?.from ?? w.load.b }, ...w.ground])
      note(h.link, h.from, h.to);
  for (const load of loadsOf(drawn)) {
    const path = pathOfLoad(drawn, load.id);
    if (path.kind === "path") for (const h of [...path.feed, path.load, ...path.ground]) note(h.link, h.from, h.to);
  }
  const upper = new Map<string, PlaceId>();
  const below = new Set<PlaceId>();
  for (const net of netsOf(drawn)) {
    const { root, falls } = rootOf(drawn, net, outflow);
    const reached = hang(net, root);
    for (const [id, end] of reached) upper.set(id, falls ? otherEnd(net, id, end) : end);
    for (const p of net.places) {
      // What the net leaves stands below its box; what it enters, above the next.
      const leaves = falls ? p !== root && outflow.has(p) : p === root;
      if (leaves && partOfPlace(drawn, p)?.kind === "device") below.add(p);
    }
  }
  for (const link of linksOf(drawn)) if (!upper.has(link.id)) upper.set(link.id, entering.get(link.id) ?? link.a);
  // A switch or load that no followed current passes: the end on a net with ground in it stands below.
  for (const part of drawn.components) {
    if ((part.kind !== "switch" && part.kind !== "load" && part.kind !== "fuse") || entering.has(part.id)) continue;
    const [a, b] = placesOfComponent(drawn, part) as [PlaceId, PlaceId];
    const grounded = (p: PlaceId): boolean =>
      netsOf(drawn)
        .find((n) => n.places.includes(p))
        ?.places.some((q) => partOfPlace(drawn, q)?.kind === "ground") === true;
    upper.set(part.id, grounded(a) && !grounded(b) ? b : a);
  }
  return { upper, below };
}

function otherEnd(net: Net, id: string, end: PlaceId): PlaceId {
  const link = net.links.find((l) => l.id === id)!;
  return link.a === end ? link.b : link.a;
}

/** Where a net hangs from, or, with `falls`, what it falls to. */
function rootOf(harness: Harness, net: Net, outflow: ReadonlySet<PlaceId>): { readonly root: PlaceId; readonly falls: boolean } {
  const find = (test: (p: PlaceId) => boolean): PlaceId | undefined => net.places.find(test);
  const minus = find((p) => p.endsWith(".-") && partOfPlace(harness, p)?.kind === "battery");
  if (minus !== undefined) return { root: minus, falls: true };
  const plus = find((p) => p.endsWith(".+") && partOfPlace(harness, p)?.kind === "battery");
  if (plus !== undefined) return { root: plus, falls: false };
  const ground = find((p) => partOfPlace(harness, p)?.kind === "ground");
  if (ground !== undefined) return { root: ground, falls: true };
  const module = find((p) => {
    const part = partOfPlace(harness, p);
    const role = roleOfPlace(harness, p);
    return (
      part?.kind === "device" &&
      part.device === "module" &&
      (role === "reference" || role === "signal" || role === "bus" || role === "ground")
    );
  });
  const out = find((p) => outflow.has(p));
  return { root: module ?? out ?? net.places[0]!, falls: false };
}

/** The end nearer to the root of every link, by breadth. */
function hang(net: Net, root: PlaceId): Map<string, PlaceId> {
  const near = new Map<PlaceId, Link[]>();
  for (const l of net.links) for (const p of [l.a, l.b]) near.set(p, [...(near.get(p) ?? []), l]);
  const reached = new Map<string, PlaceId>();
  const seen = new Set([root]);
  const queue = [root];
  for (const here of queue)
    for (const l of near.get(here) ?? []) {
      if (reached.has(l.id)) continue;
      reached.set(l.id, here);
      const next = l.a === here ? l.b : l.a;
      if (!seen.has(next)) {
        seen.add(next);
        queue.push(next);
      }
    }
  return reached;
}
