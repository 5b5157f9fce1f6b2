import type { VehicleState } from "../circuit/index.ts";
import {
  batteryNegative,
  batteryPositive,
  type Harness,
  linkOf,
  massesOf,
  lookupOf,
  partOfLink,
  partOfPlace,
  type PlaceId,
} from "../harness/index.ts";
import { outOfBounds, refusalsOf } from "../instruments/index.ts";
import type { Belief } from "./belief.ts";
import { placesTouched } from "./cost.ts";
import type { Oracle, Test } from "./oracle.ts";

/** What kind of act a test is, for its name and its place in the list. */
export type TestKind =
  | "measure"
  | "operate"
  | "lamp in place of fuse"
  | "unplug"
  | "load it"
  | "series lamp"
  | "bypass"
  | "ohms"
  | "give a ground"
  | "give a feed"
  | "ask modules"
  | "look"
  | "swap"
  | "wiggle"
  | "clamp";

export interface Candidate extends Test {
  readonly kind: TestKind;
}

/** What the shop can measure with. */
export const INSTRUMENTS = ["meter", "clamp", "test lamp", "scan tool", "fused lead", "known-good parts"] as const;
export type Instrument = (typeof INSTRUMENTS)[number];

export interface Asking {
  /** The state in which the complaint shows. */
  readonly state: VehicleState;
  /** Parts of the complaint. */
  readonly focus: readonly string[];
  readonly instruments: ReadonlySet<Instrument>;
  /** Share of the time that the complaint shows. */
  readonly presence: number;
}

/** Places worth a lead: pins, cavities, fuses, studs. Inside devices and out of bounds there are none. */
export function measurable(oracle: Oracle): readonly string[] {
  const { harness, core, parts } = oracle.pool;
  const found = new Set<string>();
  for (const id of core) {
    const link = linkOf(harness, id);
    for (const p of link === undefined ? [] : [link.a, link.b]) found.add(p);
  }
  for (const id of parts) {
    const part = lookupOf(harness).parts.get(id);
    if (part?.kind === "fuse") found.add(`${id}.1`).add(`${id}.2`);
  }
  return [...found].filter((p) => {
    const part = partOfPlace(harness, p as PlaceId);
    // Bare metal, away from the studs, tells a bad stud from a bad strap.
    if (part === undefined) return massesOf(harness).some((m) => m === p);
    return outOfBounds(harness, p) === undefined && !p.includes("~");
  });
}

/** Tests in the states that are at hand already: the complaint's own, and the vehicle's as it stands. */
export function readingsAt(oracle: Oracle, state: VehicleState, asking: Asking): readonly Candidate[] {
  const { harness } = oracle.pool;
  const minus = batteryNegative(harness);
  const plus = batteryPositive(harness);
  const found: Candidate[] = [];
  const measure = (red: string, black: string): void =>
    void (red !== black && found.push({ kind: "measure", state, observe: { kind: "volts", red, black } }));
  if (asking.instruments.has("meter")) {
    const view = oracle.view(state);
    for (const p of measurable(oracle)) {
      measure(p, minus);
      // Near battery voltage a drop from the positive post tells millivolts that the whole voltage hides.
      const sound = view === undefined ? 0 : (view.sound.volts[view.placeIndex.get(p) ?? -1] ?? 0);
      if (sound > 0.6 * harness.nominalVolts) measure(plus, p);
    }
    for (const id of oracle.pool.parts) {
      const part = lookupOf(harness).parts.get(id);
      if (part?.kind === "load") measure(`${id}.${part.pins[0]}`, `${id}.${part.pins[1]}`);
      if (part?.kind === "device")
        for (const link of [...oracle.pool.core].flatMap((l) => linkOf(harness, l) ?? []))
          if (partOfLink(harness, link)?.id === id && link.kind === "device") measure(link.a, link.b);
    }
  }
  for (const id of oracle.pool.parts) {
    const part = lookupOf(harness).parts.get(id);
    if (part === undefined || part.kind === "fuse") continue;
    if (part.kind === "load" || (part.kind === "device" && part.device !== "module"))
      found.push({ kind: "operate", state, observe: { kind: "part", part: id } });
    if (part.kind === "device" && part.device === "module" && asking.instruments.has("scan tool"))
      found.push({ kind: "ask modules", state, observe: { kind: "answers", module: id } });
  }
  return found;
}

const MOST_SWITCHES = 6;
/** Things of which it is thought through what unplugging them would tell; each costs a solution of its own, which takes long on a whole vehicle. */
const MOST_UNPLUGGED = 14;
const FEW_UNPLUGGED = 4;
const MANY_WIRES = 120;

/** What else hangs there, switched on by hand in turn and looked at. */
export function otherUses(oracle: Oracle, asking: Asking): readonly Candidate[] {
  const { harness, parts } = oracle.pool;
  const hand = [...parts].filter((id) => {
    const part = lookupOf(harness).parts.get(id);
    return part?.kind === "switch" && part.closedBy === "hand" && !asking.state.on.includes(id);
  });
  return hand.slice(0, MOST_SWITCHES).flatMap((id) => {
    const state: VehicleState = { ...asking.state, on: [...asking.state.on, id].sort() };
    return readingsAt(oracle, state, { ...asking, instruments: new Set() }).filter((c) => c.kind === "operate");
  });
}

/** Tests that change something on the vehicle or need more than a look; few, for what is suspected most. */
export function actsFor(oracle: Oracle, belief: Belief, asking: Asking): readonly Candidate[] {
  const { harness, repairs } = oracle.pool;
  const ranked = [...repairs]
    .sort((p, q) => belief.repairs[q.index]! - belief.repairs[p.index]!)
    .filter((r) => belief.repairs[r.index]! > 0.004);
  const top = ranked.slice(0, 8);
  // Along the looms of what may have rubbed through.
  const looms = new Map<string, number>();
  for (const c of belief.alive)
    if (belief.share(c) > 1e-3 && (c.fault.other !== undefined || /short to/.test(c.fault.mode)))
      for (const s of c.fault.where === undefined ? (lookupOf(harness).wires.get(c.fault.link)?.segments ?? []) : [c.fault.where])
        looms.set(s, (looms.get(s) ?? 0) + belief.share(c));
  const along = [...looms]
    .sort((p, q) => q[1] - p[1])
    .slice(0, 5)
    .map(([id]) => id);
  return [
    ...fuseLamps(oracle, belief, asking),
    ...unplugged(oracle, belief, asking),
    ...gifts(oracle, asking),
    ...top
      .slice(0, MOST_WORKED_ON)
      .flatMap((r) => [
        ...wireTests(oracle, asking, r.element),
        ...bypasses(harness, asking, r.element),
        ...clamps(oracle, asking, r.element),
      ]),
    ...(asking.presence < 1
      ? wiggles(
          harness,
          asking,
          top.map((r) => r.element),
        )
      : []),
    ...looks(harness, [...top.map((r) => r.element), ...along], asking),
  ];
}

/** A lamp in place of each fuse that may be blown: bright on a short, and a fuse spared. */
function fuseLamps(oracle: Oracle, belief: Belief, asking: Asking): Candidate[] {
  if (!asking.instruments.has("test lamp")) return [];
  return blownFuses(oracle, belief, asking.state).map((fuse) => lampFor(asking.state, fuse));
}

export const lampFor = (state: VehicleState, fuse: string): Candidate => ({
  kind: "lamp in place of fuse",
  state: { ...state, opened: [...new Set([...state.opened, fuse])].sort() },
  observe: { kind: "lamp", red: `${fuse}.1`, black: `${fuse}.2`, watts: 21 },
});

/** Fuses of which the belief says that they may have opened in a state. */
export function blownFuses(oracle: Oracle, belief: Belief, state: VehicleState): readonly string[] {
  const view = oracle.view(state);
  if (view === undefined) return [];
  const fuses = [...oracle.pool.parts].filter(
    (id) => lookupOf(oracle.pool.harness).parts.get(id)?.kind === "fuse" && !state.opened.includes(id),
  );
  return fuses.filter((id) => {
    const index = view.partIndex.get(id)!;
    let open = 0;
    for (const c of belief.alive) {
      const w = belief.share(c);
      if (w > 1e-4 && (oracle.row(state, c)?.work[index] ?? 1) < 0.5) open += w;
    }
    return open > 0.1;
  });
}

/** Unplug one thing and look again at what is wrong. */
function unplugged(oracle: Oracle, belief: Belief, asking: Asking): Candidate[] {
  const { harness } = oracle.pool;
  const base = asking.state;
  const fuses = asking.instruments.has("test lamp") ? blownFuses(oracle, belief, base) : [];
  const most = harness.wires.length > MANY_WIRES ? FEW_UNPLUGGED : MOST_UNPLUGGED;
  const things = new Set<string>();
  for (const c of [...belief.alive].sort((p, q) => belief.share(q) - belief.share(p))) {
    if (belief.share(c) < 2e-3) break;
    for (const id of unpluggable(harness, c.fault.link)) things.add(id);
    if (things.size > most) break;
  }
  const found: Candidate[] = [];
  for (const id of [...things].slice(0, most)) {
    if (refusalsOf(harness, base, { kind: "unplug", places: [id] }).length > 0) continue;
    const opened = [...new Set([...base.opened, id])].sort();
    const fuse = fuses[0];
    if (fuse !== undefined) {
      found.push({ ...lampFor({ ...base, opened }, fuse), kind: "unplug" });
      continue;
    }
    // What is complained of cannot be looked at while it is unplugged.
    if (asking.focus.includes(id)) continue;
    // What shows the trouble is looked at again: the place that reads farthest from sound, or the part itself.
    const place = strangest(oracle, belief, base);
    if (place !== undefined)
      found.push({ kind: "unplug", state: { ...base, opened }, observe: { kind: "volts", red: place, black: batteryNegative(harness) } });
    for (const part of asking.focus.slice(0, 2))
      found.push({ kind: "unplug", state: { ...base, opened }, observe: { kind: "part", part } });
  }
  return found;
}

/** Plugs that isolate a thing: itself where it is a part, and the connectors at its ends. */
function unpluggable(harness: Harness, element: string): readonly string[] {
  const link = linkOf(harness, element);
  const part = lookupOf(harness).parts.get(element);
  const own = part !== undefined && (part.kind === "load" || part.kind === "device") ? [part.id] : [];
  const ends =
    link === undefined
      ? []
      : [link.a, link.b].flatMap((p) => {
          const at = partOfPlace(harness, p);
          return at !== undefined && (at.kind === "connector" || at.kind === "load" || at.kind === "device") ? [at.id] : [];
        });
  return [...own, ...ends];
}

/** The place that the belief expects farthest from sound, in V. */
function strangest(oracle: Oracle, belief: Belief, state: VehicleState): string | undefined {
  const view = oracle.view(state);
  if (view === undefined) return undefined;
  const best = belief.alive.reduce((p, q) => (belief.share(q) > belief.share(p ?? q) ? q : (p ?? q)), belief.alive[0]);
  const row = best === undefined ? undefined : oracle.row(state, best);
  if (row === undefined) return undefined;
  let [found, off] = [undefined as string | undefined, 0.3];
  for (const p of measurable(oracle)) {
    const i = view.placeIndex.get(p);
    if (i === undefined) continue;
    const by = Math.abs(row.volts[i]! - view.sound.volts[i]!);
    if (by > off) [found, off] = [p, by];
  }
  return found;
}

/** Give the part a ground or a feed of its own and see whether it works. */
function gifts(oracle: Oracle, asking: Asking): Candidate[] {
  const { harness } = oracle.pool;
  if (!asking.instruments.has("fused lead")) return [];
  const found: Candidate[] = [];
  for (const id of asking.focus.slice(0, 2)) {
    const part = lookupOf(harness).parts.get(id);
    if (part?.kind !== "load") continue;
    for (const [kind, place, post] of [
      ["give a ground", `${id}.${part.pins[1]}`, batteryNegative(harness)],
      ["give a feed", `${id}.${part.pins[0]}`, batteryPositive(harness)],
    ] as const) {
      if (refusalsOf(harness, asking.state, { kind: "jumper", places: [place, post], fused: true }).length > 0) continue;
      found.push({
        kind,
        state: { ...asking.state, bridged: [...asking.state.bridged, [place, post]] },
        observe: { kind: "part", part: id },
      });
    }
  }
  return found;
}

/**
 * One wire by itself: unplugged at both ends and fed from the battery through a lamp. The far end shows full voltage on a sound one, nothing on an open one; with a second lamp there
 * it still shows half on a sound one and less on a bad one. The first lamp lights when it is shorted.
 */
function wireTests(oracle: Oracle, asking: Asking, wire: string): Candidate[] {
  const { harness } = oracle.pool;
  const link = linkOf(harness, wire);
  if (link?.kind !== "wire" || !asking.instruments.has("test lamp") || !asking.instruments.has("meter")) return [];
  const plugs = [link.a, link.b].map((p) => plugAt(harness, p));
  if (plugs.includes(undefined) || plugs.some((id) => refusalsOf(harness, asking.state, { kind: "unplug", places: [id!] }).length > 0))
    return [];
  const [plus, minus] = [batteryPositive(harness), batteryNegative(harness)];
  const opened = [...new Set([...asking.state.opened, ...plugs.map((id) => id!)])].sort();
  const unplugged: VehicleState = { ...asking.state, opened };
  if ([link.a, link.b].some((p) => refusalsOf(harness, unplugged, { kind: "lamp", places: [p] }).length > 0)) return [];
  const fed: VehicleState = { ...unplugged, lamps: [...(unplugged.lamps ?? []), [plus, link.a, LAMP_WATTS]] };
  const loaded: VehicleState = { ...fed, lamps: [...fed.lamps!, [link.b, minus, LAMP_WATTS]] };
  return [fed, loaded].map((state, i) => ({
    kind: i === 0 ? "series lamp" : "load it",
    state,
    observe: { kind: "volts", red: link.b, black: minus },
  }));
}
const LAMP_WATTS = 21;

/** The plug or part that frees an end of a wire. */
function plugAt(harness: Harness, place: PlaceId): string | undefined {
  const part = partOfPlace(harness, place);
  return part !== undefined && (part.kind === "connector" || part.kind === "load" || part.kind === "device") ? part.id : undefined;
}

/** A fused lead past a wire, cavity, switch or ground, to see whether the part then works. */
function bypasses(harness: Harness, asking: Asking, element: string): Candidate[] {
  const link = linkOf(harness, element);
  const [part] = asking.focus;
  if (link === undefined || part === undefined || link.kind === "device" || link.kind === "load" || link.kind === "fuse") return [];
  if (!asking.instruments.has("fused lead")) return [];
  const ends: [string, string] = [link.a, link.kind === "ground" ? batteryNegative(harness) : link.b];
  if (ends.some((p) => outOfBounds(harness, p) !== undefined)) return [];
  if (refusalsOf(harness, asking.state, { kind: "jumper", places: ends, fused: true }).length > 0) return [];
  const state: VehicleState = { ...asking.state, bridged: [...asking.state.bridged, ends] };
  return [{ kind: "bypass", state, observe: { kind: "part", part } }];
}

/** The clamp around what should carry current. */
function clamps(oracle: Oracle, asking: Asking, element: string): Candidate[] {
  const { harness } = oracle.pool;
  if (!asking.instruments.has("clamp") || linkOf(harness, element)?.kind !== "wire" || outOfBounds(harness, element) !== undefined)
    return [];
  const amps = oracle.view(asking.state)?.ampsOf([], element) ?? 0;
  return Math.abs(amps) < CLAMP_AMPS ? [] : [{ kind: "clamp", state: asking.state, observe: { kind: "amps", around: element } }];
}
/** Below this a clamp shows nothing to rely on, A. */
const CLAMP_AMPS = 0.5;

/** Connectors, looms and grounds to be moved while something is watched. */
function wiggles(harness: Harness, asking: Asking, elements: readonly string[]): Candidate[] {
  const at = new Set<string>();
  for (const element of elements) {
    for (const s of lookupOf(harness).wires.get(element)?.segments ?? []) at.add(s);
    const part = element.split(".")[0]!;
    const kind = lookupOf(harness).parts.get(part)?.kind;
    if (kind === "connector" || kind === "ground") at.add(part);
  }
  return [...at].slice(0, MOST_WIGGLED).map((where) => ({ kind: "wiggle", state: asking.state, observe: { kind: "wiggle", at: where } }));
}
const MOST_WIGGLED = 6;
/** Suspects for which work on their own wire is thought through. */
const MOST_WORKED_ON = 3;

function looks(harness: Harness, elements: readonly string[], asking: Asking): Candidate[] {
  return elements.flatMap((element): Candidate[] => {
    if (outOfBounds(harness, element) !== undefined) return [];
    const part = lookupOf(harness).parts.get(element);
    const looked: Candidate = { kind: "look", state: asking.state, observe: { kind: "look", at: element } };
    const swappable =
      part !== undefined &&
      (part.kind === "load" || part.kind === "device" || part.kind === "switch") &&
      asking.instruments.has("known-good parts");
    return swappable ? [looked, { kind: "swap", state: asking.state, observe: { kind: "swap", part: element } }] : [looked];
  });
}

/** A test that no rule forbids. */
export function isSafe(oracle: Oracle, test: Test): boolean {
  const { harness } = oracle.pool;
  const { observe: o, state } = test;
  const places = placesTouched(o);
  const kind = o.kind === "volts" || o.kind === "ohms" || o.kind === "lamp" ? o.kind : "touch";
  return refusalsOf(harness, state, { kind, places }).length === 0;
}
