import type { JobEvent } from "./events.ts";

/**
 * A row of the log that is no event that this version knows how to read: written by an older or newer one, by a bug, or by hand. It keeps its place and
 * its text, and changes nothing that the rest of the log says.
 */
export interface UnreadableEntry {
  readonly type: "unreadable";
  readonly id: string;
  readonly jobId: string;
  /** When it happened, or when it came in where that is not told. ISO 8601, UTC. */
  readonly at: string;
  readonly by: string;
  /** The whole row as text. */
  readonly raw: string;
  /** What is wrong with it, in words. */
  readonly why: string;
}

/** What stands in a log. Whoever posts can only post events. */
export type LogEntry = JobEvent | UnreadableEntry;
