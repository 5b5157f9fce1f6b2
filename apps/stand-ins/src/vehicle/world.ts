import { stateKey, type Fault, type VehicleState } from "@rheonom/core/circuit";
import { lookupOf, type Harness } from "@rheonom/core/harness";
import { busTalk, getsMessages, observe, predictAll, silentIn, untoldPins } from "@rheonom/core/instruments";
import { shaken } from "../shaken.ts";

/** What the simulated vehicle does at this moment: solved in full, with all its hidden faults. */
export interface Snapshot {
  readonly state: VehicleState;
  /** V at a place against battery negative; NaN where the circuit has no answer. */
  readonly volts: (place: string) => number;
  /** Pins at which pulses are waited for and none stand, as "ALT.C". */
  readonly untold: ReadonlySet<string>;
  /** Modules that are awake. */
  readonly awake: ReadonlySet<string>;
  /** Modules that are awake and heard on their bus. */
  readonly answers: ReadonlySet<string>;
  /** Whether a module gets the messages of another. */
  readonly gets: (to: string, from: string) => boolean;
  /** Highest speed of a starter, rpm. */
  readonly starterRpm: number;
  readonly engineRuns: boolean;
}

/** An output that a tester works. */
export interface Worked {
  readonly module: string;
  readonly pin: string;
  readonly on: boolean;
}

export interface World {
  readonly harness: Harness;
  readonly state: () => VehicleState;
  readonly setState: (state: VehicleState) => void;
  readonly setFaults: (faults: readonly Fault[]) => void;
  /** Loom, plug, ground or part that is being moved; undefined when nothing is. */
  readonly setMoving: (at: string | undefined) => void;
  readonly moving: () => string | undefined;
  readonly setWorked: (worked: readonly Worked[]) => void;
  /** Lets what is moved shake on; to be called a few times a second while something is. */
  readonly shake: () => void;
  readonly now: () => Snapshot;
}

const KEPT = 40;

/** A harness with what is wrong with it, in a state. `chance`: numbers from 0 to below 1 for what happens while something is moved. */
export function createWorld(harness: Harness, hidden: readonly Fault[], start: VehicleState, chance: () => number): World {
  let [state, faults, moving] = [start, hidden, undefined as string | undefined];
  let worked: readonly Worked[] = [];
  let moved: readonly Fault[] = faults;
  const known = new Map<string, Snapshot>();
  const settle = (): void => void (moved = shaken(harness, faults, moving, chance));
  const now = (): Snapshot => {
    const key = `${stateKey(state)} ${state.temperatureC} ${JSON.stringify([moved, worked])}`;
    const found = known.get(key) ?? solve(harness, state, [...moved, ...worked.flatMap((w) => workedFault(harness, w))]);
    if (known.size >= KEPT) known.delete(known.keys().next().value!);
    known.set(key, found);
    return found;
  };
  return {
    harness,
    state: () => state,
    setState: (next) => void (state = next),
    setFaults: (next) => {
      faults = next;
      settle();
    },
    moving: () => moving,
    setMoving: (at) => {
      moving = at;
      settle();
    },
    setWorked: (next) => void (worked = next),
    shake: settle,
    now,
  };
}

function solve(harness: Harness, state: VehicleState, faults: readonly Fault[]): Snapshot {
  const all = predictAll(harness, state, faults);
  const volts = "volts" in all ? all.volts : undefined;
  const seen = observe(harness, state, faults);
  const sights = Array.isArray(seen) ? seen : [];
  const awake = new Set(sights.flatMap((s) => (s.sight.kind === "awake" && s.sight.yes ? [s.component] : [])));
  const talk = volts === undefined ? [] : busTalk(harness, state, faults);
  const silent = new Set(volts === undefined ? awake : silentIn(harness, talk));
  const isStarter = (id: string): boolean => {
    const part = lookupOf(harness).parts.get(id);
    return part?.kind === "device" && part.device === "starter";
  };
  return {
    state,
    volts: (place) => volts?.get(place) ?? NaN,
    untold: new Set(untoldPins(harness, state, faults)),
    awake,
    answers: new Set([...awake].filter((id) => !silent.has(id))),
    gets: (to, from) => getsMessages(harness, talk, to, from),
    starterRpm: Math.max(0, ...sights.map((s) => (s.sight.kind === "speed" && isStarter(s.component) ? s.sight.rpm : 0))),
    engineRuns: state.engine === "idling" || state.engine === "at speed",
  };
}

/** An output held on or off, whatever the module's own rules say. */
function workedFault(harness: Harness, { module, pin, on }: Worked): readonly Fault[] {
  const part = lookupOf(harness).parts.get(module);
  if (part?.kind !== "device") return [];
  const rules = (part.settings["rules"] ?? []) as readonly { readonly pin: string }[];
  const held = { pin, when: on ? { all: [] } : { any: [] } };
  return [{ kind: "settings", component: module, settings: { rules: [...rules.filter((r) => r.pin !== pin), held] } }];
}

/** Least speed at which an engine catches, rpm. */
const CATCHES_RPM = 120;

/** Whether the engine would start while it is cranked: the starter turns it, the module that runs it is awake, and its fuel pump runs. */
export function catches({ harness, now, state }: World, engineModule: string | undefined): boolean {
  const { starterRpm, awake } = now();
  const pump = harness.components.find((c) => /fuel pump$/i.test("label" in c ? (c.label ?? "") : ""));
  if (starterRpm < CATCHES_RPM || state().engine !== "cranking") return false;
  if (engineModule !== undefined && !awake.has(engineModule)) return false;
  if (pump?.kind !== "load" && pump?.kind !== "device") return true;
  return !state().opened.includes(pump.id);
}
