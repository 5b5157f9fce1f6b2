import type { Report } from "./report.ts";

/** Stands where something of the customer was. */
export const REMOVED = "[removed]";

/** Shortest plate, VIN or name that is looked for in free words; shorter ones stand in too many. */
const LEAST = 3;

/** Matches a text however many blanks stand in it. */
const loosely = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&").replace(/\s+/g, "\\s*");

/** Takes those texts out of every text of a value: keys and structure stay. `mark`: what stands for one that was found. */
function without(told: readonly string[], mark: (found: string) => string): (value: unknown) => unknown {
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

/** An entry as it is stored: readable by this version or not. */
export interface StoredEntry {
  readonly id: string;
  readonly type: string;
  readonly data: unknown;
}

/** Fields that are the customer's, by the type of the entry. */
const OWN_FIELDS: Readonly<Record<string, readonly string[]>> = {
  "job-opened": ["registration", "vin"],
  "complaint-changed": ["registration", "vin"],
  "estimate-answered": ["who"],
};

/** What stands in the customer's own fields of an entry. */
function ownOf({ type, data }: StoredEntry): readonly (readonly [field: string, text: string])[] {
  const fields = new Map(Object.entries(data !== null && typeof data === "object" ? data : {}));
  return (OWN_FIELDS[type] ?? []).flatMap((field) => {
    const text: unknown = fields.get(field);
    return typeof text === "string" && text !== "" ? [[field, text] as const] : [];
  });
}

/** The entries that change when plate, VIN and whoever answered an estimate are taken out of a log, wherever they stand; the circuit is the vehicle's and stays. */
export function withoutCustomer(entries: readonly StoredEntry[]): readonly StoredEntry[] {
  // No text becomes longer, so that every entry keeps within the limits of its type.
  const clean = without(
    entries.flatMap((e) => ownOf(e).map(([, text]) => text)),
    (found) => (found.length >= REMOVED.length ? REMOVED : "…"),
  );
  return entries.flatMap((e) => {
    if (e.type === "circuit-set") return [];
    const cleaned = clean(e.data);
    const own = Object.fromEntries(ownOf(e).map(([field]) => [field, REMOVED]));
    const data = Object.keys(own).length === 0 ? cleaned : { ...(cleaned as object), ...own };
    return JSON.stringify(data) === JSON.stringify(e.data) ? [] : [{ id: e.id, type: e.type, data }];
  });
}

/**
 * A copy of a report without what tells whose vehicle it is: plate, VIN, and who answered an estimate, also where they stand in anybody's words. What was found, measured and repaired stays, and so do the
 * names of the workshop's own people.
 */
export function redacted(report: Report): Report {
  const { registration, vin } = report.complaint;
  const clean = without([registration, vin, report.estimate?.answer?.who ?? ""], () => REMOVED);
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
