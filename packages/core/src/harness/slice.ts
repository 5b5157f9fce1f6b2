import { settingsAs } from "./device-of.ts";
import { linkOf, loadsOf, pathOfLoad, type Hop, type Link } from "./graph.ts";
import { lookupOf } from "./lookup.ts";
import { endsOfNet, netAt, partOfLink, partOfPlace, type Net } from "./net.ts";
import { describePlace } from "./describe.ts";
import { onlyPlace, pinPlace, type PlaceId } from "./names.ts";
import { allPlaces, batteryOf, placeOf, placesOfComponent } from "./places.ts";
import type { Harness } from "./schema.ts";

/** A part of a vehicle's wiring worth drawing for one question. */
export interface Slice {
  /** The drawn part as a harness of its own: for drawing only, it need not be whole. */
  readonly harness: Harness;
  /** Ids of links that belong to the question itself. */
  readonly core: ReadonlySet<string>;
  /** Loads that share a feed, return, splice or fuse with it, drawn or not, with what they share, nearest first. */
  readonly sharers: readonly { readonly load: string; readonly shares: string; readonly drawn: boolean }[];
}

/** What shares is drawn up to so many loads; the others are named beside the drawing. */
export const MAX_DRAWN_SHARERS = 6;
/** Loads followed when the question names a trunk that many hang on. */
const MAX_CORE_LOADS = 8;

interface Walk {
  readonly load: Link;
  readonly feed: readonly Hop[];
  readonly ground: readonly Hop[];
}

const walks = new WeakMap<Harness, readonly Walk[]>();

/** The way of every load, gathered once. */
export function walksOf(harness: Harness): readonly Walk[] {
  const known = walks.get(harness);
  if (known !== undefined) return known;
  const made = loadsOf(harness).flatMap((load) => {
    const path = pathOfLoad(harness, load.id);
    return path.kind === "path" ? [{ load, feed: path.feed, ground: path.ground }] : [];
  });
  walks.set(harness, made);
  return made;
}

const hopsOf = (w: Walk): readonly Hop[] => [...w.feed, ...w.ground];
const belongs = (id: string, link: Link): boolean => link.id === id || link.id.startsWith(`${id}.`);

/**
 * The wiring behind one or more parts, wires or places: feed and return of every load in question, the control side of relays on
 * the way, the signal wires of its pins, and, with `sharers`, what hangs on the same nodes. Unknown ids are left out.
 */
export function sliceOf(harness: Harness, focus: readonly string[], wish: { readonly sharers: boolean } = { sharers: true }): Slice {
  const all = walksOf(harness);
  const asked = focus;
  const own = new Set<Walk>();
  const links = new Map<string, Link>();
  const parts = new Set<string>();
  const add = (link: Link): void => {
    links.set(link.id, link);
    for (const p of [link.a, link.b]) {
      const part = partOfPlace(harness, p);
      if (part !== undefined) parts.add(part.id);
    }
  };
  const addNet = (net: Net | undefined): void => net?.links.forEach(add);

  for (const id of asked) {
    const part = lookupOf(harness).parts.get(id) ?? partOfPlace(harness, id);
    const direct = all.filter((w) => belongs(part?.id ?? id, w.load));
    const through = direct.length > 0 ? direct : all.filter((w) => hopsOf(w).some((h) => belongs(id, h.link)));
    for (const w of nearest(through, id)) own.add(w);
    const wire = lookupOf(harness).wires.get(id);
    if (wire !== undefined) {
      const link = linkOf(harness, id);
      if (link !== undefined) add(link);
      if (through.length === 0) addNet(quietNet(harness, placeOf(harness, wire.from)));
    }
    if (part !== undefined) {
      parts.add(part.id);
      // A sensor lives on its module: that one's own feed and ground belong to the question.
      if (direct.length === 0 && part.kind === "device")
        for (const host of hostsOf(harness, part.id)) for (const w of all) if (w.load.id === `${host}.electronics`) own.add(w);
      for (const p of part.id === id ? placesOfComponent(harness, part) : [onlyPlace(id)]) {
        const net = quietNet(harness, p);
        if (net !== undefined && (direct.length > 0 || through.length === 0 || part.kind === "device")) addNet(net);
      }
    }
  }
  for (const w of own) {
    add(w.load);
    for (const h of hopsOf(w)) add(h.link);
  }
  addControls(harness, all, own, add);
  for (const id of [...links.keys()]) commandLinks(harness, id).forEach(add);
  const core = new Set(links.keys());
  const sharers = findSharers(harness, all, own, core);
  if (wish.sharers) for (const s of sharers) if (s.drawn) s.stub.forEach(add);
  const battery = batteryOf(harness);
  if (battery !== undefined && core.size > 0) parts.add(battery.id);
  return {
    harness: subset(harness, parts, links),
    core,
    sharers: sharers.map(({ load, shares, drawn }) => ({ load, shares, drawn })),
  };
}

/** Modules at the other ends of a device's own wires. */
function hostsOf(harness: Harness, id: string): readonly string[] {
  const part = lookupOf(harness).parts.get(id);
  if (part === undefined) return [];
  const nets = placesOfComponent(harness, part).flatMap((p) => quietNet(harness, p) ?? []);
  const ends = nets.flatMap((n) => endsOfNet(harness, n).map((p) => partOfPlace(harness, p)));
  return [...new Set(ends.flatMap((p) => (p?.kind === "device" && p.device === "module" && p.id !== id ? [p.id] : [])))];
}

/** Of many loads on a trunk those with the shortest ways from it. */
function nearest(found: readonly Walk[], id: string): readonly Walk[] {
  if (found.length <= MAX_CORE_LOADS) return found;
  const far = (w: Walk): number => {
    const at = w.feed.findIndex((h) => belongs(id, h.link));
    return at >= 0 ? w.feed.length - at : 1 + w.ground.findIndex((h) => belongs(id, h.link));
  };
  return [...found].sort((p, q) => far(p) - far(q)).slice(0, MAX_CORE_LOADS);
}

/** The net of a place unless it is the battery's own or ends in metal: those are drawn along the ways only. */
function quietNet(harness: Harness, place: PlaceId): Net | undefined {
  const net = netAt(harness, place);
  const trunk = net?.places.some((p) => {
    const kind = partOfPlace(harness, p)?.kind;
    return kind === "battery" || kind === "ground";
  });
  return trunk === false && net!.links.length <= 40 ? net : undefined;
}

/** The control side of what switches on the way: a relay's coil, with its feed and its command. */
function addControls(harness: Harness, all: readonly Walk[], own: ReadonlySet<Walk>, add: (link: Link) => void): void {
  const switching = new Set<string>();
  for (const w of own)
    for (const h of hopsOf(w)) {
      const part = partOfLink(harness, h.link);
      if (h.link.kind === "device" && part?.kind === "device" && part.device !== "module") switching.add(part.id);
    }
  for (const w of all) {
    const part = partOfLink(harness, w.load);
    if (part === undefined || !switching.has(part.id) || own.has(w)) continue;
    add(w.load);
    for (const h of hopsOf(w)) add(h.link);
  }
}

/** Input pins of modules whose voltage decides on an output, given the link of its driver; none for other links. */
function commandPins(harness: Harness, linkId: string): readonly PlaceId[] {
  const driver = /^(\w+)\.(\w+) driver$/.exec(linkId);
  const part = driver === null ? undefined : lookupOf(harness).parts.get(driver[1]!);
  const settings = settingsAs(part, "module");
  if (driver === null || settings === undefined) return [];
  return settings.rules.flatMap((r) => (r.pin === driver[2] ? pinsIn(r.when).map((pin) => pinPlace(driver[1]!, pin)) : []));
}

/** The wiring that commands a module's output: from its input pins to switches or sensors, and on from switches to ground. */
export function commandLinks(harness: Harness, driverLink: string): readonly Link[] {
  const found: Link[] = [];
  for (const pin of commandPins(harness, driverLink)) {
    const net = quietNet(harness, pin);
    found.push(...(net?.links ?? []));
    for (const end of net === undefined ? [] : endsOfNet(harness, net)) {
      const part = partOfPlace(harness, end);
      if (part?.kind !== "switch") continue;
      const own = linkOf(harness, part.id);
      if (own !== undefined) found.push(own);
      for (const other of placesOfComponent(harness, part)) {
        const far = other === end ? undefined : netAt(harness, other);
        if (far !== undefined) found.push(...wayToGround(harness, far, other));
      }
    }
  }
  return found;
}

/** Pins named anywhere in a condition. */
function pinsIn(when: unknown): string[] {
  if (typeof when !== "object" || when === null) return [];
  const own = (when as { pin?: unknown }).pin;
  return [...(typeof own === "string" ? [own] : []), ...Object.values(when).flatMap(pinsIn)];
}

/** Links of a net from a place to the nearest ground in it; none when it has no ground. */
function wayToGround(harness: Harness, net: Net, from: PlaceId): Link[] {
  const cameBy = new Map<PlaceId, { readonly link: Link; readonly from: PlaceId }>();
  const queue = [from];
  for (const here of queue) {
    if (partOfPlace(harness, here)?.kind === "ground") {
      const way: Link[] = linkOf(harness, here) === undefined ? [] : [linkOf(harness, here)!];
      for (let at = here; at !== from; at = cameBy.get(at)!.from) way.push(cameBy.get(at)!.link);
      return way;
    }
    for (const link of net.links) {
      const next = link.a === here ? link.b : link.b === here ? link.a : undefined;
      if (next === undefined || next === from || cameBy.has(next)) continue;
      cameBy.set(next, { link, from: here });
      queue.push(next);
    }
  }
  return [];
}

interface Sharer {
  readonly load: string;
  readonly shares: string;
  readonly drawn: boolean;
  /** Its own branch, from what it shares to the load. */
  readonly stub: readonly Link[];
}

/** Loads on the same nodes. What two share nearest to the load counts; the battery's own cables and bare metal tell nothing. */
function findSharers(harness: Harness, all: readonly Walk[], own: ReadonlySet<Walk>, core: ReadonlySet<string>): Sharer[] {
  const users = usersOf(harness);
  const trunk = Math.max(6, Math.floor(all.length * 0.6));
  const found: { walk: Walk; shares: string; stub: Link[]; weight: number }[] = [];
  const ownParts = new Set([...own].map((w) => partOfLink(harness, w.load)?.id));
  for (const w of all) {
    if (own.has(w) || core.has(w.load.id) || ownParts.has(partOfLink(harness, w.load)?.id)) continue;
    let best: { shares: string; stub: Link[]; weight: number } | undefined;
    for (const way of [w.feed, [...w.ground].reverse()]) {
      const at = way.findLastIndex((h) => core.has(h.link.id));
      const shared = way[at]?.link;
      const weight = shared === undefined ? Infinity : (users.get(shared.id) ?? 0);
      if (shared === undefined || weight > trunk) continue;
      // Where the branch leaves what is shared: behind it on the feed, before it on the way back.
      const splice = partOfPlace(harness, way === w.feed ? way[at]!.to : way[at]!.from);
      const shares = splice?.kind === "splice" ? splice.id : shared.id;
      const stub = [...way.slice(at + 1).map((h) => h.link), w.load];
      // Shared on both sides as closely: both branches are drawn.
      if (best !== undefined && best.weight === weight) best = { ...best, stub: [...best.stub, ...stub] };
      else if (best === undefined || weight < best.weight) best = { shares, stub, weight };
    }
    if (best !== undefined) found.push({ walk: w, ...best });
  }
  found.sort((p, q) => p.weight - q.weight || p.stub.length - q.stub.length);
  return found.map((f, i) => ({ load: f.walk.load.id, shares: f.shares, stub: f.stub, drawn: i < MAX_DRAWN_SHARERS }));
}

const users = new WeakMap<Harness, ReadonlyMap<string, number>>();

/** How many loads' ways pass through each link. */
export function usersOf(harness: Harness): ReadonlyMap<string, number> {
  const known = users.get(harness);
  if (known !== undefined) return known;
  const made = new Map<string, number>();
  for (const w of walksOf(harness)) for (const h of hopsOf(w)) made.set(h.link.id, (made.get(h.link.id) ?? 0) + 1);
  users.set(harness, made);
  return made;
}

function subset(harness: Harness, parts: ReadonlySet<string>, links: ReadonlyMap<string, Link>): Harness {
  return {
    ...harness,
    components: harness.components.filter((c) => parts.has(c.id)),
    wires: harness.wires.filter((w) => links.has(w.id)),
    joints: harness.joints.filter((_, i) => links.has(`=${i + 1}`)),
  };
}

/** Something that a slice can be made of, found by typed words. */
export interface Found {
  readonly kind: "part" | "wire" | "pin" | "code";
  readonly id: string;
  readonly words: string;
  /** What to slice for it. */
  readonly focus: readonly string[];
}

/** Parts, wires and codes that the typed words name: all words must be found, in any order. Best first, at most `limit`. */
export function findInHarness(harness: Harness, typed: string, limit = 12): Found[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  const score = (id: string, text: string): number => {
    const low = `${id} ${text}`.toLowerCase();
    if (!words.every((w) => low.includes(w))) return 0;
    return id.toLowerCase() === words.join(" ") ? 100 : words.filter((w) => id.toLowerCase().startsWith(w)).length * 10 + 1;
  };
  const found: (Found & { readonly score: number })[] = [];
  for (const c of harness.components) {
    const text = [c.label, c.at, c.kind === "device" ? c.device : c.kind, c.box].filter(Boolean).join(" ");
    found.push({ kind: "part", id: c.id, words: c.label ?? c.kind, focus: [c.id], score: score(c.id, text) });
  }
  for (const w of harness.wires) {
    const ends = `${placeOf(harness, w.from)} to ${placeOf(harness, w.to)}`;
    found.push({ kind: "wire", id: w.id, words: `${w.colour ?? ""} ${ends}`.trim(), focus: [w.id], score: score(w.id, w.colour ?? "") });
  }
  // A pin is named whole, such as ECM.C3: there are too many to be found by half a word.
  const pin = allPlaces(harness).find((p) => p.includes(".") && p.toLowerCase() === words.join(" "));
  if (pin !== undefined) found.push({ kind: "pin", id: pin, words: describePlace(harness, pin), focus: [pin], score: 100 });
  for (const m of harness.monitors ?? []) {
    found.push({ kind: "code", id: m.code, words: m.text, focus: focusOfCode(harness, m.code), score: score(m.code, m.text) });
  }
  return found
    .filter((f) => f.score > 0)
    .sort((p, q) => q.score - p.score || p.id.localeCompare(q.id, "en", { numeric: true }))
    .slice(0, limit)
    .map(({ kind, id, words: text, focus }) => ({ kind, id, words: text, focus }));
}

/** What a trouble code is about: the parts at the other end of the module's pin, or the module that is silent. */
export function focusOfCode(harness: Harness, code: string): string[] {
  const focus = new Set<string>();
  for (const m of harness.monitors ?? []) {
    if (m.code !== code) continue;
    if (m.silent !== undefined) focus.add(m.silent);
    if (m.pin === undefined) continue;
    const net = netAt(harness, pinPlace(m.module, m.pin));
    for (const p of net === undefined ? [] : endsOfNet(harness, net)) {
      const part = partOfPlace(harness, p);
      if (part !== undefined && part.id !== m.module && part.kind !== "ground") focus.add(part.id);
    }
    focus.add(`${m.module}.${m.pin}`);
  }
  return [...focus];
}
