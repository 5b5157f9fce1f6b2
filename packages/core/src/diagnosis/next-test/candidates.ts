import type { VehicleState } from "../../circuit/index.ts";
import {
  batteryNegative,
  batteryPositive,
  type Harness,
  linkOf,
  lookupOf,
  netAt,
  partNameIn,
  partOfLink,
  partOfPlace,
  type PlaceId,
} from "../../harness/index.ts";
import { isChafed, mostAmpsOf } from "../../faults/index.ts";
import { faultsOf } from "../hypotheses/space.ts";
import { outOfBounds, refusalsOf } from "../../instruments/index.ts";
import {
  LAMP_WATTS,
  lampFor,
  lookAt,
  measurable,
  type TestSetting,
  type CandidateTest,
  type VehicleSetup,
} from "../effort/candidate-test.ts";
import type { Belief } from "../belief/belief.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import type { Oracle } from "../predict/oracle.ts";
import { levelsIn } from "../simulate/row.ts";
import { blownFuses, unplugged } from "./unplugging.ts";

/** Tests in the states that are at hand already: the complaint's own, and the vehicle's as it stands. */
export function readingsAt(oracle: Oracle, belief: Belief, state: VehicleState, setting: TestSetting): readonly CandidateTest[] {
  const { harness } = oracle.space;
  const minus = batteryNegative(harness);
  const plus = batteryPositive(harness);
  const found: CandidateTest[] = [];
  const measure = (red: string, black: string): void =>
    void (red !== black && found.push({ kind: "measure", state, observe: { kind: "volts", red, black } }));
  if (setting.instruments.has("meter")) {
    const view = oracle.view(state);
    for (const p of measurable(oracle, belief)) {
      measure(p, minus);
      // Near battery voltage a drop from the positive post tells millivolts that the whole voltage hides.
      const sound = view === undefined ? 0 : (view.sound.volts[view.placeIndex.get(p) ?? -1] ?? 0);
      if (sound > 0.6 * harness.nominalVolts) measure(plus, p);
    }
    for (const id of oracle.space.parts) {
      const part = lookupOf(harness).parts.get(id);
      if (part?.kind === "load") measure(`${id}.${part.pins[0]}`, `${id}.${part.pins[1]}`);
      if (part?.kind === "device")
        for (const link of [...oracle.space.core].flatMap((l) => linkOf(harness, l) ?? []))
          if (partOfLink(harness, link)?.id === id && link.kind === "device") measure(link.a, link.b);
    }
  }
  let asked = 0;
  for (const id of oracle.space.parts) {
    const part = lookupOf(harness).parts.get(id);
    if (part === undefined || part.kind === "fuse") continue;
    if (part.kind === "load" || (part.kind === "device" && part.device !== "module"))
      found.push({ kind: "operate", state, observe: { kind: "part", part: id } });
    // Each module that is asked costs solutions of its own, which take long on a whole vehicle.
    if (
      part.kind === "device" &&
      part.device === "module" &&
      setting.instruments.has("scan tool") &&
      (!oracle.space.isLarge || asked++ < MOST_ASKED)
    )
      found.push({ kind: "ask modules", state, observe: { kind: "answers", module: id } });
  }
  return found;
}

/** Both levels of what pulses, wherever a lead is worth it: what is low at one end of a stretch and not at the other lies between. */
export function levelsAt(oracle: Oracle, belief: Belief, state: VehicleState, setting: TestSetting): readonly CandidateTest[] {
  const view = oracle.view(state);
  if (view === undefined || !view.pulses || !setting.instruments.has("scope")) return [];
  const black = batteryNegative(oracle.space.harness);
  return measurable(oracle, belief).flatMap((red): CandidateTest[] => {
    const levels = red === black ? [] : (levelsIn(view, view.sound, red, black) ?? []).map(([volts]) => volts);
    if (levels.length === 0 || Math.max(...levels) - Math.min(...levels) < PULSE_VOLTS) return [];
    return (["high", "low"] as const).map((which) => ({ kind: "measure", state, observe: { kind: "level", which, red, black } }));
  });
}
/** What swings by less on a sound vehicle is no pulse to look at, V. */
const PULSE_VOLTS = 1;

/** The drop over one suspected thing itself, lead on either end. */
export function dropsAcross(oracle: Oracle, belief: Belief, state: VehicleState, setting: TestSetting): readonly CandidateTest[] {
  if (!setting.instruments.has("meter")) return [];
  const { harness, repairs } = oracle.space;
  const places = new Set(measurable(oracle, belief));
  return [...repairs]
    .filter((r) => belief.repairs[r.index]! > LEAST_ACROSS)
    .sort((p, q) => belief.repairs[q.index]! - belief.repairs[p.index]!)
    .slice(0, MOST_ACROSS)
    .flatMap(({ element }): CandidateTest[] => {
      const link = linkOf(harness, element);
      if (link === undefined || !places.has(link.a) || !places.has(link.b)) return [];
      return [{ kind: "measure", state, observe: { kind: "volts", red: link.a, black: link.b } }];
    });
}
const LEAST_ACROSS = 0.05;
const MOST_ACROSS = 6;

/** In a line that carries next to nothing no drop tells a bad joint: ohms with all at rest, over each suspect by itself and from plug to plug; on a whole vehicle, where each case takes a solution of its own, over the likeliest only. */
export function ohmsAcross(oracle: Oracle, belief: Belief, setting: TestSetting): readonly CandidateTest[] {
  if (!setting.instruments.has("meter")) return [];
  const { harness, repairs } = oracle.space;
  const state: VehicleState = { ...setting.state, key: "off", engine: "stopped", on: [] };
  const weak = [...repairs]
    .filter((r) => belief.repairs[r.index]! > LEAST_ACROSS && (mostAmpsOf(harness).get(r.element) ?? 0) < LITTLE_AMPS)
    .sort((p, q) => belief.repairs[q.index]! - belief.repairs[p.index]!)
    .slice(0, oracle.space.isLarge ? 1 : MOST_OHMS);
  const places = new Set<string>(measurable(oracle, belief));
  return weak.flatMap(({ element }): CandidateTest[] => {
    const link = linkOf(harness, element);
    if (link === undefined || (link.kind !== "wire" && link.kind !== "cavity" && link.kind !== "joint")) return [];
    const ends = (netAt(harness, link.a)?.places ?? []).filter((p) => {
      const kind = partOfPlace(harness, p)?.kind;
      return kind === "load" || kind === "device";
    });
    const pairs: (readonly [string, string])[] = [
      [link.a, link.b],
      ...ends.slice(1, oracle.space.isLarge ? 1 : 1 + MOST_PAIRS).map((end) => [ends[0]!, end] as const),
    ];
    return pairs
      .filter(([p, q]) => places.has(p) && places.has(q))
      .map(([red, black]) => ({ kind: "ohms", state, observe: { kind: "ohms", red, black } }));
  });
}
/** A line that never carries as much as this is one for the ohmmeter, A. */
const LITTLE_AMPS = 0.05;
const MOST_OHMS = 4;
const MOST_PAIRS = 3;

const MOST_ASKED = 3;
const MOST_SWITCHES = 6;

/** What else hangs there, switched on by hand in turn and looked at. */
export function otherUses(oracle: Oracle, belief: Belief, setting: TestSetting): readonly CandidateTest[] {
  const { harness, parts } = oracle.space;
  const hand = [...parts].filter((id) => {
    const part = lookupOf(harness).parts.get(id);
    return part?.kind === "switch" && part.closedBy === "hand" && !setting.state.on.includes(id);
  });
  return hand.slice(0, MOST_SWITCHES).flatMap((id) => {
    const state: VehicleState = { ...setting.state, on: [...setting.state.on, id].sort() };
    return readingsAt(oracle, belief, state, { ...setting, instruments: new Set() }).filter((c) => c.kind === "operate");
  });
}

/** Tests that change something on the vehicle or need more than a look; few, for what is suspected most. `offReadings`: what a meter showed that was not as sound. */
export function actsFor(
  oracle: Oracle,
  belief: Belief,
  setting: TestSetting,
  setup: VehicleSetup,
  offReadings: readonly Observable[],
): readonly CandidateTest[] {
  const { harness, repairs } = oracle.space;
  const ranked = [...repairs]
    .sort((p, q) => belief.repairs[q.index]! - belief.repairs[p.index]!)
    .filter((r) => belief.repairs[r.index]! > 0.004);
  const top = ranked.slice(0, 8);
  // Along the looms of what may have rubbed through.
  const looms = new Map<string, number>();
  for (const c of belief.alive)
    if (belief.posterior(c) > 1e-3 && (c.fault.other !== undefined || isChafed(c.fault.effect)))
      for (const s of c.fault.where === undefined ? (lookupOf(harness).wires.get(c.fault.link)?.segments ?? []) : [c.fault.where])
        looms.set(s, (looms.get(s) ?? 0) + belief.posterior(c));
  const along = [...looms]
    .sort((p, q) => q[1] - p[1])
    .slice(0, 5)
    .map(([id]) => id);
  return [
    ...fuseLamps(oracle, belief, setting),
    ...unplugged(oracle, belief, setting, setup.accessible, offReadings),
    ...gifts(oracle, setting),
    ...top
      .slice(0, MOST_WORKED_ON)
      .flatMap((r) => [
        ...wireTests(oracle, setting, r.element),
        ...bypasses(harness, setting, r.element),
        ...clamps(oracle, belief, setting, r.element),
      ]),
    ...(setting.presence < 1
      ? wiggles(
          harness,
          setting,
          top.map((r) => r.element),
        )
      : []),
    ...looks(harness, [...top.map((r) => r.element), ...along], setting, setup.state),
  ];
}

/** A lamp in place of each fuse that may be blown: bright on a short, and a fuse spared. With a switch off, what lies behind it is told from what lies before. */
function fuseLamps(oracle: Oracle, belief: Belief, setting: TestSetting): CandidateTest[] {
  if (!setting.instruments.has("test lamp")) return [];
  const { state } = setting;
  const off = state.on.filter((id) => oracle.space.parts.has(id)).slice(0, MOST_SWITCHED_OFF);
  const states = [state, ...off.map((id) => ({ ...state, on: state.on.filter((x) => x !== id) }))];
  return blownFuses(oracle, belief, state).flatMap((fuse, i) => states.slice(0, i === 0 ? undefined : 1).map((s) => lampFor(s, fuse)));
}
const MOST_SWITCHED_OFF = 3;

/** Give the part a ground or a feed of its own and see whether it works. */
function gifts(oracle: Oracle, setting: TestSetting): CandidateTest[] {
  const { harness } = oracle.space;
  if (!setting.instruments.has("fused lead")) return [];
  const found: CandidateTest[] = [];
  for (const id of setting.focus.slice(0, 2)) {
    const part = lookupOf(harness).parts.get(id);
    if (part?.kind !== "load") continue;
    for (const [kind, place, post] of [
      ["give a ground", `${id}.${part.pins[1]}`, batteryNegative(harness)],
      ["give a feed", `${id}.${part.pins[0]}`, batteryPositive(harness)],
    ] as const) {
      if (refusalsOf(harness, setting.state, { kind: "jumper", places: [place, post], fused: true }).length > 0) continue;
      found.push({
        kind,
        state: { ...setting.state, bridged: [...setting.state.bridged, [place, post]] },
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
function wireTests(oracle: Oracle, setting: TestSetting, wire: string): CandidateTest[] {
  const { harness } = oracle.space;
  const link = linkOf(harness, wire);
  if (link?.kind !== "wire" || !setting.instruments.has("test lamp") || !setting.instruments.has("meter")) return [];
  const plugs = [link.a, link.b].map((p) => plugAt(harness, p));
  if (plugs.includes(undefined) || plugs.some((id) => refusalsOf(harness, setting.state, { kind: "unplug", places: [id!] }).length > 0))
    return [];
  const [plus, minus] = [batteryPositive(harness), batteryNegative(harness)];
  const opened = [...new Set([...setting.state.opened, ...plugs.map((id) => id!)])].sort();
  const unplugged: VehicleState = { ...setting.state, opened };
  if ([link.a, link.b].some((p) => refusalsOf(harness, unplugged, { kind: "lamp", places: [p] }).length > 0)) return [];
  const fed: VehicleState = { ...unplugged, lamps: [...(unplugged.lamps ?? []), [plus, link.a, LAMP_WATTS]] };
  const loaded: VehicleState = { ...fed, lamps: [...fed.lamps!, [link.b, minus, LAMP_WATTS]] };
  return [fed, loaded].map((state, i) => ({
    kind: i === 0 ? "series lamp" : "load it",
    state,
    observe: { kind: "volts", red: link.b, black: minus },
  }));
}

/** The plug or part that frees an end of a wire. */
function plugAt(harness: Harness, place: PlaceId): string | undefined {
  const part = partOfPlace(harness, place);
  return part !== undefined && (part.kind === "connector" || part.kind === "load" || part.kind === "device") ? part.id : undefined;
}

/** A fused lead past a wire, cavity, switch or ground, to see whether the part then works. */
function bypasses(harness: Harness, setting: TestSetting, element: string): CandidateTest[] {
  const link = linkOf(harness, element);
  const [part] = setting.focus;
  if (link === undefined || part === undefined || link.kind === "device" || link.kind === "load" || link.kind === "fuse") return [];
  if (!setting.instruments.has("fused lead")) return [];
  const ends: [string, string] = [link.a, link.kind === "ground" ? batteryNegative(harness) : link.b];
  if (ends.some((p) => outOfBounds(harness, p) !== undefined)) return [];
  if (refusalsOf(harness, setting.state, { kind: "jumper", places: ends, fused: true }).length > 0) return [];
  const state: VehicleState = { ...setting.state, bridged: [...setting.state.bridged, ends] };
  return [{ kind: "bypass", state, observe: { kind: "part", part } }];
}

/** The clamp around what carries current, or would if it were what is suspected. */
function clamps(oracle: Oracle, belief: Belief, setting: TestSetting, element: string): CandidateTest[] {
  const { harness } = oracle.space;
  if (!setting.instruments.has("clamp") || linkOf(harness, element)?.kind !== "wire" || outOfBounds(harness, element) !== undefined)
    return [];
  const view = oracle.view(setting.state);
  const likeliest = belief.alive.filter((c) => c.fault.link === element).sort((p, q) => belief.posterior(q) - belief.posterior(p))[0];
  const amps = [[], faultsOf(likeliest)].map((faults) => Math.abs(view?.ampsOf(faults, element) ?? 0));
  return Math.max(...amps) < CLAMP_AMPS ? [] : [{ kind: "clamp", state: setting.state, observe: { kind: "amps", around: element } }];
}
/** Below this a clamp shows nothing to rely on, A. */
const CLAMP_AMPS = 0.5;

/** Connectors, looms and grounds to be moved while something is watched. */
function wiggles(harness: Harness, setting: TestSetting, elements: readonly string[]): CandidateTest[] {
  const at = new Set<string>();
  for (const element of elements) {
    for (const s of lookupOf(harness).wires.get(element)?.segments ?? []) at.add(s);
    const part = partNameIn(element);
    const kind = lookupOf(harness).parts.get(part)?.kind;
    if (kind === "connector" || kind === "ground") at.add(part);
  }
  return [...at].slice(0, MOST_WIGGLED).map((where) => ({ kind: "wiggle", state: setting.state, observe: { kind: "wiggle", at: where } }));
}
const MOST_WIGGLED = 6;
/** Suspects for which work on their own wire is thought through. */
const MOST_WORKED_ON = 3;

function looks(harness: Harness, elements: readonly string[], setting: TestSetting, setup: VehicleState): CandidateTest[] {
  return elements.flatMap((element): CandidateTest[] => {
    if (outOfBounds(harness, element) !== undefined) return [];
    const part = lookupOf(harness).parts.get(element);
    if (part?.kind === "fuse")
      return [
        { kind: "look", ...lookAt(harness, element, setting.state, setup) },
        { kind: "renew fuse", state: setting.state, observe: { kind: "fuse", at: element } },
      ];
    const looked: CandidateTest = { kind: "look", ...lookAt(harness, element, setting.state, setup) };
    const swappable =
      part !== undefined &&
      (part.kind === "load" || part.kind === "device" || part.kind === "switch") &&
      setting.instruments.has("known-good parts");
    return swappable ? [looked, { kind: "swap", state: setting.state, observe: { kind: "swap", part: element } }] : [looked];
  });
}
