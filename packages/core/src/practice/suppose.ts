import type { Fault, VehicleState } from "../circuit/index.ts";
import { addressedModules, liveValuesOf, toldFrom, type LiveUnit } from "../codes/index.ts";
import { buildStaircase, type PathJudgement } from "../diagnosis/index.ts";
import { catalogueOf } from "../faults/index.ts";
import { partNameIn, type Harness } from "../harness/index.ts";
import { predictAll, scanAll, type Prediction } from "../instruments/index.ts";
import { changesIn, type PartChange } from "./complaint.ts";
import { blownIn } from "./truth.ts";
import { wholeView } from "./scenario/whole-view.ts";

/** A way in which something can be wrong, without its functions. */
export interface FaultChoice {
  readonly id: string;
  readonly words: string;
  readonly severities: readonly number[];
  /** In ohms; otherwise a setting, or without degrees. */
  readonly isOhms: boolean;
}

/** All that can be wrong with a wire, cavity, ground or part. */
export const faultsAt = (harness: Harness, at: string): readonly FaultChoice[] =>
  catalogueOf(harness)
    .filter(
      (f) => f.link === at || f.other === at || (partNameIn(f.link) === at && f.effect !== "short to wire" && f.effect !== "water bridge"),
    )
    .map((f) => ({
      id: f.id,
      words: f.words,
      severities: f.severities,
      isOhms: f.effect !== "setting" && f.severities.length > 1,
    }));

/** A fault that is supposed, by its name. */
export interface SupposedHere {
  readonly id: string;
  readonly severity: number;
}

/** The faults by these names; undefined where this circuit has none of one of the names. */
export function faultsNamed(harness: Harness, supposed: readonly SupposedHere[]): readonly Fault[] | undefined {
  const all = catalogueOf(harness);
  const found = supposed.map(({ id, severity }) => all.find((f) => f.id === id)?.faultAt(severity));
  return found.every((f) => f !== undefined) ? found : undefined;
}

/** What a vehicle would be like, beside a good one. */
export interface WhatIf {
  readonly parts: readonly PartChange[];
  /** Where the voltage against battery negative differs, the farthest off first, V; undefined where a place floats. */
  readonly volts: readonly { readonly place: string; readonly good: number | undefined; readonly now: number | undefined }[];
  /** Where the current differs, A. */
  readonly amps: readonly { readonly link: string; readonly good: number; readonly now: number }[];
  readonly blown: readonly string[];
  /** Codes and silent modules that a good vehicle does not have. */
  readonly codes: readonly string[];
  readonly silent: readonly string[];
  /** Values that modules tell a scan tool where they differ; undefined from a module that does not respond. */
  readonly live: readonly LiveChange[];
  readonly now: Prediction;
}

/** A live value of a module on a good vehicle and on this one, in its unit. */
export interface LiveChange {
  readonly module: string;
  readonly name: string;
  readonly unit: LiveUnit;
  readonly good: number;
  readonly now: number | undefined;
}

/** Differences below these are not told. */
const LEAST_VOLTS = 0.05;
const LEAST_AMPS = 0.02;
const LEAST_LIVE: Readonly<Record<LiveUnit, number>> = { V: 0.05, "°C": 1, "%": 1 };
const MOST_TOLD = 40;

/** Supposes faults in a state. Undefined where the circuit has no answer, with or without them. */
export function whatIfOf(harness: Harness, state: VehicleState, faults: readonly Fault[]): WhatIf | undefined {
  const [good, now] = [predictAll(harness, state, []), predictAll(harness, state, faults)];
  const view = wholeView(harness, state);
  if (!("volts" in good) || !("volts" in now) || view === undefined) return undefined;
  const off = (p: number | undefined, q: number | undefined): number =>
    p === undefined && q === undefined ? 0 : Math.abs((p ?? 0) - (q ?? 0));
  const volts = [...now.volts]
    // Nodes inside devices are nobody's test points.
    .filter(([place]) => !place.includes("~"))
    .map(([place, value]) => ({ place, good: good.volts.get(place), now: value }))
    .filter((v) => off(v.good, v.now) >= LEAST_VOLTS)
    .sort((p, q) => off(q.good, q.now) - off(p.good, p.now));
  const amps = [...now.amps]
    .map(([link, value]) => ({ link, good: good.amps.get(link) ?? 0, now: value }))
    .filter((a) => off(a.good, a.now) >= LEAST_AMPS)
    .sort((p, q) => off(q.good, q.now) - off(p.good, p.now));
  const [sound, scan] = [scanAll(harness, state, []), scanAll(harness, state, faults)];
  const silent = scan.silent.filter((m) => !sound.silent.includes(m));
  return {
    parts: changesIn(harness, view, faults) ?? [],
    volts: volts.slice(0, MOST_TOLD),
    amps: amps.slice(0, MOST_TOLD),
    blown: blownIn(harness, state, faults),
    codes: scan.codes.filter((c) => !sound.codes.includes(c)),
    silent,
    live: liveChanges(harness, good, now, sound.silent, scan.silent),
    now,
  };
}

function liveChanges(
  harness: Harness,
  good: Prediction,
  now: Prediction,
  silentGood: readonly string[],
  silentNow: readonly string[],
): readonly LiveChange[] {
  const modules = addressedModules(harness).filter((m) => !silentGood.includes(m.id));
  return modules.flatMap(({ id }) =>
    liveValuesOf(harness, id).flatMap((value): readonly LiveChange[] => {
      const { module, name, unit } = value;
      // What a module wants of its outputs goes by its rules, not by a voltage.
      if (value.wants !== undefined) return [];
      const told = ({ volts }: Prediction): number => toldFrom(value, (place) => volts.get(place as never) ?? NaN);
      const [was, is] = [told(good), silentNow.includes(module) ? undefined : told(now)];
      if (!Number.isFinite(was) || (is !== undefined && !(Math.abs(is - was) >= LEAST_LIVE[unit]))) return [];
      return [{ module, name, unit, good: was, now: is }];
    }),
  );
}

/** The path of a load with these faults, as the picture of a path shows one: the good volts, and those with them. Undefined where there is none. Throws RangeError for what is no load. */
export function pathWith(harness: Harness, state: VehicleState, load: string, faults: readonly Fault[]): PathJudgement | undefined {
  const staircase = buildStaircase(harness, state, load, "usual");
  const now = predictAll(harness, state, faults);
  if (staircase.kind !== "staircase" || !("volts" in now)) return undefined;
  return {
    staircase,
    measuredVolts: staircase.places.map(() => undefined),
    stretches: [],
    referenceNotes: [],
    conflicts: [],
    batteryVolts: undefined,
    explainedVolts: staircase.places.map((p) => now.volts.get(p)),
  };
}
