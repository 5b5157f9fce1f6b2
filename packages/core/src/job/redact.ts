import type { Report } from "./report.ts";

/** Stands where something of the customer was. */
export const REMOVED = "[removed]";

/** Shortest plate, VIN or name that is looked for in free words; shorter ones stand in too many. */
const LEAST = 3;

/** Matches a text however many blanks stand in it. */
const loosely = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&").replace(/\s+/g, "\\s*");

/**
 * A copy of a report without what tells whose vehicle it is: plate, VIN, and who answered an estimate, also where they stand in anybody's words. What was found, measured and repaired stays, and so do the
 * names of the workshop's own people.
 */
export function redacted(report: Report): Report {
  const { registration, vin } = report.complaint;
  const told = [registration, vin, report.estimate?.answer?.who ?? ""].map((t) => t.trim()).filter((t) => t.length >= LEAST);
  const pattern = told.length === 0 ? undefined : new RegExp(told.map(loosely).join("|"), "gi");
  const clean = (value: unknown): unknown => {
    if (typeof value === "string") return pattern === undefined ? value : value.replace(pattern, REMOVED);
    if (Array.isArray(value)) return value.map(clean);
    if (value === null || typeof value !== "object") return value;
    return Object.fromEntries(Object.entries(value).map(([key, v]) => [key, clean(v)]));
  };
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
