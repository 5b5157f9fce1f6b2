import type { VehicleState } from "@rheonom/core/circuit";
import { type Harness, lookupOf } from "@rheonom/core/harness";
import { complainedOf, trayInModel, type JobView } from "@rheonom/core/job";
import type { BenchDraft } from "./bench.ts";
import { readDraft } from "./read-draft.ts";

/** The state that the vehicle is in: what stands on the bench as far as this circuit knows it, with what was unplugged, bridged or fitted. */
export function stateOnBench(draft: VehicleState, harness: Harness, view: JobView): VehicleState {
  const { parts } = lookupOf(harness);
  return { ...draft, on: draft.on.filter((id) => parts.has(id)), ...trayInModel(harness, view) };
}

/** What stands on the bench of a job when its screens are opened: what was kept, else the state of the latest reading or of the complaint. */
export const draftOfJob = (jobId: string, view: JobView): BenchDraft =>
  readDraft(jobId, view.readings.at(-1)?.data.state ?? complainedOf(view).find((s) => s.data.observe.kind === "part")?.data.state);

/** The state that the vehicle of a job is in. */
export const stateOfJob = (jobId: string, view: JobView, harness: Harness): VehicleState =>
  stateOnBench(draftOfJob(jobId, view).state, harness, view);
