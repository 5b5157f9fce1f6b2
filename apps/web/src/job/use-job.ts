import { useMemo } from "react";
import { useParams } from "react-router";
import type { BenchKept } from "@rheonom/contract/api";
import { foldJob, type JobEvent, type JobView, type LogEntry } from "@rheonom/core/job";
import { useJobQuery } from "../api/api.ts";
import { failureOf, type Failure } from "../api/failure.ts";
import { record, type EventBody } from "./record.ts";
import { useAppDispatch, useAppSelector } from "./store.ts";

export interface OpenJob {
  readonly id: string;
  readonly view: JobView;
  readonly events: readonly LogEntry[];
  /** Ids of events that the server has not acknowledged. */
  readonly unsaved: ReadonlySet<string>;
  /** A stand-in vehicle answers readings for this job. */
  readonly simulated: boolean;
  /** What stood on its bench when it was opened; null before anything did. */
  readonly bench: BenchKept | null;
  readonly record: (body: EventBody) => JobEvent;
}

export type JobAnswer =
  | { readonly kind: "loading" }
  | { readonly kind: "failed"; readonly failure: Failure; readonly retry: () => void }
  | { readonly kind: "open"; readonly job: OpenJob };

/** The job of this page's address: the server's log with what waits here folded on top. */
export function useJobAnswer(): JobAnswer {
  const id = useParams().jobId ?? "";
  const { data, error, refetch } = useJobQuery(id, { refetchOnMountOrArgChange: true });
  const waiting = useAppSelector((s) => s.outbox.waiting);
  const dispatch = useAppDispatch();
  return useMemo((): JobAnswer => {
    if (data === undefined) {
      if (error === undefined) return { kind: "loading" };
      return { kind: "failed", failure: failureOf(error), retry: () => void refetch() };
    }
    const known = new Set(data.events.map((e) => e.id));
    const here = waiting.filter((e) => e.jobId === id && !known.has(e.id));
    const events: readonly LogEntry[] = [...data.events, ...here];
    const view = foldJob(events);
    if (view === undefined) return { kind: "loading" };
    return {
      kind: "open",
      job: {
        id,
        view,
        events,
        unsaved: new Set(here.map((e) => e.id)),
        simulated: data.simulated,
        bench: data.bench,
        record: (body) => dispatch(record(id, body)),
      },
    };
  }, [data, error, refetch, waiting, id, dispatch]);
}
