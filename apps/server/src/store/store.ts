import { Worker } from "node:worker_threads";
import type { Logger } from "pino";
import type { StoreConfig } from "../config.ts";
import { AppError } from "../errors.ts";
import { inspectFolder } from "./folder-state.ts";
import { holdFolder, type Release } from "./hold-folder.ts";
import { checkPlace } from "./open.ts";
import { unpackError, WRITING, type Reply } from "./rpc.ts";
import { failureOfStart, StartError, type StartFailure } from "./start-failure.ts";
import { threadFile } from "./thread-file.ts";
import type { StoreCalls } from "./calls.ts";
import type { Said, ThreadData } from "./thread.ts";

/** Whether entries can be stored now, and why not. */
export interface DataMode {
  readonly mode: "writable" | "read-only" | "opening";
  readonly why: string;
}

/**
 * The shop's data. It lives in a thread of its own, so that no question to the database holds up anybody else's request. While the disk is full or the folder takes no files, a
 * copy in memory is looked at, and writing goes on by itself when that has passed; a database that gives up is opened again.
 */
export interface Store extends Omit<StoreCalls, "close"> {
  readonly mode: () => DataMode;
  /** Told the id of a job and the number of its entries whenever any process has changed it. Returns how to stop listening. */
  readonly onChange: (told: (jobId: string, entries: number) => void) => () => void;
  readonly close: () => Promise<void>;
}

type Changed = (jobId: string, entries: number) => void;

/** How often a folder that could not be written to is tried again, ms. */
const RETRY_MS = 3000;
/** Memory of the thread's own objects, MB; the database's own comes on top. */
const MOST_MB = 384;
/** How long closing may take, ms. */
const CLOSE_MS = 3000;

interface Thread {
  readonly worker: Worker;
  readonly call: (name: string, args: readonly unknown[]) => Promise<unknown>;
}

/** Opens the data. Throws StartError when it can be neither written to nor looked at. */
export async function startStore(config: StoreConfig, log: Logger): Promise<Store> {
  const listeners = new Set<Changed>();
  let thread: Thread | undefined;
  let mode: DataMode = { mode: "opening", why: "" };
  let closing = false;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let release: Release | undefined;

  /** Opens for writing. The hold on the folder belongs to this process, and outlives a thread that is lost. */
  async function openForWriting(startFresh: boolean): Promise<Thread> {
    const c = { ...config, startFresh };
    if (c.databaseUrl !== undefined) return spawn(c);
    checkPlace(c);
    release ??= await holdFolder(c.dataFolder, c.who).catch((error: unknown) => {
      throw new StartError(failureOfStart(error));
    });
    try {
      if (!startFresh && inspectFolder(c.dataFolder).kind === "sealed") return await spawn(c);
      // The thread that will serve loads its program while another one makes the folder ready.
      let waiting: Worker | undefined;
      const serving = spawn({ ...c, startFresh: false }, (worker) => (waiting = worker));
      try {
        const ready = await startThread({ config: c, task: "prepare" }, { changed: () => undefined, lost: () => undefined });
        await ready.worker.terminate();
      } catch (error) {
        serving.catch(() => undefined);
        await waiting?.terminate();
        throw error;
      }
      waiting?.postMessage("go");
      return await serving;
    } catch (error) {
      const failure = failureOfStart(error);
      release(failure.kind === "damaged");
      release = undefined;
      throw new StartError(failure);
    }
  }

  /** `held`: told the thread at once, which then waits for a message before it opens anything. */
  function spawn(c: StoreConfig, held?: (worker: Worker) => void): Promise<Thread> {
    return startThread(
      { config: c, task: held === undefined ? "serve" : "serve when told" },
      {
        changed: (payload) => {
          for (const [id, entries] of JSON.parse(payload) as [string, number][]) for (const told of listeners) told(id, entries);
        },
        lost: (gone, why) => {
          if (thread?.worker !== gone || closing) return;
          log.error({ why }, "the database has given up and is opened again");
          thread = undefined;
          mode = { mode: "opening", why: "" };
          void reopen();
        },
      },
      held,
    );
  }

  /** Opens for writing, or for looking where writing is not possible for a reason that may pass. Throws StartError. */
  async function open(first: boolean): Promise<void> {
    if (config.look) {
      thread = await spawn(config);
      mode = { mode: "read-only", why: "RHEONOM_LOOK is set, which opens a copy in memory." };
      return;
    }
    try {
      thread = await openForWriting(first && config.startFresh);
      mode = { mode: "writable", why: "" };
    } catch (error) {
      if (!(error instanceof StartError) || (error.kind !== "full" && error.kind !== "read-only")) throw error;
      // A look asks for a share of the hold, which this process may still have from before.
      release?.();
      release = undefined;
      thread = await spawn({ ...config, look: true, startFresh: false }).catch(() => {
        throw error;
      });
      mode = { mode: "read-only", why: error.message };
      retry = setTimeout(() => void tryAgain(), RETRY_MS);
    }
  }

  async function tryAgain(): Promise<void> {
    if (closing) return;
    try {
      const next = await openForWriting(false);
      const old = thread;
      thread = next;
      mode = { mode: "writable", why: "" };
      await old?.worker.terminate();
    } catch (error) {
      if (error instanceof StartError && mode.mode === "read-only") mode = { mode: "read-only", why: error.message };
      retry = setTimeout(() => void tryAgain(), RETRY_MS);
    }
  }

  async function reopen(): Promise<void> {
    while (!closing && thread === undefined) {
      try {
        await open(false);
      } catch (error) {
        log.error({ err: error }, "the database cannot be opened again");
        mode = { mode: "opening", why: error instanceof Error ? error.message : "" };
        await new Promise((done) => (retry = setTimeout(done, RETRY_MS)));
      }
    }
  }

  await open(true);

  const call = async (name: string, args: readonly unknown[]): Promise<unknown> => {
    if (mode.mode === "read-only" && WRITING.has(name)) throw new AppError("data-read-only", { why: mode.why });
    if (thread === undefined) throw new AppError("data-opening");
    return thread.call(name, args);
  };
  const own = {
    mode: () => mode,
    onChange: (told: Changed) => {
      listeners.add(told);
      return () => void listeners.delete(told);
    },
    close: async () => {
      closing = true;
      clearTimeout(retry);
      const last = thread;
      if (last === undefined) return;
      await Promise.race([last.call("close", []).catch(() => undefined), new Promise((done) => setTimeout(done, CLOSE_MS))]);
      await last.worker.terminate();
      release?.();
    },
  };
  // Everything else is asked of the thread by its name.
  return new Proxy(own, {
    get: (target, name) =>
      name in target ? target[name as keyof typeof own] : name === "then" ? undefined : (...args: unknown[]) => call(String(name), args),
  }) as unknown as Store;
}

interface ThreadEvents {
  readonly changed: (payload: string) => void;
  readonly lost: (worker: Worker, why: string) => void;
}

/** Starts the thread and waits until the data is open. Rejects with StartError. */
function startThread(data: ThreadData, events: ThreadEvents, began?: (worker: Worker) => void): Promise<Thread> {
  const worker = new Worker(threadFile(import.meta.url, "store-thread.mjs", "./thread.ts"), {
    workerData: data,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MB },
  });
  began?.(worker);
  const waiting = new Map<number, { readonly done: (value: unknown) => void; readonly failed: (error: Error) => void }>();
  let last = 0;
  let lostWhy = "";
  const call = (name: string, args: readonly unknown[]): Promise<unknown> =>
    new Promise((done, failed) => {
      const n = ++last;
      waiting.set(n, { done, failed });
      worker.postMessage({ n, name, args });
    });
  return new Promise((ready, notReady) => {
    const failStart = (failure: StartFailure): void => {
      notReady(new StartError(failure));
      void worker.terminate();
    };
    worker.on("message", (m: Said | Reply) => {
      switch (m.kind) {
        case "ready":
          return ready({ worker, call });
        case "not started":
          return failStart(m.failure);
        case "changed":
          return events.changed(m.payload);
        case "lost":
          lostWhy = m.why;
          return;
        case "done":
          waiting.get(m.n)?.done(m.value);
          break;
        case "failed":
          waiting.get(m.n)?.failed(unpackError(m.failed));
          break;
      }
      waiting.delete(m.n);
    });
    worker.on("error", (error) => (lostWhy = error instanceof Error ? error.message : String(error)));
    worker.on("exit", () => {
      // Whether what was asked got through is not known: who asked asks again, and an event posted twice is stored once.
      for (const one of waiting.values()) one.failed(new AppError("data-opening"));
      waiting.clear();
      notReady(new StartError({ kind: "other", message: `The database cannot be opened: ${lostWhy}` }));
      events.lost(worker, lostWhy);
    });
  });
}
