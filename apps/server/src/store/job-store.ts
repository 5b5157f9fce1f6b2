import { setImmediate as breathe } from "node:timers/promises";
import { and, asc, desc, eq, gt, gte, inArray, isNotNull, isNull, lt, ne, sql } from "drizzle-orm";
import type { Fault } from "@rheonom/core/circuit";
import {
  advanceDigest,
  DIGEST_VERSION,
  uuidV7,
  withoutCustomer,
  type ChainedLog,
  type EntryPlace,
  type JobDigest,
  type JobEvent,
  type LogEntry,
} from "@rheonom/core/job";
import { benchKept, hiddenScenario, type BadEntry, type BenchKept, type JobLog, type PracticeWorld } from "@rheonom/contract/api";
import type { EarlierJobs } from "@rheonom/contract/light";
import type { JobDate, SimilarCases } from "@rheonom/contract/shop";
import { AppError } from "../errors.ts";
import { createSimilar } from "./similar.ts";
import { createAppender } from "./append.ts";
import { columnsOf } from "./digest-columns.ts";
import { createDates, createEarlier, createJobList, type JobLister } from "./job-list.ts";
import { entryOf } from "./log-rows.ts";
import type { OpenStore, Database } from "./open.ts";
import { events, jobs } from "./schema.ts";

/** A job for the simulated vehicle behind it. */
export interface JobWithTruth {
  readonly demo: boolean;
  /** Faults that the stand-in vehicle obeys; undefined for a real job. */
  readonly truth: readonly Fault[] | undefined;
  /** Of a job that was made to practise on. */
  readonly world: PracticeWorld | undefined;
  /** JSON of its JobLog. */
  readonly log: Uint8Array;
}

export interface JobStore {
  readonly list: JobLister;
  /** Jobs whose plate, fleet number or VIN begins so. */
  readonly earlier: (find: string) => Promise<EarlierJobs>;
  /** The closed jobs that are most like one. Throws AppError job-not-found. */
  readonly similar: (id: string) => Promise<SimilarCases>;
  /** Days on which somebody of the shop has something to do; those up to a day or minute where one is given. */
  readonly dates: (until?: string) => Promise<readonly JobDate[]>;
  /** Throws AppError job-not-found. */
  readonly withTruth: (id: string) => Promise<JobWithTruth>;
  /** The log from an entry on as the JSON of a JobLog, in UTF-8. Throws AppError job-not-found. */
  readonly log: (id: string, after: number) => Promise<Uint8Array>;
  /** All that was ever stored of a log, set aside or not, with its chain: JSON of a ChainedLog, in UTF-8. `now`: when that is. Throws AppError job-not-found. */
  readonly chained: (id: string, now: string) => Promise<Uint8Array>;
  /** Keeps what stands on the bench of a job in place of what stood there. Throws AppError job-not-found. */
  readonly keepBench: (id: string, bench: BenchKept) => Promise<void>;
  readonly exists: (id: string) => Promise<boolean>;
  /** Makes the job of a job-opened event. Doing it twice is the same as doing it once. Returns how many entries were new. */
  readonly open: (event: JobEvent, demo?: Hidden) => Promise<number>;
  /** Takes in a log of another shop, all of it or none; entries that stand here already are left alone. Returns how many were new. */
  readonly importLog: (jobId: string, list: readonly JobEvent[]) => Promise<number>;
  /** Appends to a log, all or none; events that the log holds already are left alone. Returns how many were new. It is on the disk when the promise resolves. */
  readonly append: (jobId: string, list: readonly JobEvent[]) => Promise<number>;
  /** Closed jobs whose last entry is older than a moment and that still say whose vehicle it was, with the pictures that only they have. */
  readonly oldCustomers: (before: string) => Promise<readonly OldJob[]>;
  /** Takes what tells whose vehicle it is out of the entries of jobs, and says so in their logs. Returns how many entries were changed. */
  readonly removeCustomers: (
    old: readonly OldJob[],
    said: { readonly by: string; readonly at: string; readonly months: number },
  ) => Promise<number>;
  /** Makes digests of an older form anew from their logs. Returns how many. */
  readonly refresh: () => Promise<number>;
  /** Entries that cannot be read, of all jobs. */
  readonly unreadable: () => Promise<BadEntry[]>;
  /** Sets entries aside: they stay in the database and leave their logs. Returns how many. */
  readonly quarantine: (ids: readonly string[], why: string) => Promise<number>;
}

type Executor = Pick<Database, "select" | "update">;

/** Rows that are read and checked at one go; others have their turn in between. */
const STRIDE = 500;

export function createJobStore({ db, room }: Pick<OpenStore, "db" | "room">): JobStore {
  const append = createAppender(db, room, { log: (tx, id) => logOf(tx, id), refold: (tx, id) => digestOf(tx, id) });
  return {
    list: createJobList(db),
    earlier: createEarlier(db),
    similar: createSimilar(db),
    dates: createDates(db),
    async withTruth(id) {
      const job = await headOf(db, id);
      return { demo: job.demo, ...hiddenOf(job.hiddenTruth), log: await logBytes(db, id, job, 0) };
    },
    async log(id, after) {
      return logBytes(db, id, await headOf(db, id), after);
    },
    async chained(id, now) {
      await headOf(db, id);
      const rows = await db.select().from(events).where(eq(events.jobId, id)).orderBy(asc(events.position));
      const log: ChainedLog = {
        format: "rheonom-log",
        version: 1,
        jobId: id,
        exportedAt: now,
        entries: rows.map(({ id: entry, type, at, by, data, hash, removedAt }) => ({
          id: entry,
          type,
          at: new Date(at).toISOString(),
          by,
          data,
          hash,
          ...(removedAt === null ? {} : { removed: new Date(removedAt).toISOString() }),
        })),
      };
      return new TextEncoder().encode(JSON.stringify(log));
    },
    async keepBench(id, bench) {
      const kept = await db.update(jobs).set({ bench }).where(eq(jobs.id, id)).returning({ id: jobs.id });
      if (kept.length === 0) throw new AppError("job-not-found", { id });
    },
    exists: async (id) => (await db.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, id))).length > 0,
    open: (event, demo) => append({ jobId: event.jobId, events: [event], make: { demo: demo !== undefined, hidden: demo } }),
    importLog: (jobId, list) => append({ jobId, events: list, make: { demo: false, hidden: undefined }, isHistory: true }),
    append: (jobId, list) => append({ jobId, events: list, make: undefined }),
    oldCustomers: (before) => oldCustomers(db, before),
    removeCustomers: async (old, { by, at, months }) => {
      let changed = 0;
      for (const { id, pictures } of old) {
        const entries = await takeOutCustomer(db, id, at);
        const data = { entries, pictures: pictures.length, months };
        const told = { id: eventId(), jobId: id, at, by, type: "customer-removed", data } as const;
        await append({ jobId: id, events: [told], make: undefined });
        changed += entries;
      }
      return changed;
    },
    refresh: () => refresh(db),
    unreadable: () => unreadable(db),
    async quarantine(ids, why) {
      const set = await db
        .update(events)
        .set({ quarantined: why })
        .where(and(inArray(events.id, [...ids]), isNull(events.quarantined)))
        .returning({ jobId: events.jobId });
      for (const jobId of new Set(set.map((row) => row.jobId))) await writeDigest(db, jobId, await digestOf(db, jobId));
      return set.length;
    },
  };
}

const eventId = (): string => uuidV7(Date.now(), crypto.getRandomValues(new Uint8Array(10)));

/** A job that is older than the shop keeps customers. */
export interface OldJob {
  readonly id: string;
  /** Names of its pictures that no younger job has. */
  readonly pictures: readonly string[];
}

async function oldCustomers(db: Database, before: string): Promise<readonly OldJob[]> {
  const found = await db
    .select({ id: jobs.id })
    .from(jobs)
    .where(and(eq(jobs.stage, "closed"), lt(jobs.lastAt, before), sql`coalesce(${jobs.digest} ->> 'customerRemoved', '') = ''`))
    .orderBy(asc(jobs.lastAt));
  const own = new Map(found.map(({ id }) => [id, new Set<string>()]));
  const others = new Set<string>();
  const hash = sql<string>`${events.data} ->> 'hash'`;
  for (const row of await db.select({ jobId: events.jobId, hash }).from(events).where(eq(events.type, "picture-kept")))
    (own.get(row.jobId) ?? others).add(row.hash);
  return [...own].map(([id, hashes]) => ({ id, pictures: [...hashes].filter((h) => !others.has(h)) }));
}

/** Changes the rows that tell of the customer, also those that were set aside or that nobody can read, and what the job's own row says. Returns how many rows have been changed, now or before. */
function takeOutCustomer(db: Database, jobId: string, at: string): Promise<number> {
  return db.transaction(async (tx) => {
    await tx.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, jobId)).for("update");
    const rows = await tx.select().from(events).where(eq(events.jobId, jobId)).orderBy(asc(events.position));
    for (const { id, data } of withoutCustomer(rows)) await tx.update(events).set({ data, removedAt: at }).where(eq(events.id, id));
    await writeDigest(tx, jobId, await digestOf(tx, jobId));
    const changed = await tx
      .select({ id: events.id })
      .from(events)
      .where(and(eq(events.jobId, jobId), isNotNull(events.removedAt)));
    return changed.length;
  });
}

interface Placed {
  readonly position: number;
  readonly entry: LogEntry;
}

/** The log of a job, from a place on, in its order. */
async function logOf(tx: Executor, jobId: string, after = 0): Promise<Placed[]> {
  const placed: Placed[] = [];
  let from = after;
  for (;;) {
    const rows = await tx
      .select()
      .from(events)
      .where(and(eq(events.jobId, jobId), gte(events.position, from), isNull(events.quarantined)))
      .orderBy(asc(events.position))
      .limit(STRIDE);
    for (const row of rows) placed.push({ position: row.position, entry: entryOf(row) });
    const last = rows.at(-1);
    if (rows.length < STRIDE || last === undefined) return placed;
    from = last.position + 1;
    await breathe();
  }
}

type Head = Pick<typeof jobs.$inferSelect, "demo" | "hiddenTruth" | "bench"> & { readonly hash: string | null };
async function headOf(tx: Executor, id: string): Promise<Head> {
  const hash = sql<string | null>`${jobs.digest}->>'hash'`;
  const [job] = await tx
    .select({ demo: jobs.demo, hiddenTruth: jobs.hiddenTruth, bench: jobs.bench, hash })
    .from(jobs)
    .where(eq(jobs.id, id));
  if (job === undefined) throw new AppError("job-not-found", { id });
  return job;
}

async function logBytes(tx: Executor, id: string, { hiddenTruth, bench, hash }: Head, after: number): Promise<Uint8Array> {
  const placed = await logOf(tx, id, after);
  const log: JobLog = {
    id,
    simulated: hiddenTruth !== null,
    events: placed.map((p) => p.entry),
    next: (placed.at(-1)?.position ?? after - 1) + 1,
    bench: benchKept.safeParse(bench).data ?? null,
    hash: hash ?? "",
  };
  return new TextEncoder().encode(JSON.stringify(log));
}

/** The digest of a job from its whole log; undefined when nothing stands in it. */
async function digestOf(tx: Executor, jobId: string): Promise<JobDigest | undefined> {
  const places = new Map<string, EntryPlace>();
  let digest: JobDigest | undefined;
  for (const { entry, position } of await logOf(tx, jobId)) {
    digest = advanceDigest(digest, entry, position, (id) => places.get(id));
    places.set(entry.id, { type: entry.type, position });
  }
  // The chain goes on from the entry that was stored last, set aside or not.
  const [last] = await tx.select({ hash: events.hash }).from(events).where(eq(events.jobId, jobId)).orderBy(desc(events.position)).limit(1);
  return digest === undefined ? undefined : { ...digest, hash: last?.hash ?? "" };
}

async function writeDigest(tx: Executor, jobId: string, digest: JobDigest | undefined): Promise<void> {
  await tx
    .update(jobs)
    .set(digest === undefined ? { digest: null, digestVersion: DIGEST_VERSION } : columnsOf(digest))
    .where(eq(jobs.id, jobId));
}

async function refresh(db: Database): Promise<number> {
  let made = 0;
  let last = "00000000-0000-0000-0000-000000000000";
  for (;;) {
    const old = await db
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(ne(jobs.digestVersion, DIGEST_VERSION), gt(jobs.id, last)))
      .orderBy(asc(jobs.id))
      .limit(STRIDE);
    const end = old.at(-1);
    if (end === undefined) return made;
    await db.transaction(async (tx) => {
      // The row lock keeps another server's posting from falling between reading the log and writing what it amounts to.
      for (const { id } of old) {
        await tx.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, id)).for("update");
        await writeDigest(tx, id, await digestOf(tx, id));
        made++;
      }
    });
    last = end.id;
  }
}

async function unreadable(db: Database): Promise<BadEntry[]> {
  const bad: BadEntry[] = [];
  let seq = 0;
  for (;;) {
    const rows = await db
      .select()
      .from(events)
      .where(and(gt(events.seq, seq), isNull(events.quarantined)))
      .orderBy(asc(events.seq))
      .limit(STRIDE);
    const last = rows.at(-1);
    if (last === undefined) return bad;
    for (const row of rows) {
      const entry = entryOf(row);
      if (entry.type === "unreadable") bad.push({ id: row.id, jobId: row.jobId, position: row.position, why: entry.why, raw: entry.raw });
    }
    seq = last.seq;
    await breathe();
  }
}

/** What is really wrong with a simulated vehicle, and in which world. */
export interface Hidden {
  readonly truth: readonly Fault[];
  readonly world?: PracticeWorld | undefined;
}

function hiddenOf(column: unknown): { readonly truth: readonly Fault[] | undefined; readonly world: PracticeWorld | undefined } {
  if (column === null || column === undefined) return { truth: undefined, world: undefined };
  const kept = hiddenScenario.parse(column);
  return "faults" in kept ? { truth: kept.faults, world: kept.world } : { truth: kept, world: undefined };
}
