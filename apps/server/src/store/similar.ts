import { and, eq, ne, sql } from "drizzle-orm";
import type { SimilarCases } from "@rheonom/contract/shop";
import { caseFeatures, caseSearchWords, caseTokens, LEAST_SCORE, likeness } from "@rheonom/core/job";
import { AppError } from "../errors.ts";
import { readDigest } from "./digest-columns.ts";
import type { Database } from "./open.ts";
import { jobs } from "./schema.ts";

/** Cases that are told of, and those that are looked at closely for them. */
const MOST_CASES = 3;
const MOST_CANDIDATES = 60;
/** Words of the complaint that are searched for at most. */
const MOST_WORDS = 16;

/** The closed jobs that are most like one: found by full text over parts, codes and words, then compared one by one. */
export function createSimilar(db: Database): (id: string) => Promise<SimilarCases> {
  return async (id) => {
    const [row] = await db.select({ digest: jobs.digest, digestVersion: jobs.digestVersion }).from(jobs).where(eq(jobs.id, id));
    if (row === undefined) throw new AppError("job-not-found", { id });
    const digest = readDigest(row);
    if (digest === undefined || digest === "stale") return { cases: [] };
    const own = caseFeatures(digest);
    const words = caseSearchWords(own).slice(0, MOST_WORDS);
    const tokens = caseTokens(own);
    if (words.length + tokens.length === 0) return { cases: [] };
    // Only letters and digits stand in either, so that neither can be anything but a word of the query.
    const oneOfThem = sql`to_tsquery('english', ${[...tokens, ...words].join(" | ")})`;
    // A word that half the shop's jobs hold says little; one that few hold is worth a look by itself.
    const found = await db
      .select({ id: jobs.id, lastAt: jobs.lastAt, digest: jobs.digest, digestVersion: jobs.digestVersion })
      .from(jobs)
      .where(and(ne(jobs.id, id), sql`${jobs.caseWords} @@ ${oneOfThem}`))
      .orderBy(sql`ts_rank(${jobs.caseWords}, ${oneOfThem}) desc`, sql`${jobs.lastAt} desc`)
      .limit(MOST_CANDIDATES);
    const cases = found.flatMap((candidate) => {
      const other = readDigest(candidate);
      if (other === undefined || other === "stale") return [];
      const { score, common } = likeness(own, caseFeatures(other));
      return score < LEAST_SCORE ? [] : [{ score, common, other, jobId: candidate.id, closedAt: candidate.lastAt }];
    });
    return {
      cases: cases
        .sort((p, q) => q.score - p.score)
        .slice(0, MOST_CASES)
        .map(({ common, other, jobId, closedAt }) => ({
          jobId,
          vehicle: other.vehicle,
          registration: other.registration,
          words: other.words,
          closedAt: closedAt === null ? "" : new Date(closedAt).toISOString(),
          repairs: other.mends.flatMap((m) => (m.struck ? [] : [{ words: m.words, found: m.found }])),
          places: other.mends.flatMap((m) => (m.struck ? [] : [m.at])),
          common: [...common],
          isSameWiring: own.wiring !== null && own.wiring.id === other.wiring?.id,
        })),
    };
  };
}
