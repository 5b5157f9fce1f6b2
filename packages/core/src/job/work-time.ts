import type { LogEntry } from "./entry.ts";

/** Two entries so far apart are not of one spell of work, minutes. */
const LONGEST_GAP_MIN = 20;

/** Minutes that were worked on a job as far as its log tells: the time between entries that are near each other. */
export function minutesInLog(entries: readonly LogEntry[]): number {
  const times = entries.map((e) => Date.parse(e.at)).sort((p, q) => p - q);
  let ms = 0;
  for (let i = 1; i < times.length; i++) {
    const gap = times[i]! - times[i - 1]!;
    if (gap <= LONGEST_GAP_MIN * 60_000) ms += gap;
  }
  return Math.round(ms / 60_000);
}
