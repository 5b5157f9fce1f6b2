import { REST_STATE } from "../circuit/index.ts";
import { findingsOf, testsOf, workClock } from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";
import { complainedOf, evidenceAfter } from "./question.ts";
import type { JobView } from "./fold.ts";

/** Minutes of work on a vehicle, by the engine's estimate of access, instrument and change of state. */
export interface MinutesWorked {
  /** Of the tests before the last repair; of all of them while nothing is repaired. */
  readonly tests: number;
  /** Of those behind it. */
  readonly verifying: number;
}

/** What the tests of a job would take. What the customer told took no minutes, nor did what was found while the clock stood: that leaves the vehicle as it is, though. */
export function minutesWorked(harness: Harness, view: JobView): MinutesWorked {
  const clock = workClock(harness, complainedOf(view)[0]?.data.state ?? REST_STATE);
  const repairs = view.mends.filter((m) => m.struck === undefined).length;
  const untimed = new Set(view.practice?.untimed);
  const rounds = Array.from({ length: repairs + 1 }, (_, i) =>
    findingsOf(evidenceAfter(view, i).filter((e) => e.source !== "customer")).reduce((sum, finding) => {
      const minutes = testsOf(finding).reduce((all, test) => all + clock(test), 0);
      return untimed.has(finding.entry) ? sum : sum + minutes;
    }, 0),
  );
  const verifying = repairs === 0 ? 0 : rounds.at(-1)!;
  return { tests: rounds.reduce((sum, m) => sum + m, 0) - verifying, verifying };
}

/** All of them together. */
export function minutesOfTests(harness: Harness, view: JobView): number {
  const { tests, verifying } = minutesWorked(harness, view);
  return tests + verifying;
}
