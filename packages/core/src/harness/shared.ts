import { lookupOf } from "./lookup.ts";
import { endsOfNet, netAt, partOfLink, partOfPlace, roleOfPlace } from "./net.ts";
import { type PlaceId } from "./names.ts";
import { batteryOf, massesOf, placesOfComponent } from "./places.ts";
import { commandLinks, walksOf } from "./slice.ts";
import type { Link } from "./graph.ts";
import type { Harness } from "./schema.ts";

export const NODE_KINDS = [
  "ground",
  "fuse",
  "relay",
  "switch",
  "splice",
  "reference",
  "sensor return",
  "bus",
  "module",
  "connector",
  "wire",
  "metal",
  "loom",
] as const;
export type NodeKind = (typeof NODE_KINDS)[number];

/** Something that several parts depend on. */
export interface SharedNode {
  readonly kind: NodeKind;
  readonly id: string;
  readonly words: string;
  /** How it serves them: on their way from the battery, back to it, through what switches them, or beside it. */
  readonly side: "feed" | "return" | "command" | "signal";
  /** Of the failing items, those that depend on it. */
  readonly failing: readonly string[];
  /** Of the items known to work, those that depend on it all the same: each speaks against. */
  readonly working: readonly string[];
  /** Others that depend on it and were not asked about: look at them next. */
  readonly others: readonly string[];
}

interface Needed {
  readonly kind: NodeKind;
  readonly id: string;
  readonly side: SharedNode["side"];
}
type Dependence = ReadonlyMap<string, Needed>;

const known = new WeakMap<Harness, ReadonlyMap<string, Dependence>>();

/** What each part that does something depends on, by part. */
function dependencies(harness: Harness): ReadonlyMap<string, Dependence> {
  const found = known.get(harness);
  if (found !== undefined) return found;
  const byPart = new Map<string, Map<string, Needed>>();
  const note = (part: string, kind: NodeKind, id: string, side: SharedNode["side"]): void => {
    const own = byPart.get(part) ?? new Map<string, Needed>();
    byPart.set(part, own);
    const key = `${kind} ${id}`;
    const before = own.get(key);
    const weight = before === undefined ? 0 : WEIGHT[before.side];
    if (WEIGHT[side] > weight) own.set(key, { kind, id, side });
  };
  const masses = new Set<string>(massesOf(harness));
  for (const w of walksOf(harness)) {
    const part = partOfLink(harness, w.load)?.id;
    if (part === undefined) continue;
    for (const [hops, side] of [
      [w.feed, "feed"],
      [w.ground, "return"],
    ] as const)
      for (const { link, from, to } of hops) {
        for (const p of [from, to]) {
          const at = partOfPlace(harness, p);
          if (at?.kind === "splice") note(part, "splice", at.id, side);
          if (at === undefined && masses.has(p)) note(part, "metal", p, side);
        }
        const owner = partOfLink(harness, link);
        if (owner?.id === part) continue;
        if (link.kind === "wire") {
          note(part, "wire", link.id, side);
          for (const s of lookupOf(harness).wires.get(link.id)?.segments ?? []) note(part, "loom", s, side);
        } else if (owner !== undefined) {
          const kind = owner.kind === "device" ? (owner.device === "module" ? "module" : "relay") : owner.kind;
          if (kind === "fuse" || kind === "switch" || kind === "ground" || kind === "connector" || kind === "module" || kind === "relay")
            note(part, kind, owner.id, side);
        }
      }
  }
  /** Nets on the ways of each part: what lies on them is known already, and a branch to somebody else is none of its business. */
  const walked = new Map<string, Set<number>>();
  for (const w of walksOf(harness)) {
    const part = partOfLink(harness, w.load)?.id ?? "";
    const own = walked.get(part) ?? new Set<number>();
    walked.set(part, own);
    for (const h of [...w.feed, ...w.ground]) {
      const net = netAt(harness, h.from);
      if (net !== undefined && (h.link.kind === "wire" || h.link.kind === "cavity" || h.link.kind === "joint")) own.add(net.index);
    }
  }
  for (const part of harness.components) {
    if (part.kind !== "device" && part.kind !== "load") continue;
    for (const p of placesOfComponent(harness, part)) signalOf(harness, part.id, p, walked.get(part.id) ?? new Set(), note);
  }
  addCommands(harness, byPart, note);
  known.set(harness, byPart);
  return byPart;
}

/** Which side says most, when a node serves in several ways. */
const WEIGHT = { feed: 3, return: 3, command: 2, signal: 1 } as const satisfies Record<SharedNode["side"], number>;

/** A relay under a module under a relay: deeper chains of command are rare. */
const LEVELS = 3;

/** What switches a part needs its own feed and ground: a relay its coil's, a module those of its electronics. */
function addCommands(
  harness: Harness,
  byPart: ReadonlyMap<string, Dependence>,
  note: (part: string, kind: NodeKind, id: string, side: SharedNode["side"]) => void,
): void {
  const switchers = new Map<string, Set<string>>();
  for (const w of walksOf(harness)) {
    const part = partOfLink(harness, w.load)?.id;
    for (const { link } of [...w.feed, ...w.ground]) {
      const owner = link.kind === "device" ? partOfLink(harness, link)?.id : undefined;
      if (part === undefined) continue;
      for (const l of commandLinks(harness, link.id)) noteLink(harness, part, l, note);
      if (owner !== undefined && owner !== part) switchers.set(part, (switchers.get(part) ?? new Set()).add(owner));
    }
  }
  for (let level = 0; level < LEVELS; level++)
    for (const [part, owners] of switchers)
      for (const owner of owners)
        for (const d of [...(byPart.get(owner)?.values() ?? [])])
          if (d.side !== "signal" && d.id !== part && !OF_ITSELF.has(d.kind)) note(part, d.kind, d.id, "command");
}

/** What a module gives to its own sensors is no need of what it switches. */
const OF_ITSELF: ReadonlySet<NodeKind> = new Set(["reference", "sensor return", "bus"]);

/** A piece of the wiring of a command. */
function noteLink(
  harness: Harness,
  part: string,
  link: Link,
  note: (part: string, kind: NodeKind, id: string, side: SharedNode["side"]) => void,
): void {
  const owner = partOfLink(harness, link);
  if (link.kind === "wire") note(part, "wire", link.id, "command");
  else if (owner?.kind === "connector" || owner?.kind === "ground" || owner?.kind === "switch") note(part, owner.kind, owner.id, "command");
  for (const p of [link.a, link.b]) if (partOfPlace(harness, p)?.kind === "splice") note(part, "splice", p, "command");
}

/** What a pin's own copper brings with it: its splices, connectors and looms, a reference, a bus, the module at the other end. */
function signalOf(
  harness: Harness,
  part: string,
  place: PlaceId,
  walked: ReadonlySet<number>,
  note: (part: string, kind: NodeKind, id: string, side: SharedNode["side"]) => void,
): void {
  const net = netAt(harness, place);
  const battery = batteryOf(harness)?.id;
  if (net === undefined || net.places.some((p) => partOfPlace(harness, p)?.id === battery || partOfPlace(harness, p)?.kind === "ground"))
    return;
  const aside = !walked.has(net.index);
  for (const p of aside ? net.places : []) {
    const at = partOfPlace(harness, p);
    if (at?.kind === "splice" || at?.kind === "connector") note(part, at.kind, at.id, "signal");
  }
  for (const l of aside ? net.links : []) {
    if (l.kind === "wire") note(part, "wire", l.id, "signal");
    for (const s of lookupOf(harness).wires.get(l.id)?.segments ?? []) note(part, "loom", s, "signal");
  }
  for (const p of endsOfNet(harness, net)) {
    const at = partOfPlace(harness, p);
    const role = roleOfPlace(harness, p);
    const isModule = at?.kind === "device" && at.device === "module";
    if (role === "reference" && isModule) note(part, "reference", p, "feed");
    if (role === "bus") note(part, "bus", busName(harness, p), "signal");
    if (isModule && at.id !== part) {
      note(part, "module", at.id, "signal");
      if (role === "ground") note(part, "sensor return", p, "return");
    }
  }
}

/** A bus net by the first of its ends in order of name, so that the same net has one name. */
export function busName(harness: Harness, place: PlaceId): string {
  const net = netAt(harness, place);
  if (net === undefined) return place;
  const splice = net.places.find((p) => partOfPlace(harness, p)?.kind === "splice");
  return splice ?? [...endsOfNet(harness, net)].sort()[0] ?? place;
}

const RANK: Readonly<Record<NodeKind, number>> = {
  ground: 0,
  fuse: 1,
  reference: 2,
  "sensor return": 3,
  splice: 4,
  bus: 5,
  relay: 6,
  switch: 7,
  connector: 8,
  module: 9,
  metal: 10,
  wire: 11,
  loom: 12,
};

/**
 * What the failing items share that the working ones do not. First what all failing ones depend on and no working one; then by how
 * many failing it covers, how few working speak against, and how few others depend on it. Nodes of one failing item only are left
 * out when there are several. Throws RangeError for an item that the circuit does not hold.
 */
export function sharedNodes(harness: Harness, failing: readonly string[], working: readonly string[]): SharedNode[] {
  const all = dependencies(harness);
  for (const id of [...failing, ...working]) if (!lookupOf(harness).parts.has(id)) throw new RangeError(`no component ${id}`);
  const nodes = new Map<string, { kind: NodeKind; id: string; side: SharedNode["side"]; users: Set<string> }>();
  for (const [part, own] of all)
    for (const [key, d] of own) {
      const node = nodes.get(key) ?? { ...d, users: new Set<string>() };
      if (failing.includes(part)) node.side = d.side;
      nodes.set(key, node);
      node.users.add(part);
    }
  const found = [...nodes.values()].flatMap((n): SharedNode[] => {
    const covered = failing.filter((f) => n.users.has(f) || (n.kind === "module" && n.id === f));
    if (covered.length === 0 || (failing.length > 1 && covered.length < 2)) return [];
    const against = working.filter((w) => n.users.has(w));
    const others = [...n.users].filter((u) => !failing.includes(u) && !working.includes(u)).sort();
    return [{ kind: n.kind, id: n.id, words: wordsOf(harness, n.kind, n.id), side: n.side, failing: covered, working: against, others }];
  });
  // One unexplained failing item weighs as much as two that work in spite of the node.
  const worth = (n: SharedNode): number => 2 * n.failing.length - n.working.length;
  return found.sort(
    (p, q) =>
      Number(q.failing.length === failing.length && q.working.length === 0) -
        Number(p.failing.length === failing.length && p.working.length === 0) ||
      worth(q) - worth(p) ||
      p.others.length - q.others.length ||
      RANK[p.kind] - RANK[q.kind] ||
      p.id.localeCompare(q.id, "en", { numeric: true }),
  );
}

function wordsOf(harness: Harness, kind: NodeKind, id: string): string {
  const label = lookupOf(harness).parts.get(id)?.label;
  const loom = harness.looms?.find((l) => l.id === id);
  switch (kind) {
    case "wire": {
      const colour = lookupOf(harness).wires.get(id)?.colour;
      return `wire ${id}${colour === undefined ? "" : ` ${colour}`}`;
    }
    case "loom":
      return `loom segment ${id}${loom === undefined ? "" : ` (${loom.text})`}`;
    case "metal":
      return `the ${id} and its strap`;
    case "bus":
      return `bus line at ${id}${label === undefined ? "" : ` (${label})`}`;
    default:
      return `${kind} ${id}${label === undefined ? "" : ` (${label})`}`;
  }
}

/** Parts that can be said to fail or to work: everything that depends on something. */
export const askableParts = (harness: Harness): readonly string[] => [...dependencies(harness).keys()].sort();
