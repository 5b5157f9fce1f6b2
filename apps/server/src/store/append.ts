import { createHash } from "node:crypto";
import { setImmediate as turn } from "node:timers/promises";
import { and, inArray, isNull, sql } from "drizzle-orm";
import {
  advanceDigest,
  closingBlockers,
  foldJob,
  linkText,
  refusalOf,
  type ClosingBlocker,
  type EntryPlace,
  type JobDigest,
  type JobEvent,
  type LogEntry,
} from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { AppError } from "../errors.ts";
import { columnsOf, readDigest } from "./digest-columns.ts";
import type { Hidden } from "./job-store.ts";
import { isSame, rowOf, type EventRow } from "./log-rows.ts";
import { CHANNEL, diskFull, type Database, type Room } from "./open.ts";
import { jobs } from "./schema.ts";

/** One posting: its events are stored all or none. */
export interface Appending {
  readonly jobId: string;
  readonly events: readonly JobEvent[];
  /** Makes the job when it is not there. */
  readonly make: { readonly demo: boolean; readonly hidden: Hidden | undefined } | undefined;
  /** It happened already, in another shop: closing is not judged again. */
  readonly isHistory?: boolean;
}

interface Waiting extends Appending {
  readonly done: (stored: number) => void;
  readonly failed: (error: unknown) => void;
}

type NewRow = ReturnType<typeof rowOf> & { readonly hash: string };
export type Transaction = Parameters<Parameters<Database["transaction"]>[0]>[0];
interface Logs {
  readonly log: (tx: Transaction, jobId: string) => Promise<readonly { readonly entry: LogEntry }[]>;
  /** The digest made anew from the log. */
  readonly refold: (tx: Transaction, jobId: string) => Promise<JobDigest | undefined>;
}

const sha256 = (text: string): string => createHash("sha256").update(text, "utf8").digest("hex");

/** Postings and events of one transaction at most. */
const MOST_POSTINGS = 16;
const MOST_EVENTS = 1000;

/**
 * Appends postings. What comes in while a transaction is on its way to the disk goes into the next one together (group commit): each posting is still judged by itself,
 * and is acknowledged only when all of its transaction is on the disk. The cost is that of the events appended, whatever the length of the logs; only closing a job reads
 * its log. Rejects with AppError.
 */
export function createAppender(db: Database, room: (() => Room) | undefined, logs: Logs): (a: Appending) => Promise<number> {
  const waiting: Waiting[] = [];
  let busy = false;

  async function work(): Promise<void> {
    if (busy) return;
    busy = true;
    while (waiting.length > 0) {
      // The embedded database answers without ever letting the thread turn to what has come in meanwhile.
      await turn();
      const batch = takeBatch(waiting);
      const space = room?.();
      if (space !== undefined && space.free < space.needed) {
        for (const one of batch) one.failed(diskFull(space));
        continue;
      }
      try {
        settle(batch, await transact(db, logs, batch));
      } catch (error) {
        // What one of them made the database refuse must not fail the others.
        if (batch.length === 1) batch[0]!.failed(error);
        else for (const one of batch) await transact(db, logs, [one]).then((o) => settle([one], o), one.failed);
      }
    }
    busy = false;
  }

  return (a) =>
    new Promise((done, failed) => {
      waiting.push({ ...a, done, failed });
      void work();
    });
}

function takeBatch(waiting: Waiting[]): Waiting[] {
  let count = 0;
  let sum = 0;
  while (count < waiting.length && count < MOST_POSTINGS) {
    sum += waiting[count]!.events.length;
    if (count > 0 && sum > MOST_EVENTS) break;
    count++;
  }
  return waiting.splice(0, count);
}

type Outcome = { readonly stored: number } | { readonly error: AppError };

function settle(batch: readonly Waiting[], outcomes: readonly Outcome[]): void {
  batch.forEach((one, i) => {
    const outcome = outcomes[i]!;
    if ("stored" in outcome) one.done(outcome.stored);
    else one.failed(outcome.error);
  });
}

/** What is known of the jobs and events of a batch, and grows as its postings are taken in. */
interface Book {
  /** Undefined: a job without entries. */
  readonly digests: Map<string, JobDigest | undefined>;
  readonly rows: ReadonlyMap<string, EventRow>;
  readonly places: Map<string, EntryPlace & { readonly jobId: string }>;
  readonly fresh: Map<string, JobEvent>;
}

/** Judges and stores a batch in one transaction. Returns what became of each posting, in their order. */
async function transact(db: Database, logs: Logs, batch: readonly Appending[]): Promise<Outcome[]> {
  return db.transaction(async (tx) => {
    const book = await openBook(tx, logs, batch);
    const outcomes: Outcome[] = [];
    const rows: NewRow[] = [];
    const touched = new Set<string>();
    for (const posting of batch) {
      try {
        const taken = await takeIn(tx, logs, book, posting, rows);
        if (taken > 0) touched.add(posting.jobId);
        outcomes.push({ stored: taken });
      } catch (error) {
        if (!(error instanceof AppError)) throw error;
        outcomes.push({ error });
      }
    }
    const empty = batch.filter((p) => p.make !== undefined && book.digests.get(p.jobId) === undefined).map((p) => p.jobId);
    // A job whose opening was refused is none.
    if (empty.length > 0) await tx.delete(jobs).where(and(inArray(jobs.id, empty), isNull(jobs.digest)));
    if (rows.length > 0) await write(tx, rows, new Map([...touched].map((id) => [id, book.digests.get(id)!])));
    return outcomes;
  });
}

/**
 * New rows of the logs, what they make of their jobs, and the word of it to all who listen. A function of the database, like `log_book`: its plan is kept, and planning is most of
 * what a short statement costs.
 */
async function write(tx: Transaction, rows: readonly NewRow[], digests: ReadonlyMap<string, JobDigest>): Promise<void> {
  const changed = [...digests].map(([id, digest]) => ({ id, ...columnsOf(digest) }));
  const told = JSON.stringify([...digests].map(([id, digest]) => [id, digest.entries]));
  await tx.execute(sql`select log_append(${JSON.stringify(rows)}::jsonb, ${JSON.stringify(changed)}::jsonb, ${CHANNEL}, ${told})`);
}

/** Faults alone as a list, with a world as an object. */
const keptAs = (hidden: Hidden | undefined): unknown =>
  hidden === undefined ? null : hidden.world === undefined ? hidden.truth : { faults: hidden.truth, world: hidden.world };

async function openBook(tx: Transaction, logs: Logs, batch: readonly Appending[]): Promise<Book> {
  const made = batch.flatMap((p) => (p.make === undefined ? [] : [{ id: p.jobId, demo: p.make.demo, hiddenTruth: keptAs(p.make.hidden) }]));
  const unique = [...new Map(made.map((job) => [job.id, job])).values()];
  if (unique.length > 0) await tx.insert(jobs).values(unique).onConflictDoNothing();
  const jobIds = [...new Set(batch.map((p) => p.jobId))];
  const posted = batch.flatMap((p) => p.events);
  const ids = [...posted.map((e) => e.id), ...posted.flatMap((e) => (e.type === "struck" ? [e.data.target] : []))];
  const found = await tx.execute(sql`select * from log_book(${setOf(jobIds)}::uuid[], ${setOf(ids)}::uuid[])`);
  const digests = new Map<string, JobDigest | undefined>();
  const rows = new Map<string, EventRow>();
  for (const { kind, item } of (found as unknown as { readonly rows: readonly Found[] }).rows) {
    if (kind === "event") rows.set(item.id, item);
    else {
      const digest = readDigest(item);
      digests.set(item.id, digest === "stale" ? await logs.refold(tx, item.id) : digest);
    }
  }
  return {
    digests,
    rows,
    places: new Map([...rows.values()].map((row) => [row.id, { type: row.type, position: row.position, jobId: row.jobId }])),
    fresh: new Map(),
  };
}

type Found =
  | { readonly kind: "job"; readonly item: { readonly id: string; readonly digest: unknown; readonly digestVersion: number } }
  | { readonly kind: "event"; readonly item: EventRow };

/** As the database writes an array of ids, which hold nothing that would need quoting. */
const setOf = (ids: readonly string[]): string => `{${ids.join(",")}}`;

/** Adds what is new of a posting to the book and to the rows. Throws AppError, and then nothing of it is in either. */
async function takeIn(
  tx: Transaction,
  logs: Logs,
  book: Book,
  { jobId, events: list, isHistory = false }: Appending,
  rows: NewRow[],
): Promise<number> {
  if (!book.digests.has(jobId)) throw new AppError("job-not-found", { id: jobId });
  let digest = book.digests.get(jobId);
  const own = new Map<string, JobEvent>();
  const made: NewRow[] = [];
  const places = new Map<string, EntryPlace & { readonly jobId: string }>();
  const find = (id: string): EntryPlace | undefined => {
    const place = places.get(id) ?? book.places.get(id);
    return place?.jobId === jobId ? place : undefined;
  };
  for (const event of list) {
    if (event.jobId !== jobId) throw new AppError("event-wrong-job", { id: event.id });
    if (isKnown(book, own, event)) continue;
    const refusals = [
      ...refusalOf({ isEmpty: digest === undefined, isClosed: digest?.isClosed ?? false }, event),
      ...(event.type === "job-closed" && !isHistory && digest?.isClosed === false ? await blockersOf(tx, logs, book, own, event) : []),
    ];
    if (refusals.length > 0)
      throw new AppError(
        "event-refused",
        {},
        refusals.map((r) => ({ path: r.code, message: r.message })),
      );
    const position = digest?.entries ?? 0;
    const hash = sha256(linkText(digest?.hash ?? "", jobId, event));
    digest = { ...advanceDigest(digest, event, position, find), hash };
    own.set(event.id, event);
    places.set(event.id, { type: event.type, position, jobId });
    made.push({ ...rowOf(event, position), hash });
  }
  book.digests.set(jobId, digest);
  for (const [id, event] of own) book.fresh.set(id, event);
  for (const [id, place] of places) book.places.set(id, place);
  rows.push(...made);
  return made.length;
}

/** Whether the log or this batch holds the event already. Throws AppError when its id stands for something else. */
function isKnown(book: Book, own: ReadonlyMap<string, JobEvent>, event: JobEvent): boolean {
  const row = book.rows.get(event.id);
  const earlier = own.get(event.id) ?? book.fresh.get(event.id);
  if (row === undefined && earlier === undefined) return false;
  const same = row === undefined ? isSame(rowAsStored(earlier!), event) : isSame(row, event);
  if (!same) throw new AppError("event-id-reused", { id: event.id });
  return true;
}

const rowAsStored = (e: JobEvent): EventRow => ({ ...rowOf(e, 0), receivedAt: e.at });

/** What stands against closing: the only question that needs the whole log. */
async function blockersOf(
  tx: Transaction,
  logs: Logs,
  book: Book,
  own: ReadonlyMap<string, JobEvent>,
  event: Extract<JobEvent, { type: "job-closed" }>,
): Promise<ClosingBlocker[]> {
  const stored = (await logs.log(tx, event.jobId)).map((p) => p.entry);
  const pending = [...book.fresh.values(), ...own.values()].filter((e) => e.jobId === event.jobId);
  const view = foldJob([...stored, ...pending]);
  if (view === undefined) return [];
  return closingBlockers(view, view.circuit === undefined ? undefined : parseNotation(view.circuit.notation).harness, event.data);
}
