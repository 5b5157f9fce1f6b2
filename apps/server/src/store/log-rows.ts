import { isDeepStrictEqual } from "node:util";
import { jobEvent, type JobEvent, type LogEntry } from "@rheonom/core/job";
import type { events } from "./schema.ts";

/** A row of the log as it is read. Times are texts as the database writes them. */
export type EventRow = Pick<typeof events.$inferSelect, "id" | "jobId" | "position" | "type" | "at" | "by" | "data"> & {
  readonly receivedAt: string | Date;
};

export const rowOf = (e: JobEvent, position: number): Omit<EventRow, "receivedAt"> => ({
  id: e.id,
  jobId: e.jobId,
  position,
  type: e.type,
  at: e.at,
  by: e.by,
  data: e.data,
});

/** Longest text of an unreadable row that is passed on, characters. */
const MOST_RAW = 4000;

/** A row as the entry that it is. Rows were checked when they came in; one that an older version, a bug or a hand has written may still be anything. */
export function entryOf(row: EventRow): LogEntry {
  const time = Date.parse(row.at);
  const at = Number.isNaN(time) ? row.at : new Date(time).toISOString();
  const read = jobEvent.safeParse({ id: row.id, jobId: row.jobId, type: row.type, at, by: row.by, data: row.data });
  if (read.success) return read.data;
  const issue = read.error.issues[0];
  return {
    type: "unreadable",
    id: row.id,
    jobId: row.jobId,
    // When it came in, where its own time is none.
    at: !Number.isNaN(time) && /^20\d\d-/.test(at) ? at : new Date(row.receivedAt).toISOString(),
    by: row.by.slice(0, 80),
    raw: JSON.stringify({ type: row.type, at: row.at, by: row.by, data: row.data }).slice(0, MOST_RAW),
    why: [issue?.path.join("."), issue?.message].filter(Boolean).join(": ").slice(0, 200),
  };
}

/** Whether a posted event is the one that is stored under its id: times are compared as moments. */
export function isSame(row: EventRow, posted: JobEvent): boolean {
  const stored = entryOf(row);
  if (stored.type === "unreadable") return false;
  return isDeepStrictEqual({ ...stored, at: "" }, { ...posted, at: "" }) && Date.parse(stored.at) === Date.parse(posted.at);
}
