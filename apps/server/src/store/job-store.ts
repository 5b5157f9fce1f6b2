import { isDeepStrictEqual } from "node:util";
import { asc, eq, inArray } from "drizzle-orm";
import type { Fault } from "@rheonom/core/circuit";
import { jobEvent, refusalOf, type JobEvent } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { hiddenTruth } from "@rheonom/contract/api";
import { AppError } from "../errors.ts";
import type { Database } from "./open.ts";
import { events, jobs } from "./schema.ts";

export interface StoredJob {
  readonly id: string;
  readonly demo: boolean;
  /** Faults that the stand-in vehicle obeys; undefined for a real job. */
  readonly hiddenTruth: readonly Fault[] | undefined;
  readonly events: readonly JobEvent[];
}

type Executor = Pick<Database, "select" | "insert">;

export interface JobStore {
  readonly list: () => Promise<StoredJob[]>;
  /** Throws AppError job-not-found. */
  readonly read: (id: string) => Promise<StoredJob>;
  /** Makes the job of a job-opened event. Doing it twice is the same as doing it once. */
  readonly open: (event: JobEvent, demo?: { readonly truth: readonly Fault[] }) => Promise<number>;
  /** Appends to a log, all or none; events that the log holds already are left alone. Returns how many were new. */
  readonly append: (jobId: string, list: readonly JobEvent[]) => Promise<number>;
}

const rowOf = (e: JobEvent): typeof events.$inferInsert => ({ id: e.id, jobId: e.jobId, type: e.type, at: e.at, by: e.by, data: e.data });

/** A row as the event it was. Rows were checked when they came in; a form that is no longer known fails loudly here. */
const eventOf = (row: typeof events.$inferSelect): JobEvent =>
  jobEvent.parse({ id: row.id, jobId: row.jobId, type: row.type, at: new Date(row.at).toISOString(), by: row.by, data: row.data });

const parse = (notation: string): ReturnType<typeof parseNotation>["harness"] => parseNotation(notation).harness;

export function createJobStore(db: Database): JobStore {
  async function logOf(tx: Executor, jobId: string): Promise<JobEvent[]> {
    return (await tx.select().from(events).where(eq(events.jobId, jobId)).orderBy(asc(events.seq))).map(eventOf);
  }

  /** Splits off what is stored already. Throws when an id stands for something else. */
  async function onlyNew(tx: Executor, list: readonly JobEvent[]): Promise<JobEvent[]> {
    const ids = list.map((e) => e.id);
    const known = new Map((await tx.select().from(events).where(inArray(events.id, ids))).map((row) => [row.id, eventOf(row)]));
    const seen = new Set<string>();
    return list.filter((e) => {
      const stored = known.get(e.id);
      if (stored !== undefined) {
        const same = { ...stored, at: "" };
        if (!isDeepStrictEqual(same, { ...jobEvent.parse(e), at: "" })) throw new AppError("event-id-reused", { id: e.id });
        return false;
      }
      if (seen.has(e.id)) return false;
      seen.add(e.id);
      return true;
    });
  }

  async function store(tx: Executor, log: readonly JobEvent[], fresh: readonly JobEvent[]): Promise<number> {
    const growing = [...log];
    for (const event of fresh) {
      const refusals = refusalOf(growing, event, parse);
      if (refusals.length > 0)
        throw new AppError(
          "event-refused",
          {},
          refusals.map((r) => ({ path: r.code, message: r.message })),
        );
      growing.push(event);
    }
    if (fresh.length > 0) await tx.insert(events).values(fresh.map(rowOf));
    return fresh.length;
  }

  return {
    async list() {
      const all = await db.select().from(jobs);
      const rows = await db.select().from(events).orderBy(asc(events.seq));
      const logs = new Map<string, JobEvent[]>(all.map((j) => [j.id, []]));
      for (const row of rows) logs.get(row.jobId)?.push(eventOf(row));
      return all.map((j) => ({ id: j.id, demo: j.demo, hiddenTruth: truthOf(j.hiddenTruth), events: logs.get(j.id) ?? [] }));
    },
    async read(id) {
      const [job] = await db.select().from(jobs).where(eq(jobs.id, id));
      if (job === undefined) throw new AppError("job-not-found", { id });
      return { id, demo: job.demo, hiddenTruth: truthOf(job.hiddenTruth), events: await logOf(db, id) };
    },
    open: (event, demo) =>
      db.transaction(async (tx) => {
        await tx
          .insert(jobs)
          .values({ id: event.jobId, demo: demo !== undefined, hiddenTruth: demo?.truth ?? null })
          .onConflictDoNothing();
        return store(tx, await logOf(tx, event.jobId), await onlyNew(tx, [event]));
      }),
    append: (jobId, list) =>
      db.transaction(async (tx) => {
        // The row lock makes the check of the log and the insert one step on a server with many clients.
        const [job] = await tx.select().from(jobs).where(eq(jobs.id, jobId)).for("update");
        if (job === undefined) throw new AppError("job-not-found", { id: jobId });
        for (const e of list) if (e.jobId !== jobId) throw new AppError("event-wrong-job", { id: e.id });
        return store(tx, await logOf(tx, jobId), await onlyNew(tx, list));
      }),
  };
}

function truthOf(column: unknown): readonly Fault[] | undefined {
  return column === null || column === undefined ? undefined : hiddenTruth.parse(column);
}
