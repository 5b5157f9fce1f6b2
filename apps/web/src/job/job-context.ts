import { useOutletContext } from "react-router";
import type { SimilarCases } from "@rheonom/contract/shop";
import type { Harness } from "@rheonom/core/harness";
import type { ParseResult } from "@rheonom/core/notation";
import type { EventBody } from "./record.ts";
import type { OpenJob } from "./use-job.ts";

/** What all screens of one job share. */
export interface JobContext {
  readonly job: Omit<OpenJob, "record">;
  /** Adds an event; asks for a name first when nobody has given one. */
  readonly record: (body: EventBody) => void;
  /** The circuit of the job, undefined when there is none or its text has errors. */
  readonly harness: Harness | undefined;
  readonly parsed: ParseResult | undefined;
  /** Closed jobs that are like this one. */
  readonly similar: SimilarCases["cases"];
  readonly showTray: () => void;
}
export const useJobContext = (): JobContext => useOutletContext<JobContext>();
