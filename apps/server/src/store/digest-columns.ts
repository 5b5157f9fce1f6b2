import {
  caseFeatures,
  caseTokens,
  DIGEST_VERSION,
  jobDigest,
  openHours,
  stageOfDigest,
  whoseOfDigest,
  type JobDigest,
} from "@rheonom/core/job";
import type { jobs } from "./schema.ts";

/** What the row of a job shows of its digest. */
export function columnsOf(d: JobDigest): Omit<typeof jobs.$inferInsert, "id"> {
  return {
    digest: d,
    digestVersion: DIGEST_VERSION,
    vehicle: d.vehicle,
    registration: d.registration,
    words: d.words,
    stage: stageOfDigest(d),
    openedBy: d.openedBy,
    openedAt: d.openedAt,
    lastAt: d.lastAt,
    leftUndone: d.tray.length,
    whose: whoseOfDigest(d),
    hoursOpen: openHours(d),
    caseText: caseText(d),
    search: [d.vehicle, d.registration, d.words, d.openedBy, whoseOfDigest(d)].join(" ").toLowerCase(),
  };
}

/** What a closed job is found by later: what was complained of, read and found. One that ended without a repair tells nobody anything. */
function caseText(d: JobDigest): string {
  const mends = d.mends.filter((m) => !m.struck);
  if (!d.isClosed || mends.length === 0) return "";
  return [d.words, ...mends.flatMap((m) => [m.at, m.found]), ...caseTokens(caseFeatures(d))].join(" ");
}

/** The stored digest of a job; undefined when it is of another form, or nothing stands in the log. */
export function readDigest(row: { readonly digest: unknown; readonly digestVersion: number }): JobDigest | "stale" | undefined {
  if (row.digestVersion !== DIGEST_VERSION) return "stale";
  if (row.digest === null) return undefined;
  const read = jobDigest.safeParse(row.digest);
  return read.success ? read.data : "stale";
}
