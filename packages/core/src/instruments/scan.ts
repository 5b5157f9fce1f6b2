import { stateKey, type Fault, type VehicleState } from "../circuit/index.ts";
import {
  allPlaces,
  busMembersOf,
  type BusMember,
  type Harness,
  linkOf,
  moduleGround,
  moduleSupply,
  type Monitor,
  netAt,
  partNameIn,
  pinPlace,
} from "../harness/index.ts";
import { lastUsed } from "../quantity/index.ts";
import { busTalk, getsMessages, silentIn, type Talk } from "./bus.ts";
import { observedIn } from "./observe.ts";
import { across, meanOf, type Moment, nodeAt, type NoSteadyState, solveSteadyState, type SteadyState } from "./steady-state.ts";

/** What a scan tool finds: modules that do not answer though they should be there, and the codes of those that are awake. */
export interface Scan {
  readonly silent: readonly string[];
  readonly codes: readonly string[];
}

/** A vehicle come to rest in a state, with the modules that are awake. */
interface AtRest {
  readonly steady: SteadyState | NoSteadyState;
  readonly awake: ReadonlySet<string>;
}

function atRest(harness: Harness, state: VehicleState, faults: readonly Fault[]): AtRest {
  const steady = solveSteadyState(harness, state, faults, {}, () => []);
  const modules = harness.components.filter((c) => c.kind === "device" && c.device === "module");
  const seen = steady.kind === "steady" ? observedIn(harness, state, faults, steady, modules) : [];
  return { steady, awake: new Set(seen.flatMap((x) => (x.sight.kind === "awake" && x.sight.yes ? [x.component] : []))) };
}

/** Scans every module of a vehicle in a state, solved in full. */
export function scanAll(harness: Harness, state: VehicleState, faults: readonly Fault[]): Scan {
  const rest = faults.length === 0 ? soundIn(harness, state).rest : atRest(harness, state, faults);
  const talk = talkIn(harness, state, faults, rest);
  const onBus = new Set(silentIn(harness, talk));
  const modules = harness.components.flatMap((c) => (c.kind === "device" && c.device === "module" ? [c.id] : []));
  return {
    silent: modules.filter((id) => !rest.awake.has(id) || onBus.has(id)),
    codes: [
      ...new Set(
        (harness.monitors ?? []).flatMap((m) => (rest.awake.has(m.module) && seesWrong(harness, rest, m, () => talk) ? [m.code] : [])),
      ),
    ],
  };
}

interface Sound {
  readonly rest: AtRest;
  readonly talk: readonly Talk[];
}
const sounds = new WeakMap<Harness, Map<string, Sound>>();
/** States whose sound vehicle is kept. */
const MOST_KEPT = 12;
function soundIn(harness: Harness, state: VehicleState): Sound {
  const known = sounds.get(harness) ?? new Map<string, Sound>();
  sounds.set(harness, known);
  return lastUsed(known, `${stateKey(state)} ${state.temperatureC}`, MOST_KEPT, () => ({
    rest: atRest(harness, state, []),
    talk: busTalk(harness, state, []),
  }));
}

/** Who hears whom: solved for those on a line where a fault may change it, as on a sound vehicle for the rest. */
function talkIn(harness: Harness, state: VehicleState, faults: readonly Fault[], rest: AtRest): readonly Talk[] {
  const sound = soundIn(harness, state);
  const touched = faults.length === 0 ? new Set<string>() : touchedModules(harness, faults, rest, sound.rest);
  if (touched.size === 0) return sound.talk;
  const isTouched = (id: string): boolean => touched.has(id) || sound.talk.some((t) => t.from === id && touched.has(t.to));
  return busTalk(harness, state, faults, ({ id, sort }) =>
    isTouched(id) ? undefined : sound.talk.filter((t) => t.from === id && t.bus === sort),
  );
}

/** A supply or ground that moves by less leaves levels as they are, V. */
const FELT_VOLTS = 0.2;

/** Modules whose part in the talk faults may change: those on whose line or in which they stand, that fall asleep or wake, and whose supply or ground moves. */
function touchedModules(harness: Harness, faults: readonly Fault[], now: AtRest, sound: AtRest): ReadonlySet<string> {
  const members = busMembersOf(harness);
  const placesOf = (f: Fault): readonly string[] => {
    if ("link" in f) {
      const link = linkOf(harness, f.link);
      return link === undefined ? [f.link] : [link.a, link.b];
    }
    return "place" in f ? [f.place] : f.kind === "across" ? [f.from, f.to] : f.kind === "splice" ? [f.splice] : [];
  };
  const places = faults.flatMap(placesOf);
  const deviceIds = new Set(harness.components.flatMap((c) => (c.kind === "device" || c.kind === "load" ? [c.id] : [])));
  const parts = new Set([...places.map(partNameIn), ...faults.flatMap((f) => (f.kind === "settings" ? [f.component] : []))]);
  // What is wrong inside a part may be felt at all of its pins: a terminating resistor.
  const pins = allPlaces(harness).filter((p) => parts.has(partNameIn(p)) && deviceIds.has(partNameIn(p)));
  const nets = new Set([...places, ...pins].flatMap((p) => netAt(harness, p) ?? []));
  const moved = (place: string): boolean => !(Math.abs(voltsAt(now, place) - voltsAt(sound, place)) <= FELT_VOLTS);
  const isTouched = ({ id, pins }: BusMember): boolean =>
    parts.has(id) ||
    pins.some((pin) => {
      const net = netAt(harness, pinPlace(id, pin));
      return net !== undefined && nets.has(net);
    }) ||
    now.awake.has(id) !== sound.awake.has(id) ||
    moved(moduleGround(id)) ||
    moved(moduleSupply(id));
  return new Set(members.flatMap((m) => (isTouched(m) ? [m.id] : [])));
}

/** Whether a code is set in a state. */
export function isCodeSet(harness: Harness, state: VehicleState, code: string, faults: readonly Fault[]): boolean {
  const monitors = harness.monitors?.filter((m) => m.code === code) ?? [];
  if (monitors.length === 0) return false;
  const rest = atRest(harness, state, faults);
  return monitors.some((m) => rest.awake.has(m.module) && seesWrong(harness, rest, m, () => talkIn(harness, state, faults, rest)));
}

/** Modules that are awake. */
export const awakeModules = (harness: Harness, state: VehicleState, faults: readonly Fault[]): ReadonlySet<string> =>
  atRest(harness, state, faults).awake;

function seesWrong(harness: Harness, rest: AtRest, m: Monitor, talk: () => readonly Talk[]): boolean {
  if (m.silent !== undefined) return !getsMessages(harness, talk(), m.module, m.silent);
  if (m.pin === undefined) return false;
  const volts = voltsBetween(rest, pinPlace(m.module, m.pin), moduleGround(m.module));
  return (m.belowVolts !== undefined && volts < m.belowVolts) || (m.aboveVolts !== undefined && volts > m.aboveVolts);
}

const voltsAt = (rest: AtRest, place: string): number => voltsOf(rest, (m) => m.point.volts[m.circuit.nodeOf.get(place) ?? -1] ?? 0);

/** V that a module sees between two places: the mean over pulses, the middle of what swings; 0 at what floats and where the circuit has no answer. */
const voltsBetween = (rest: AtRest, red: string, black: string): number =>
  voltsOf(rest, (m) => {
    const [p, q] = [nodeAt(m.circuit, red), nodeAt(m.circuit, black)];
    return m.point.floating[p] === 1 ? 0 : across(m, p, q);
  });

function voltsOf({ steady }: AtRest, at: (m: Moment) => number): number {
  if (steady.kind !== "steady") return 0;
  if (steady.oscillating.length === 0) return meanOf(steady, at);
  const each = steady.moments.map(at);
  return (Math.min(...each) + Math.max(...each)) / 2;
}
