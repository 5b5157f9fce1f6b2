import type { Harness } from "../harness/index.ts";
import type { EventOf, JobEvent } from "./events.ts";
import { foldJob, openTray, type JobView } from "./fold.ts";
import { buildProof } from "./proof.ts";

export interface ClosingBlocker {
  readonly code: "tray" | "proof" | "closed" | "opened";
  readonly message: string;
}

/** What stands between a job and its end. Empty means that it may be closed. */
export function closingBlockers(view: JobView, harness: Harness | undefined, data: EventOf<"job-closed">["data"]): ClosingBlocker[] {
  const blockers: ClosingBlocker[] = openTray(view).map((item) => ({
    code: "tray",
    message: `${item.place} is still ${item.kind}. Undo it, or explain why it stays.`,
  }));
  if (data.withoutProof === "" && view.mends.some((m) => m.struck === undefined) && harness !== undefined) {
    const proof = buildProof(harness, view);
    if (proof.outcome === "open") {
      blockers.push({
        code: "proof",
        message:
          "The test that failed is not repeated with a good result. Repeat it in the same state, or say why the job ends without it.",
      });
    }
  }
  return blockers;
}

/** Whether an event may follow a log; the reason when not. Everything else about events is checked by their schema. */
export function refusalOf(log: readonly JobEvent[], event: JobEvent, parse: (notation: string) => Harness | undefined): ClosingBlocker[] {
  if (event.type === "job-opened" && log.length > 0)
    return [{ code: "opened", message: "This job is open already. Change the complaint instead." }];
  const view = foldJob(log);
  if (view === undefined || view.closed === undefined) {
    if (event.type !== "job-closed" || view === undefined) return [];
    return closingBlockers(view, view.circuit === undefined ? undefined : parse(view.circuit.notation), event.data);
  }
  if (event.type === "job-reopened" || event.type === "note-added") return [];
  return [{ code: "closed", message: "This job is closed. Re-open it first; notes can still be added." }];
}
