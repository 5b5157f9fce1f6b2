import { REST_STATE } from "../circuit/index.ts";
import { findingsOf, testsOf, workClock } from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";
import { complainedOf, evidenceAfter } from "./question.ts";
import type { JobView } from "./fold.ts";

/** Minutes that the tests of a job would take on a vehicle, by the engine's estimate of access, instrument and change of state. What the customer told took none, nor did what was found while the clock stood. */
export function minutesOfTests(harness: Harness, view: JobView): number {
  const clock = workClock(harness, complainedOf(view)[0]?.data.state ?? REST_STATE);
  const rounds = view.mends.filter((m) => m.struck === undefined).length;
  const found = Array.from({ length: rounds + 1 }, (_, i) => evidenceAfter(view, i).filter((e) => e.source !== "customer"));
  const untimed = new Set(view.practice?.untimed);
  // What was found while the clock stood takes no minutes, but leaves the vehicle as it is.
  return found.flatMap(findingsOf).reduce((sum, finding) => {
    const minutes = testsOf(finding).reduce((all, test) => all + clock(test), 0);
    return untimed.has(finding.entry) ? sum : sum + minutes;
  }, 0);
}
