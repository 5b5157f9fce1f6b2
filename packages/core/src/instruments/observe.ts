import { fuseOpeningS, lampBrightness, type Inside, type Sight } from "../devices/index.ts";
import { type Fault, settingsOf, surroundingsOf, type VehicleState } from "../circuit/index.ts";
import { deviceNode, deviceOf, type Harness } from "../harness/index.ts";
import { volts } from "../quantity/index.ts";
import { lampLook } from "./testers.ts";
import { ampsOf, meanOf, nodeAt, solveSteadyState, type Moment, type SteadyState, type NoSteadyState } from "./steady-state.ts";

/** What a person sees, hears or feels at a part. */
export interface Observation {
  readonly component: string;
  readonly sight:
    | Sight
    | { readonly kind: "lamp"; readonly look: ReturnType<typeof lampLook>; readonly share: number }
    /** A plain load: share of its rated voltage. */
    | { readonly kind: "runs"; readonly share: number }
    /** It clicks in and out without end. */
    | { readonly kind: "chatters" };
}

/** Every part of a circuit that shows something, in the order of the harness. */
export function observe(harness: Harness, state: VehicleState, faults: readonly Fault[]): Observation[] | NoSteadyState {
  const steady = solveSteadyState(harness, state, faults, {}, () => []);
  if (steady.kind !== "steady") return steady;
  const overrides = new Map(faults.flatMap((f) => (f.kind === "settings" ? [[f.component, f.settings] as const] : [])));
  return harness.components.flatMap((part): Observation[] => {
    const oscillating =
      steady.oscillating.some((id) => id === part.id || id.startsWith(`${part.id}.`)) || comesAndGoes(harness, steady, part);
    const chatters: Observation[] = oscillating ? [{ component: part.id, sight: { kind: "chatters" } }] : [];
    switch (part.kind) {
      case "device": {
        const at = surroundingsOf(harness, state, part.id, {});
        const { device } = deviceOf(part);
        const sights = together(steady, (m) => device.sights(settingsOf(part, overrides), at, insideOf(m, part.id)));
        return [...chatters, ...sights.map((sight) => ({ component: part.id, sight }))];
      }
      case "load": {
        const share = Math.abs(meanOf(steady, (m) => difference(m, part.id, part.pins))) / harness.nominalVolts;
        const light = workAt(harness, part.sort, share);
        if (part.sort !== "lamp") return [...chatters, { component: part.id, sight: { kind: "runs", share } }];
        return [...chatters, { component: part.id, sight: { kind: "lamp", look: lampLook(light), share: light } }];
      }
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

/** A load behind a contact that chatters goes on and off with it, where there is enough to see. */
function comesAndGoes(harness: Harness, steady: SteadyState, part: Harness["components"][number]): boolean {
  if (steady.oscillating.length === 0 || part.kind !== "load") return false;
  const { pins, sort } = part;
  const work = steady.moments.map((m) => workAt(harness, sort, Math.abs(difference(m, part.id, pins)) / harness.nominalVolts));
  return Math.max(...work) - Math.min(...work) > COMES_AND_GOES * Math.max(...work, LEAST_WORK);
}
const COMES_AND_GOES = 0.4;
/** Share of the rated work below which nothing is seen to come. */
const LEAST_WORK = 0.05;

/** Light of a lamp, or the share of its voltage that any other load gets; `share`: of the nominal voltage. */
const workAt = (harness: Harness, sort: string, share: number): number =>
  sort === "lamp" ? lampBrightness(volts(harness.nominalVolts), volts(share * harness.nominalVolts)) : share;

const difference = (m: SteadyState["moments"][number], id: string, [p, q]: readonly [string, string]): number =>
  m.point.volts[nodeAt(m.circuit, `${id}.${p}`)]! - m.point.volts[nodeAt(m.circuit, `${id}.${q}`)]!;

/** What is seen over all moments: what pulls in with every pulse counts as pulled in, the rest is taken as its mean. */
function together(steady: SteadyState, sightsIn: (moment: Moment) => readonly Sight[]): readonly Sight[] {
  const each = steady.moments.map(sightsIn);
  return each[0]!.map((first, k): Sight => {
    const all = each.map((sights) => sights[k]!);
    const mean = (of: (s: Sight) => number): number => all.reduce((sum, s, i) => sum + steady.moments[i]!.share * of(s), 0);
    switch (first.kind) {
      case "pulled in":
        return { ...first, yes: all.some((s) => s.kind === "pulled in" && s.yes) };
      case "awake":
        return { ...first, yes: mean((s) => (s.kind === "awake" && s.yes ? 1 : 0)) > 0.5 };
      case "brightness":
      case "heat":
        return { ...first, share: mean((s) => ("share" in s ? s.share : 0)) };
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

/** A device's own view of a solved circuit at one moment. */
function insideOf({ circuit, point }: Moment, id: string): Inside {
  return {
    volts: (node) => point.volts[circuit.nodeOf.get(deviceNode(id, node) as never) ?? -1] ?? 0,
    amps: (part) => ampsOf({ share: 1, circuit, point }, `${id}.${part}`),
    closed: (part) => {
      const index = circuit.elementOf.get(`${id}.${part}`);
      if (index === undefined) return false;
      const e = circuit.netlist.elements[index]!;
      // What a fault has made a plain resistance counts as closed when it conducts.
      return e.kind === "switch" ? point.closed[index] === 1 : e.kind === "resistor" && e.ohms < 1e6;
    },
  };
}

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
