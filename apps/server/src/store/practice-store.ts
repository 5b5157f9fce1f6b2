import { and, desc, eq, ne, sql } from "drizzle-orm";
import { practiceResult, type PracticeClass, type PracticeResult } from "@rheonom/contract/practice";
import type { OpenStore } from "./open.ts";
import { events, jobs, practiceResults } from "./schema.ts";

export interface PracticeStore {
  /** Keeps what a job came to, the first time that it is asked; gives what is kept. */
  readonly keep: (result: PracticeResult) => Promise<PracticeResult>;
  /** Of one person, oldest first; at most the latest so many. */
  readonly of: (by: string) => Promise<PracticeResult[]>;
  /** Of all, latest first; at most so many. */
  readonly all: () => Promise<PracticeResult[]>;
  /** Open jobs that were made to practise on, those that were worked on last first. */
  readonly open: () => Promise<PracticeClass["open"]>;
}

/** Open jobs of a class that are listed. */
const MOST_OPEN = 100;
/** Results of a person that are looked at. */
const MOST_RESULTS = 500;

export function createPracticeStore({ db }: Pick<OpenStore, "db">): PracticeStore {
  return {
    async keep(result) {
      const { jobId, by, at } = result;
      await db.insert(practiceResults).values({ jobId, by, at, item: result }).onConflictDoNothing();
      const [row] = await db.select({ item: practiceResults.item }).from(practiceResults).where(eq(practiceResults.jobId, jobId));
      return practiceResult.parse(row!.item);
    },
    async all() {
      const rows = await db
        .select({ item: practiceResults.item })
        .from(practiceResults)
        .orderBy(desc(practiceResults.at), desc(practiceResults.jobId))
        .limit(MOST_RESULTS);
      return rows.map((r) => practiceResult.parse(r.item));
    },
    async open() {
      const rows = await db
        .select({
          jobId: jobs.id,
          vehicle: jobs.vehicle,
          words: jobs.words,
          // Who made the last entry may be whoever teaches.
          by: sql<string>`coalesce(nullif(${jobs.digest} -> 'plan' ->> 'whose', ''), ${jobs.openedBy})`,
          stage: jobs.stage,
          lastAt: jobs.lastAt,
          next: sql<string>`coalesce(${jobs.bench} ->> 'next', '')`,
          until: sql<string>`coalesce(${jobs.digest} -> 'plan' ->> 'until', '')`,
          // Named in full: within another query columns come without their table.
          isStopped: sql<boolean>`coalesce((select e.data ->> 'running' = 'false' from ${events} e where e.job_id = ${jobs}.id and e.type = 'clock-turned' order by e.position desc limit 1), false)`,
        })
        .from(jobs)
        .where(and(sql`${jobs.hiddenTruth}->'world' is not null`, ne(jobs.stage, "closed")))
        .orderBy(desc(jobs.lastAt))
        .limit(MOST_OPEN);
      return rows.map((r) => ({ ...r, lastAt: r.lastAt === null ? "" : new Date(r.lastAt).toISOString() }));
    },
    async of(by) {
      const rows = await db
        .select({ item: practiceResults.item })
        .from(practiceResults)
        .where(eq(practiceResults.by, by))
        .orderBy(desc(practiceResults.at), desc(practiceResults.jobId))
        .limit(MOST_RESULTS);
      return rows.map((r) => practiceResult.parse(r.item)).reverse();
    },
  };
}
