import { useMemo } from "react";
import type { CaseAnswer, Question } from "@rheonom/core/diagnosis";
import { askedOfJob } from "@rheonom/core/job";
import type { RepairPlan } from "@rheonom/core/repair";
import { useJobContext } from "../../job/job-context.ts";
import { stateOfJob } from "../../job/state-of-job.ts";
import { typedNumber } from "../../job/typed-number.ts";
import { useQuery } from "../../worker/use-query.ts";
import { WAY_OF, type MendForm } from "./mend-form.ts";

const inRange = (text: string, most: number): number | undefined => {
  const value = typedNumber(text);
  return value !== undefined && value > 0 && value <= most ? value : undefined;
};

/** What was found in a job, and what it amounts to. */
export interface Weighed {
  readonly question: Omit<Question, "harness"> | undefined;
  /** Undefined while it is being weighed, and where nothing was found. */
  readonly answer: CaseAnswer | undefined;
  readonly isWeighed: boolean;
}

/** Weighs what was found since the last repair. */
export function useWeighed(): Weighed {
  const { job, harness } = useJobContext();
  const { view } = job;
  const question = useMemo(
    () => (harness === undefined ? undefined : askedOfJob(harness, view, "", stateOfJob(job, harness))),
    [harness, view, job],
  );
  const hasFound = question !== undefined && question.evidence.length > 0;
  const { value, busy } = useQuery("weighed", harness, hasFound ? { question } : undefined);
  return { question, answer: hasFound && !busy ? value : undefined, isWeighed: !hasFound || (!busy && value !== undefined) };
}

export interface Planned {
  readonly plan: RepairPlan | undefined;
  readonly isBusy: boolean;
  readonly failed: string | undefined;
}

/** What is to be known of the repair that the form describes; nothing while no place of the circuit is named. */
export function usePlan(form: Pick<MendForm, "at" | "method" | "segment" | "area" | "length">, { question, answer }: Weighed): Planned {
  const { job, harness } = useJobContext();
  const { view } = job;
  const at = form.at.trim();
  const { value, busy, failed } = useQuery(
    "repair",
    harness,
    question === undefined || at === ""
      ? undefined
      : {
          at,
          way: WAY_OF[form.method],
          segment: form.segment,
          areaMm2: inRange(form.area, 200),
          lengthM: inRange(form.length, 100),
          state: question.state,
          rules: view.rules,
          highVoltage: view.complaint.highVoltage,
          answer,
          evidence: question.evidence,
        },
  );
  return { plan: value, isBusy: busy, failed };
}
