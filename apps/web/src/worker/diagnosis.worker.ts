import { expose } from "comlink";
import type { VehicleState } from "@rheonom/core/circuit";
import { answerCase, diagnose, foreseen, isFirstAnswer, type CaseAnswer } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { questionOfJob, type JobView } from "@rheonom/core/job";

/** What was computed is kept by the harness itself, so that a new copy of the one before must not take its place. */
let last: { readonly name: string; readonly harness: Harness } | undefined;

/** How often something was asked. */
let asked = 0;

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
    asked++;
    const q = questionOfJob(last.harness, view, load, state);
    // From the complaint alone: first what can be told at once, then everything.
    return answerCase({ ...q, isRough: next !== "as needed" && isFirstAnswer(q) }, next);
  },
  /** Thinks the likeliest outcomes of the proposed test through while hands are at work; gives way as soon as something is asked. */
  async foresee(name: string, harness: Harness, view: JobView, load: string, state: VehicleState): Promise<void> {
    if (last?.name !== name) last = { name, harness };
    const mine = asked;
    const q = questionOfJob(last.harness, view, load, state);
    const d = diagnose(q);
    if (d.enough?.yes === true) return;
    for (const next of foreseen(q, d)) {
      await new Promise((resolve) => setTimeout(resolve, 0));
      if (asked !== mine) return;
      answerCase(next, "at hand");
    }
  },
};
export type DiagnosisHost = typeof host;

expose(host);
