import type { JobLog } from "@rheonom/contract/api";
import type { JobEvent } from "@rheonom/core/job";

/** The log of a job as far as it is known here. */
export interface KnownLog extends JobLog {
  /** Entries at its beginning that stand in the server's order; those behind are this device's own, acknowledged since. */
  readonly confirmed: number;
}

/** The log with its end in the server's order behind what is confirmed; what this device has sent and the end does not hold yet stays last. */
export function mergeTail(log: KnownLog, tail: Pick<KnownLog, "events" | "next">): KnownLog {
  const confirmed = log.events.slice(0, log.confirmed);
  const before = new Set(confirmed.map((e) => e.id));
  const later = tail.events.filter((e) => !before.has(e.id));
  const known = new Set(later.map((e) => e.id));
  const own = log.events.slice(log.confirmed).filter((e) => !before.has(e.id) && !known.has(e.id));
  const order = [...confirmed, ...later];
  return { ...log, events: [...order, ...own], confirmed: order.length, next: Math.max(log.next, tail.next) };
}

/** The log with what the server has just acknowledged of this device's own. */
export function withOwn(log: KnownLog, events: readonly JobEvent[]): KnownLog {
  const known = new Set(log.events.map((e) => e.id));
  return { ...log, events: [...log.events, ...events.filter((e) => !known.has(e.id))] };
}
