import { stateKey, type VehicleState } from "../circuit/index.ts";
import { answerPath, judgePath, type PathJudgement, type VerdictWords, wordVerdict } from "../diagnosis/index.ts";
import { loadsOf, type Harness } from "../harness/index.ts";
import { clampFacts, readingsAroundMend, voltFacts } from "./evidence.ts";
import type { JobView, ReadingView } from "./fold.ts";

/** One load path in one state, before or after the mend. */
export interface JobPath {
  readonly when: "before" | "after";
  readonly load: string;
  readonly state: VehicleState;
  readonly judged: PathJudgement;
  readonly words: VerdictWords;
}

/** Judges readings on one load's path in one state. Undefined when the load is not in the circuit. */
function judgedPathOf(
  harness: Harness,
  view: JobView,
  readings: readonly ReadingView[],
  load: string,
  state: VehicleState,
): Omit<JobPath, "when"> | undefined {
  if (!loadsOf(harness).some((l) => l.id === load)) return undefined;
  const judged = judgePath(harness, state, load, view.rules, voltFacts(readings, state), clampFacts(readings, state));
  if (!("stretches" in judged)) return undefined;
  return { load, state, judged, words: wordVerdict(harness, judged, answerPath(harness, state, judged)) };
}

/** Every load and state in which something was measured, in order of the first reading; "before" ahead of "after". */
export function pathsOfJob(harness: Harness, view: JobView): JobPath[] {
  const mended = view.mends.some((m) => m.struck === undefined);
  const sides = mended ? (["before", "after"] as const) : (["after"] as const);
  return sides.flatMap((when) => {
    const readings = readingsAroundMend(view, when);
    const groups = new Map<string, ReadingView>();
    for (const r of readings) {
      const key = `${stateKey(r.data.state)}|${r.data.load}`;
      if (r.struck === undefined && !groups.has(key)) groups.set(key, r);
    }
    return [...groups.values()].flatMap((sample): JobPath[] => {
      const path = judgedPathOf(harness, view, readings, sample.data.load, sample.data.state);
      // Without a mend there is no "after": all readings are from before it.
      return path === undefined ? [] : [{ when: mended ? when : "before", ...path }];
    });
  });
}
