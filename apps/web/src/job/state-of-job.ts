import type { VehicleState } from "@rheonom/core/circuit";
import { type Harness, lookupOf } from "@rheonom/core/harness";
import { complainedOf, trayInModel, type JobView } from "@rheonom/core/job";
import type { BenchKept } from "@rheonom/contract/api";
import type { BenchDraft } from "./bench.ts";
import { readDraft } from "./read-draft.ts";
import type { OpenJob } from "./use-job.ts";

/** The state that the vehicle is in: what stands on the bench as far as this circuit knows it, with what was unplugged, bridged or fitted. */
export function stateOnBench(draft: VehicleState, harness: Harness, view: JobView): VehicleState {
  const { parts } = lookupOf(harness);
  return { ...draft, on: draft.on.filter((id) => parts.has(id)), ...trayInModel(harness, view) };
}

/**
 * What stands on the bench of a job when its screens are opened: the state that was set last, on this device or on another one (`kept`), else that of the latest reading or of the complaint.
 */
export function draftOfJob(jobId: string, view: JobView, kept: BenchKept | null): BenchDraft {
  const said = view.readings.at(-1)?.data.state ?? complainedOf(view).find((s) => s.data.observe.kind === "part")?.data.state;
  const draft = readDraft(jobId, said);
  return kept !== null && Date.parse(kept.at) > draft.setAt ? { ...draft, state: kept.state, setAt: Date.parse(kept.at) } : draft;
}

/** The state that the vehicle of a job is in. */
export const stateOfJob = ({ id, view, bench }: Pick<OpenJob, "id" | "view" | "bench">, harness: Harness): VehicleState =>
  stateOnBench(draftOfJob(id, view, bench).state, harness, view);
