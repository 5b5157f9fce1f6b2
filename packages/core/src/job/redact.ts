import type { JobEvent } from "./events.ts";
import { jobEvent } from "./events.ts";
import type { Report } from "./report.ts";

/** Stands where something of the customer was. */
export const REMOVED = "[removed]";

/** Shortest plate, VIN or name that is looked for in free words; shorter ones stand in too many. */
const LEAST = 3;

/** Matches a text however many blanks stand in it. */
const loosely = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&").replace(/\s+/g, "\\s*");

/** What stands for those texts in every text of a value: keys and structure stay. */
function without(told: readonly string[], mark: string): (value: unknown) => unknown {
  const looked = told.map((t) => t.trim()).filter((t) => t.length >= LEAST);
  const pattern = looked.length === 0 ? undefined : new RegExp(looked.map(loosely).join("|"), "gi");
  const clean = (value: unknown): unknown => {
    if (typeof value === "string") return pattern === undefined ? value : value.replace(pattern, mark);
    if (Array.isArray(value)) return value.map(clean);
    if (value === null || typeof value !== "object") return value;
    return Object.fromEntries(Object.entries(value).map(([key, v]) => [key, clean(v)]));
  };
  return clean;
}

/** Shorter than anything that is looked for, so that no text grows beyond its limit. */
const MARK = "…";

/** The events that change when plate, VIN and whoever answered an estimate are taken out of a log, wherever they stand; the circuit is the vehicle's and stays. */
export function withoutCustomer(events: readonly JobEvent[]): readonly JobEvent[] {
  const told = events.flatMap((e) => {
    if (e.type === "job-opened" || e.type === "complaint-changed") return [e.data.registration, e.data.vin];
    return e.type === "estimate-answered" ? [e.data.who] : [];
  });
  const [clean, cleanShort] = [without(told, REMOVED), without(told, MARK)];
  return events.flatMap((e) => {
    if (e.type === "circuit-set") return [];
    const own = ownFields(e);
    const made = [clean, cleanShort]
      .map((c) => jobEvent.safeParse({ ...e, data: { ...(c(e.data) as object), ...own } }))
      .find((r) => r.success);
    // Where it cannot be said in the form of its type it stays, which no known type comes to.
    if (made?.data === undefined) return [];
    return JSON.stringify(made.data.data) === JSON.stringify(e.data) ? [] : [made.data];
  });
}

/** Fields that are the customer's, however short what stands in them is. */
function ownFields(e: JobEvent): object {
  const gone = (text: string): string => (text === "" ? "" : REMOVED);
  if (e.type === "job-opened" || e.type === "complaint-changed") return { registration: gone(e.data.registration), vin: gone(e.data.vin) };
  return e.type === "estimate-answered" ? { who: REMOVED } : {};
}

/**
 * A copy of a report without what tells whose vehicle it is: plate, VIN, and who answered an estimate, also where they stand in anybody's words. What was found, measured and repaired stays, and so do the
 * names of the workshop's own people.
 */
export function redacted(report: Report): Report {
  const { registration, vin } = report.complaint;
  const clean = without([registration, vin, report.estimate?.answer?.who ?? ""], REMOVED);
  // The circuit is the vehicle's, not the customer's, and ids must stay what they are.
  const { circuit, job, ...rest } = report;
  const copy = clean(rest) as Omit<Report, "circuit" | "job">;
  const { estimate } = copy;
  return {
    ...copy,
    circuit,
    job,
    pictures: [],
    picturesLeftOut: report.pictures.length,
    complaint: { ...copy.complaint, registration: registration === "" ? "" : REMOVED, vin: vin === "" ? "" : REMOVED },
    estimate: estimate === null || estimate.answer === null ? estimate : { ...estimate, answer: { ...estimate.answer, who: REMOVED } },
  };
}
