import type { Fault, VehicleState } from "../circuit/index.ts";
import { fuseOpeningS, type Sight } from "../devices/index.ts";
import type { Harness } from "../harness/index.ts";
import { conducts } from "../solver/index.ts";
import { lampLook, type LampLook } from "./share-words.ts";
import { deliveredShare, type PartSight, type PointReader, sightsAt, workAt, worksBySwitchOff, workShown } from "./sights.ts";
import { ampsOf, meanOf, solveSteadyState, type Moment, type NoSteadyState, type SteadyState } from "./steady-state.ts";

/** What a person sees, hears or feels at a part. */
export interface Observation {
  readonly component: string;
  readonly sight:
    | Sight
    | { readonly kind: "lamp"; readonly look: LampLook; readonly share: number }
    /** A plain load: share of its rated voltage. */
    | { readonly kind: "runs"; readonly share: number }
    /** It clicks in and out without end. */
    | { readonly kind: "chatters" };
}

/** Every part of a circuit that shows something, in the order of the harness. */
export function observe(harness: Harness, state: VehicleState, faults: readonly Fault[]): Observation[] | NoSteadyState {
  const steady = solveSteadyState(harness, state, faults, {}, () => []);
  return steady.kind === "steady" ? observedIn(harness, state, faults, steady) : steady;
}

/** The same of a circuit that is solved. `parts`: those that are looked at. */
export function observedIn(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  steady: SteadyState,
  parts: Harness["components"] = harness.components,
): Observation[] {
  const overrides = new Map(faults.flatMap((f) => (f.kind === "settings" ? [[f.component, f.settings] as const] : [])));
  return parts.flatMap((part): Observation[] => {
    const each = steady.moments.map((m) => sightsAt(harness, state, part.id, readerOf(m), { phase: 0, overrides }));
    const oscillating =
      steady.oscillating.some((id) => id === part.id || id.startsWith(`${part.id}.`)) ||
      (steady.oscillating.length > 0 && part.kind === "load" && comesAndGoes(each.map(workShown)));
    const chatters: Observation[] = oscillating ? [{ component: part.id, sight: { kind: "chatters" } }] : [];
    switch (part.kind) {
      case "device":
        return [
          ...chatters,
          ...together(steady, each, worksBySwitchOff(harness, part.id)).flatMap((sight) =>
            sight.kind === "runs" ? [] : [{ component: part.id, sight }],
          ),
        ];
      case "load":
        return [...chatters, ...together(steady, each, false).map((sight) => ({ component: part.id, sight: loadSight(sight) }))];
      case "fuse": {
        const amps = meanOf(steady, (m) => ampsOf(m, part.id));
        const blown = steady.moments.some(({ circuit, point }) => {
          const index = circuit.elementOf.get(part.id);
          return index !== undefined && circuit.netlist.elements[index]!.kind === "switch" && point.closed[index] === 0;
        });
        return [...chatters, { component: part.id, sight: { kind: "fuse", blown, secondsLeft: fuseOpeningS(part.ratingAmps, amps) } }];
      }
      case "battery":
      case "switch":
      case "connector":
      case "splice":
      case "ground":
        return [];
    }
  });
}

/** A load behind a contact that chatters goes on and off with it, where there is enough to see. `work`: at each moment. */
export const comesAndGoes = (work: readonly number[]): boolean =>
  Math.max(...work) - Math.min(...work) > COMES_AND_GOES * Math.max(...work, LEAST_WORK);
const COMES_AND_GOES = 0.4;
/** Share of the rated work below which nothing is seen to come. */
const LEAST_WORK = 0.05;

const loadSight = (sight: PartSight): Observation["sight"] =>
  sight.kind === "brightness" ? { kind: "lamp", look: lampLook(sight.share), share: sight.share } : sight;

/** What is seen over all moments: what pulls in with every pulse counts as pulled in, the rest is taken as its mean. */
function together(steady: SteadyState, each: readonly (readonly PartSight[])[], bySwitchOff: boolean): readonly PartSight[] {
  return each[0]!.map((first, k): PartSight => {
    const all = each.map((sights) => sights[k]!);
    const mean = (of: (s: PartSight) => number): number => all.reduce((sum, s, i) => sum + steady.moments[i]!.share * of(s), 0);
    switch (first.kind) {
      case "pulled in":
        return { ...first, yes: all.some((s) => s.kind === "pulled in" && s.yes) };
      case "awake":
        return { ...first, yes: mean((s) => (s.kind === "awake" && s.yes ? 1 : 0)) > 0.5 };
      case "brightness":
      case "heat":
      case "runs":
        return { ...first, share: mean((s) => ("share" in s ? s.share : 0)) };
      case "stored":
        return bySwitchOff ? { ...first, share: deliveredOf(all) } : { ...first, share: mean((s) => ("share" in s ? s.share : 0)) };
      case "speed":
        return { ...first, rpm: mean((s) => (s.kind === "speed" ? s.rpm : 0)) };
      case "charging":
        return { ...first, amps: mean((s) => (s.kind === "charging" ? s.amps : 0)) };
      case "reads":
        return { ...first, value: mean((s) => (s.kind === "reads" ? s.value : 0)) };
      case "fuse":
        return first;
    }
  });
}

function deliveredOf(all: readonly PartSight[]): number {
  const stored = all.map((s) => (s.kind === "stored" ? s.share : 0));
  return deliveredShare(Math.min(...stored), Math.max(...stored));
}

/** A winding that is held on stores at least this share all the time. */
const HELD_SHARE = 0.1;

/** Windings that are meant to be switched off and never are: they deliver nothing and heat. With the least current through each, A. */
export function heldOn(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
): readonly { readonly part: string; readonly amps: number }[] {
  const windings = harness.components.filter(({ id }) => worksBySwitchOff(harness, id));
  if (windings.length === 0) return [];
  const steady = solveSteadyState(harness, state, faults, {}, () => []);
  if (steady.kind !== "steady") return [];
  const overrides = new Map(faults.flatMap((f) => (f.kind === "settings" ? [[f.component, f.settings] as const] : [])));
  return windings.flatMap(({ id }) => {
    const each = steady.moments.map((m) => sightsAt(harness, state, id, readerOf(m), { phase: 0, overrides }));
    if (!each.every((sights) => sights.some((s) => s.kind === "stored" && s.share > HELD_SHARE))) return [];
    return [{ part: id, amps: Math.min(...steady.moments.map((m) => Math.abs(ampsOf(m, `${id}.primary`)))) }];
  });
}

/** What a sound part does in a state, in the number of `workAt`; undefined where it shows nothing or the circuit has no answer. */
export function soundWork(harness: Harness, state: VehicleState, part: string): number | undefined {
  const steady = solveSteadyState(harness, state, [], {}, () => []);
  if (steady.kind !== "steady") return undefined;
  const each = steady.moments.map((m) => workAt(harness, state, part, readerOf(m), { phase: m.at, overrides: new Map() }));
  const work = worksBySwitchOff(harness, part)
    ? deliveredShare(Math.min(...each), Math.max(...each))
    : each.reduce((sum, w, i) => sum + steady.moments[i]!.share * w, 0);
  return Number.isNaN(work) ? undefined : work;
}

/** A moment as what it shows is read off it. */
export const readerOf = ({ circuit, point }: Pick<Moment, "circuit" | "point">): PointReader => ({
  volts: (place) => point.volts[circuit.nodeOf.get(place) ?? -1] ?? 0,
  amps: (id) => ampsOf({ circuit, point }, id),
  closed: (id) => {
    const index = circuit.elementOf.get(id);
    return index !== undefined && conducts(circuit.netlist.elements[index], point.closed[index] === 1);
  },
});

/** Relays and solenoids that are heard when the state changes: those whose contact moves. */
export function clicks(harness: Harness, from: VehicleState, to: VehicleState, faults: readonly Fault[]): string[] {
  const pulled = (state: VehicleState): Map<string, boolean> => {
    const seen = observe(harness, state, faults);
    if (!Array.isArray(seen)) return new Map();
    return new Map(seen.flatMap(({ component, sight }) => (sight.kind === "pulled in" ? [[component, sight.yes] as const] : [])));
  };
  const [before, after] = [pulled(from), pulled(to)];
  return [...after].flatMap(([id, yes]) => (before.get(id) !== yes ? [id] : []));
}
