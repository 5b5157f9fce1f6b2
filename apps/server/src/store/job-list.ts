import { and, asc, count, desc, eq, like, lte, ne, or, sql, type SQL } from "drizzle-orm";
import type { PgColumn } from "drizzle-orm/pg-core";
import { earlierJob, jobSummary, type EarlierJobs, type JobList, type JobQuery } from "@rheonom/contract/light";
import type { JobDate } from "@rheonom/contract/shop";
import { repairsOfDigest } from "@rheonom/core/job";
import { readDigest } from "./digest-columns.ts";
import type { Database } from "./open.ts";
import { jobs } from "./schema.ts";

export type JobLister = (query: JobQuery) => Promise<JobList>;

const SORTED: Record<JobQuery["sort"], PgColumn> = {
  vehicle: jobs.vehicle,
  words: jobs.words,
  stage: jobs.stage,
  leftUndone: jobs.leftUndone,
  whose: jobs.whose,
  lastAt: jobs.lastAt,
};

const iso = (at: string | null): string => (at === null ? "" : new Date(at).toISOString());

/** A page of the board, with counts of all that matches. */
export function createJobList(db: Database): JobLister {
  return async (query) => {
    const found = and(ne(jobs.stage, ""), ...wordsOf(query.search));
    const order = orderOf(query);
    // The ids of the page first: what is sorted is then some bytes a job, and the rest is read of fifty.
    const page = db
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(found, stageIs(query.stage), isOf(query.whose)))
      .orderBy(...order)
      .limit(query.limit)
      .offset(query.offset)
      .as("page");
    const rows = await db
      .select({
        id: jobs.id,
        vehicle: jobs.vehicle,
        registration: jobs.registration,
        words: jobs.words,
        stage: jobs.stage,
        openedAt: jobs.openedAt,
        lastAt: jobs.lastAt,
        openedBy: jobs.openedBy,
        leftUndone: jobs.leftUndone,
        whose: jobs.whose,
        waits: sql<string>`coalesce(${jobs.digest} -> 'plan' ->> 'waits', '')`,
        until: sql<string>`coalesce(${jobs.digest} -> 'plan' ->> 'until', '')`,
        promised: sql<string>`coalesce(${jobs.digest} -> 'plan' ->> 'promised', '')`,
        hours: sql<number | null>`(${jobs.digest} -> 'plan' ->> 'hours')::real`,
        hoursOpen: jobs.hoursOpen,
        askOn: sql<string>`coalesce(${jobs.digest} -> 'watch' ->> 'until', '')`,
        askAfter: sql<string>`coalesce(${jobs.digest} -> 'watch' ->> 'distance', '')`,
        // What was next before the latest entry is no more.
        next: sql<string>`case when ${jobs.bench} ->> 'entries' = ${jobs.digest} ->> 'entries' then coalesce(${jobs.bench} ->> 'next', '') else '' end`,
        demo: jobs.demo,
      })
      .from(jobs)
      .innerJoin(page, eq(jobs.id, page.id))
      .orderBy(...order);
    const stages = await db
      .select({ stage: jobs.stage, jobs: count() })
      .from(jobs)
      .where(and(found, isOf(query.whose)))
      .groupBy(jobs.stage);
    const people = await db
      .selectDistinct({ whose: jobs.whose })
      .from(jobs)
      .where(and(ne(jobs.stage, ""), ne(jobs.stage, "closed"), ne(jobs.whose, "")))
      .orderBy(asc(jobs.whose))
      .limit(MOST_PEOPLE);
    const counts = Object.fromEntries(stages.map((s) => [s.stage, Number(s.jobs)]));
    const all = Object.values(counts).reduce((sum, n) => sum + n, 0);
    const total = query.stage === "all" ? all : query.stage === "open" ? all - (counts.closed ?? 0) : (counts[query.stage] ?? 0);
    return {
      jobs: rows.map((row) => jobSummary.parse({ ...row, openedAt: iso(row.openedAt), lastAt: iso(row.lastAt) })),
      total,
      counts,
      people: people.map((p) => p.whose),
    };
  };
}

/** Jobs that are told of one plate at most. */
const MOST_EARLIER = 20;

/** Jobs whose plate, fleet number or VIN begins so, the latest first. */
export function createEarlier(db: Database): (find: string) => Promise<EarlierJobs> {
  return async (find) => {
    const begins = `${escaped(find.toLowerCase().replace(/\s+/g, ""))}%`;
    const rows = await db
      .select({ id: jobs.id, lastAt: jobs.lastAt, stage: jobs.stage, digest: jobs.digest, digestVersion: jobs.digestVersion })
      .from(jobs)
      .where(
        and(
          ne(jobs.stage, ""),
          or(
            like(sql`replace(lower(${jobs.registration}), ' ', '')`, begins),
            like(sql`replace(lower(${jobs.digest} ->> 'vin'), ' ', '')`, begins),
          ),
        ),
      )
      .orderBy(desc(jobs.lastAt), desc(jobs.id))
      .limit(MOST_EARLIER);
    return {
      jobs: rows.flatMap((row) => {
        const d = readDigest(row);
        if (d === undefined || d === "stale") return [];
        const { registration, vehicle, vin, words, wiring } = d;
        return [
          earlierJob.parse({
            jobId: row.id,
            registration,
            vehicle,
            vin,
            words,
            wiring,
            stage: row.stage,
            lastAt: iso(row.lastAt),
            repairs: repairsOfDigest(d),
          }),
        ];
      }),
    };
  };
}

/** Days that are told at most, the latest jobs first. */
const MOST_DATES = 1000;

/** Every day that a job waits for, as long as it is open, and every day on which somebody should ask whether a fault came back. */
export function createDates(db: Database): (until?: string) => Promise<readonly JobDate[]> {
  const plan = (field: "waits" | "until" | "promised") => sql<string>`coalesce(${jobs.digest} -> 'plan' ->> ${sql.raw(`'${field}'`)}, '')`;
  const watch = (field: "until" | "what") => sql<string>`coalesce(${jobs.digest} -> 'watch' ->> ${sql.raw(`'${field}'`)}, '')`;
  return async (until = "9") => {
    // A day comes before every minute of it, as text too.
    const isTold = (day: SQL<string>): SQL | undefined => and(ne(day, ""), lte(day, until));
    const rows = await db
      .select({
        jobId: jobs.id,
        vehicle: jobs.vehicle,
        registration: jobs.registration,
        whose: jobs.whose,
        stage: jobs.stage,
        waits: plan("waits"),
        waitsUntil: plan("until"),
        promised: plan("promised"),
        ask: watch("until"),
        what: watch("what"),
      })
      .from(jobs)
      .where(
        and(
          ne(jobs.stage, ""),
          or(and(ne(jobs.stage, "closed"), or(isTold(plan("until")), isTold(plan("promised")))), isTold(watch("until"))),
        ),
      )
      .orderBy(desc(jobs.lastAt), desc(jobs.id))
      .limit(MOST_DATES);
    const dates = rows.flatMap(({ stage, waits, waitsUntil, promised, ask, what, ...job }): JobDate[] => [
      ...(stage === "closed" ? [] : [{ ...job, on: waitsUntil, kind: "waits" as const, what: waits }]),
      ...(stage === "closed" ? [] : [{ ...job, on: promised, kind: "promised" as const, what: "" }]),
      { ...job, on: ask, kind: "ask" as const, what },
    ]);
    return dates.filter(({ on }) => on !== "" && on <= until);
  };
}

/** As the indexes stand, which are read from either end. */
function orderOf({ sort, order }: JobQuery): SQL[] {
  const column = SORTED[sort];
  if (sort === "lastAt")
    return order === "desc"
      ? [sql`${column} desc nulls last`, sql`${jobs.id} desc nulls last`]
      : [sql`${column} asc nulls first`, sql`${jobs.id} asc nulls first`];
  return order === "desc" ? [desc(column), desc(jobs.id)] : [asc(column), asc(jobs.id)];
}

function stageIs(stage: JobQuery["stage"]): SQL | undefined {
  if (stage === "all") return undefined;
  return stage === "open" ? ne(jobs.stage, "closed") : eq(jobs.stage, stage);
}

/** What the pattern would take for wild stands for itself. */
const escaped = (text: string): string => text.replace(/[\\%_]/g, "\\$&");

/** People that the board can be narrowed to. */
const MOST_PEOPLE = 60;
const isOf = (whose: string): SQL | undefined => (whose === "" ? undefined : eq(jobs.whose, whose));

/** Every word must occur. */
const wordsOf = (search: string): SQL[] =>
  search
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== "")
    .map((word) => like(jobs.search, `%${escaped(word)}%`));
