import { jobEvent, type JobEvent, type LogEntry } from "@rheonom/core/job";
import { newIds } from "./new-ids.ts";

/** What goes over into a job that is tried once more: how it was brought, and what was found and changed. */
const TAKEN: ReadonlySet<JobEvent["type"]> = new Set([
  "job-opened",
  "complaint-changed",
  "practice-begun",
  "circuit-set",
  "rules-chosen",
  "presence-told",
  "seen",
  "reading-taken",
  "wiggled",
  "codes-read",
  "codes-cleared",
  "temporary-made",
  "temporary-undone",
  "temporary-explained",
]);

/** A job as it stood before one of its entries, as a job of its own: without what was struck out, repaired or closed by then. */
export function beginningOf(entries: readonly LogEntry[], before: string, by: string, now: Date): readonly JobEvent[] {
  const end = entries.findIndex((e) => e.id === before);
  const log = entries.slice(0, end < 0 ? entries.length : end).filter((e): e is JobEvent & LogEntry => e.type !== "unreadable");
  const struck = new Set<string>(log.flatMap((e) => (e.type === "struck" ? [e.data.target] : [])));
  const ids = newIds(now);
  const renamed = new Map<string, string>();
  return log.flatMap((e) => {
    if (!TAKEN.has(e.type) || struck.has(e.id)) return [];
    // What is put back again is the copy.
    const target = "target" in e.data ? renamed.get(e.data.target) : undefined;
    if ("target" in e.data && target === undefined) return [];
    const next = ids.next();
    renamed.set(e.id, next.id);
    return [jobEvent.parse({ ...e, ...next, by, data: target === undefined ? e.data : { ...e.data, target } })];
  });
}
