import { stateKey, type Fault, type VehicleState } from "../circuit/index.ts";
import {
  busMembersOf,
  type Harness,
  linkOf,
  moduleGround,
  moduleSupply,
  type Monitor,
  netAt,
  partNameIn,
  pinPlace,
} from "../harness/index.ts";
import { busTalk, getsMessages, silentModules, type Talk } from "./bus.ts";
import { observe } from "./observe.ts";
import { predictAll, predictReading } from "./predict.ts";

/** What a scan tool finds: modules that do not answer though they should be there, and the codes of those that are awake. */
export interface Scan {
  readonly silent: readonly string[];
  readonly codes: readonly string[];
}

/** Scans every module of a vehicle in a state, solved in full. */
export function scanAll(harness: Harness, state: VehicleState, faults: readonly Fault[]): Scan {
  const awake = awakeModules(harness, state, faults);
  // What neither stands on a bus line nor moves a module's supply leaves the talk as it is on a sound vehicle.
  const asSound = faults.length > 0 && !mayChangeTalk(harness, state, faults, awake);
  const onBus = new Set(asSound ? soundSilence(harness, state) : silentModules(harness, state, faults));
  const modules = harness.components.flatMap((c) => (c.kind === "device" && c.device === "module" ? [c.id] : []));
  let talk: readonly Talk[] | undefined;
  const talking = (): readonly Talk[] => (talk ??= busTalk(harness, state, asSound ? [] : faults));
  return {
    silent: modules.filter((id) => !awake.has(id) || onBus.has(id)),
    codes: [
      ...new Set(
        (harness.monitors ?? []).flatMap((m) => (awake.has(m.module) && seesWrong(harness, state, m, faults, talking) ? [m.code] : [])),
      ),
    ],
  };
}

const silences = new WeakMap<Harness, Map<string, readonly string[]>>();
function soundSilence(harness: Harness, state: VehicleState): readonly string[] {
  const known = silences.get(harness) ?? new Map<string, readonly string[]>();
  silences.set(harness, known);
  const key = stateKey(state);
  const made = known.get(key) ?? silentModules(harness, state, []);
  known.set(key, made);
  return made;
}

/** A supply or ground that moves by less leaves levels as they are, V. */
const FELT_VOLTS = 0.2;

/** Whether faults may change who hears whom: they stand on a bus line or in a module there, put one to sleep, or move its supply or ground. */
function mayChangeTalk(harness: Harness, state: VehicleState, faults: readonly Fault[], awake: ReadonlySet<string>): boolean {
  const members = busMembersOf(harness);
  const lines = new Set(members.flatMap((m) => m.pins.map((pin) => netAt(harness, pinPlace(m.id, pin)))));
  const placesOf = (f: Fault): readonly string[] => {
    if ("link" in f) {
      const link = linkOf(harness, f.link);
      return link === undefined ? [f.link] : [link.a, link.b];
    }
    return "place" in f ? [f.place] : f.kind === "across" ? [f.from, f.to] : f.kind === "splice" ? [f.splice] : [];
  };
  const isMember = (name: string): boolean => members.some((m) => m.id === partNameIn(name));
  if (
    faults.some(
      (f) => (f.kind === "settings" && isMember(f.component)) || placesOf(f).some((p) => isMember(p) || lines.has(netAt(harness, p))),
    )
  )
    return true;
  const sound = awakeModules(harness, state, []);
  if (sound.size !== awake.size || [...sound].some((id) => !awake.has(id))) return true;
  const [now, then] = [predictAll(harness, state, faults), predictAll(harness, state, [])];
  if (!("volts" in now) || !("volts" in then)) return true;
  const moved = (place: string): boolean =>
    Math.abs((now.volts.get(place as never) ?? 0) - (then.volts.get(place as never) ?? 0)) > FELT_VOLTS;
  return members.some((m) => moved(moduleGround(m.id)) || moved(moduleSupply(m.id)));
}

/** Whether a code is set in a state. */
export function isCodeSet(harness: Harness, state: VehicleState, code: string, faults: readonly Fault[]): boolean {
  const monitors = harness.monitors?.filter((m) => m.code === code) ?? [];
  if (monitors.length === 0) return false;
  const awake = awakeModules(harness, state, faults);
  return monitors.some((m) => awake.has(m.module) && seesWrong(harness, state, m, faults, () => busTalk(harness, state, faults)));
}

/** Modules that are awake. */
export function awakeModules(harness: Harness, state: VehicleState, faults: readonly Fault[]): ReadonlySet<string> {
  const seen = observe(harness, state, faults);
  return new Set(Array.isArray(seen) ? seen.flatMap((x) => (x.sight.kind === "awake" && x.sight.yes ? [x.component] : [])) : []);
}

function seesWrong(harness: Harness, state: VehicleState, m: Monitor, faults: readonly Fault[], talk: () => readonly Talk[]): boolean {
  if (m.silent !== undefined) return !getsMessages(harness, talk(), m.module, m.silent);
  if (m.pin === undefined) return false;
  const volts = seenAtPin(harness, state, m.module, m.pin, faults);
  return (m.belowVolts !== undefined && volts < m.belowVolts) || (m.aboveVolts !== undefined && volts > m.aboveVolts);
}

/** V that a module sees at one of its pins, the middle of what swings; 0 where the circuit has no answer. */
function seenAtPin(harness: Harness, state: VehicleState, module: string, pin: string, faults: readonly Fault[]): number {
  const leads = { quantity: "volts", red: pinPlace(module, pin), black: moduleGround(module) } as const;
  const reading = predictReading(harness, state, faults, leads);
  if (reading.kind === "unsolved" && reading.between !== undefined) return (reading.between[0] + reading.between[1]) / 2;
  return reading.kind === "value" ? reading.value : 0;
}
