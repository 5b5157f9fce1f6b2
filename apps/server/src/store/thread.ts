import { parentPort, workerData } from "node:worker_threads";
import type { StoreConfig } from "../config.ts";
import { AppError } from "../errors.ts";
import { callsOf } from "./calls.ts";
import { openStore, prepareFolder, type WriteAheadLog } from "./open.ts";
import { packError, WRITING, type Call, type Calls, type Reply } from "./rpc.ts";
import { failureOfStart, type StartFailure } from "./start-failure.ts";

/** What the thread says besides replies. */
export type Said =
  | { readonly kind: "ready" }
  | { readonly kind: "not started"; readonly failure: StartFailure }
  | { readonly kind: "changed"; readonly payload: string }
  /** The database has given up; the thread ends after it. */
  | { readonly kind: "lost"; readonly why: string };

/** What a thread is started for. */
export interface ThreadData {
  readonly config: StoreConfig;
  /** To make the folder ready and end, or to serve the data: at once, or at the first message. */
  readonly task: "prepare" | "serve" | "serve when told";
}

/** Write-ahead log that may gather before it is worked into the tables, bytes; sooner when writing rests for so long, ms. */
const CHECKPOINT_BYTES = 12 * 2 ** 20;
const REST_MS = 1500;
/** Written since tables were tidied, bytes, before that is done again, and then only while writing rests. */
const TIDY_BYTES = 4 * 2 ** 20;
const LOOK_EVERY_MS = 1000;

async function main(): Promise<void> {
  const port = parentPort!;
  const say = (said: Said): void => port.postMessage(said);
  const { config, task } = workerData as ThreadData;
  const failed = (error: unknown): undefined => say({ kind: "not started", failure: failureOfStart(error) }) as undefined;
  if (task === "prepare") {
    await prepareFolder(config).then(() => say({ kind: "ready" }), failed);
    return;
  }
  // What is loaded is loaded while another thread makes the folder ready.
  await Promise.all([
    import("@electric-sql/pglite"),
    import("./embedded-files.ts"),
    import("drizzle-orm/pglite"),
    import("drizzle-orm/pglite/migrator"),
  ]);
  if (task === "serve when told") await new Promise((done) => port.once("message", done));
  const opened = await openStore(config).catch(failed);
  if (opened === undefined) return;
  const calls = callsOf(opened);
  await calls.refresh();
  await opened.listen((payload) => say({ kind: "changed", payload }));
  let writtenAt = 0;
  port.on("message", (call: Call) => {
    const run = (calls as unknown as Calls)[call.name];
    if (run === undefined) return;
    if (WRITING.has(call.name)) writtenAt = Date.now();
    Promise.resolve(run(...(call.args as never[])))
      .then((value) => answer({ n: call.n, kind: "done", value }))
      .catch((error: unknown) => {
        answer({ n: call.n, kind: "failed", failed: packError(asRefusal(error)) });
        if (opened.wal !== undefined) endIfLost(error);
      });
  });
  const answer = (reply: Reply): void =>
    port.postMessage(reply, "value" in reply && reply.value instanceof Uint8Array ? [reply.value.buffer as ArrayBuffer] : []);
  function endIfLost(error: unknown): void {
    const why = fatalReason(error);
    if (why === undefined) return;
    say({ kind: "lost", why });
    // What is left of the database in this thread can no longer be trusted.
    setTimeout(() => process.exit(1), 50);
  }
  if (opened.wal !== undefined) lookAfter(opened.wal, () => writtenAt, endIfLost);
  say({ kind: "ready" });
}

/**
 * Works the write-ahead log into the tables while nobody writes, or when much of it has gathered. The embedded database has no process of its own for that; what is not worked
 * in is read again at the next start, and takes room until then.
 */
function lookAfter(wal: WriteAheadLog, writtenAt: () => number, failed: (error: unknown) => void): void {
  let workedIn = -1;
  let untidy = 0;
  let busy = false;
  const look = async (): Promise<void> => {
    const bytes = await wal.bytes();
    if (workedIn < 0) workedIn = bytes;
    const gathered = bytes - workedIn;
    const rests = Date.now() - writtenAt() >= REST_MS;
    if (gathered < CHECKPOINT_BYTES && (gathered < 4096 || !rests)) return;
    untidy += gathered;
    if (rests && untidy > TIDY_BYTES) {
      await wal.tidy();
      untidy = 0;
    }
    await wal.checkpoint();
    workedIn = await wal.bytes();
  };
  setInterval(() => {
    if (busy || writtenAt() === 0) return;
    busy = true;
    look()
      .catch(failed)
      .finally(() => (busy = false));
  }, LOOK_EVERY_MS).unref();
}

interface DatabaseError {
  readonly code?: unknown;
  readonly severity?: unknown;
  readonly cause?: unknown;
  readonly name?: unknown;
}

/** What the database said, below what the driver wrapped it in. */
const innermost = (error: unknown): DatabaseError =>
  typeof error === "object" && error !== null ? ("cause" in error && error.cause instanceof Error ? innermost(error.cause) : error) : {};

/** A full disk that shows only while writing is told like one that was seen before. */
function asRefusal(error: unknown): unknown {
  const { code } = innermost(error);
  return code === "53100" || code === "ENOSPC" ? new AppError("disk-full", { free: "0", needed: "32" }) : error;
}

/** The reason when the embedded database has ended itself: a panic, or its program stopped. Undefined for what fails a single question. */
function fatalReason(error: unknown): string | undefined {
  if (error instanceof AppError) return undefined;
  const inner = innermost(error);
  if (inner.severity === "PANIC" || inner.severity === "FATAL") return String((inner as Error).message);
  const name = String(inner.name);
  if (name === "RuntimeError" || name === "ExitStatus") return `${name}: ${String((inner as Error).message).slice(0, 200)}`;
  return /PGlite is clos/.test(String((inner as Error).message)) ? String((inner as Error).message) : undefined;
}

void main();
