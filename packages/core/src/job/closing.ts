import type { Harness } from "../harness/index.ts";
import type { EventOf, JobEvent } from "./events.ts";
import { openTray, type JobView } from "./fold.ts";
import { neighboursLeft } from "./neighbours.ts";
import { buildProof } from "./proof.ts";

export interface ClosingBlocker {
  readonly code: "tray" | "proof" | "neighbours" | "closed" | "opened";
  readonly message: string;
}

/** What stands between a job and its end. Empty means that it may be closed. */
export function closingBlockers(view: JobView, harness: Harness | undefined, data: EventOf<"job-closed">["data"]): ClosingBlocker[] {
  const blockers: ClosingBlocker[] = openTray(view).map((item) => ({
    code: "tray",
    message: `${item.place} is still ${item.kind}. Put it back, or say why it stays in place.`,
  }));
  if (harness !== undefined)
    for (const { of, untold, nicked } of neighboursLeft(harness, view)) {
      if (untold.length > 0)
        blockers.push({
          code: "neighbours",
          message: `Beside ${of}: ${listed(untold)} not looked at. Say on Repair what they are like, or why they stay unseen.`,
        });
      if (nicked.length > 0)
        blockers.push({
          code: "neighbours",
          message: `${listed(nicked)} beside ${of} nicked and not repaired. Repair, or say what was done.`,
        });
    }
  if (data.withoutProof === "" && view.mends.some((m) => m.struck === undefined) && harness !== undefined) {
    const proof = buildProof(harness, view);
    if (proof.outcome === "open") {
      blockers.push({
        code: "proof",
        message:
          "What failed before the repair is not all repeated with a good result. Repeat it in the same state, or say why the job ends without it.",
      });
    }
  }
  return blockers;
}

/** The first few of a list, and how many more. */
const listed = (ids: readonly string[]): string => ids.slice(0, 6).join(", ") + (ids.length > 6 ? ` and ${ids.length - 6} more` : "");

/** What the rules about the next event need to know of a log. */
export interface LogEnd {
  readonly isEmpty: boolean;
  readonly isClosed: boolean;
}

/** What may follow on a closed job too. */
const ALWAYS: ReadonlySet<JobEvent["type"]> = new Set(["job-reopened", "note-added", "return-watched", "customer-removed"]);

/** Whether an event may follow a log; the reason when not. Closing has rules of its own besides (`closingBlockers`); all else about events is checked by their schema. */
export function refusalOf(log: LogEnd, event: JobEvent): ClosingBlocker[] {
  if (event.type === "job-opened")
    return log.isEmpty ? [] : [{ code: "opened", message: "This job is open already. Change the complaint instead." }];
  if (log.isEmpty) return [{ code: "opened", message: "A log begins with the opening of its job." }];
  if (!log.isClosed || ALWAYS.has(event.type)) return [];
  return [{ code: "closed", message: "This job is closed. Re-open it first; notes can still be added." }];
}
