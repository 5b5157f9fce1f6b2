import { useMemo, useState } from "react";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { stateChanged } from "./bench.ts";
import { draftOfJob, stateOnBench } from "./state-of-job.ts";
import { useAppDispatch, useAppSelector } from "./store.ts";
import type { OpenJob } from "./use-job.ts";

/** The state that the vehicle of a job is in, as on Trace, and how it is changed. */
export function useVehicleState(
  { id, view, bench }: Pick<OpenJob, "id" | "view" | "bench">,
  harness: Harness,
): readonly [state: VehicleState, change: (part: Partial<VehicleState>) => void] {
  const dispatch = useAppDispatch();
  const [kept] = useState(() => draftOfJob(id, view, bench));
  const draft = useAppSelector((s) => s.bench[id]) ?? kept;
  const state = useMemo(() => stateOnBench(draft.state, harness, view), [draft.state, harness, view]);
  return [state, (part) => void dispatch(stateChanged({ jobId: id, change: part, before: kept }))];
}
