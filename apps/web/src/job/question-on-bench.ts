import type { VehicleState } from "@rheonom/core/circuit";
import { silentIn } from "@rheonom/core/codes";
import type { Question } from "@rheonom/core/diagnosis";
import { type Harness, loadsOf, partNameIn } from "@rheonom/core/harness";
import { askedOfJob, complainedParts, isAdvised, latestScan, partsOfCodes, type JobView, type ReadingView } from "@rheonom/core/job";

/** What the engine is asked; undefined while nothing was found that could be weighed, and while somebody practises without its advice. */
export function questionOnBench(
  harness: Harness,
  view: JobView,
  readings: readonly ReadingView[],
  load: string,
  state: VehicleState,
): Omit<Question, "harness"> | undefined {
  if (!isAdvised(view)) return undefined;
  const isUnstruck = (x: { readonly struck?: unknown }): boolean => x.struck === undefined;
  const asked = latestScan(view);
  const isCoded =
    asked?.mendsBefore === view.mends.filter(isUnstruck).length &&
    (asked.data.scan.codes.length > 0 || silentIn(asked.data.scan).length > 0);
  if (!isCoded && !readings.some(isUnstruck) && !view.seen.some(isUnstruck) && !view.wiggles.some(isUnstruck)) return undefined;
  return askedOfJob(harness, view, load, state);
}

/** The load whose path is shown: the one that was asked for, by its own name or as a part of it, else what is complained of, else what the codes are about, else the first. */
export function loadOnBench(harness: Harness, view: JobView, wanted: string | undefined): string {
  const loads = loadsOf(harness);
  // A sensor has no path of a load: the module that misses it has.
  const modules = (latestScan(view)?.data.scan.codes ?? []).map((c) => c.module);
  const named = [wanted, complainedParts(view)[0], ...partsOfCodes(harness, view), ...modules].filter((x) => x !== undefined);
  for (const name of named) {
    const found = loads.find((l) => l.id === name) ?? loads.find((l) => partNameIn(l.id) === name);
    if (found !== undefined) return found.id;
  }
  return loads[0]!.id;
}
