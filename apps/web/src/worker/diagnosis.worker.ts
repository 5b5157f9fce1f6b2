import { expose } from "comlink";
import type { VehicleState } from "@rheonom/core/circuit";
import { answerCase, type CaseAnswer } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { questionOfJob, type JobView } from "@rheonom/core/job";

/** What was computed is kept by the harness itself, so that a new copy of the one before must not take its place. */
let last: { readonly name: string; readonly harness: Harness } | undefined;

/** Weighs all suspects; in a worker of its own, so that nothing else waits for it and it can be stopped. */
const host = {
  answer(
    name: string,
    harness: Harness,
    view: JobView,
    load: string,
    state: VehicleState,
    next: "none" | "at hand" | "as needed",
  ): CaseAnswer {
    if (last?.name !== name) last = { name, harness };
    return answerCase(questionOfJob(last.harness, view, load, state), next);
  },
};
export type DiagnosisHost = typeof host;

expose(host);
