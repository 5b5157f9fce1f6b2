import { useMemo } from "react";
import type { SimilarCases } from "@rheonom/contract/shop";
import { casesAsCircumstances, type JobView } from "@rheonom/core/job";
import { useSimilarCasesQuery } from "../api/shop-api.ts";
import type { OpenJob } from "./use-job.ts";

const NONE: SimilarCases["cases"] = [];

/** The closed jobs that are most like this one; none while its latest entries are on their way, until the first answer. */
export function useSimilarCases({ id, view, unsaved }: Pick<OpenJob, "id" | "view" | "unsaved">): SimilarCases["cases"] {
  const { data } = useSimilarCasesQuery({ id, key: keyOf(view) }, { skip: unsaved.size > 0 || view.closed !== undefined });
  return data?.cases ?? NONE;
}

/** What the likeness to others depends on. */
const keyOf = ({ circuit, complaint, seen, scans }: JobView): string =>
  [
    circuit?.vehicle?.id ?? "",
    complaint.words,
    complaint.registration,
    ...seen.flatMap((s) => (s.struck === undefined && s.data.wrong && s.data.observe.kind === "part" ? [s.data.observe.part] : [])),
    ...scans.flatMap((s) => (s.struck === undefined ? [s.id] : [])),
  ].join("|");

/** The job as it is weighed: what similar ones make likelier is with it. */
export function useWithSimilar(job: OpenJob, cases: SimilarCases["cases"]): OpenJob {
  return useMemo(() => (cases.length === 0 ? job : { ...job, view: { ...job.view, similar: casesAsCircumstances(cases) } }), [job, cases]);
}
