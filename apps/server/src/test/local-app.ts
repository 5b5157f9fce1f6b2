import type { Express } from "express";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { pino } from "pino";
import type { Heavy } from "../heavy/pool.ts";
import { TASKS } from "../heavy/tasks.ts";
import { createApp, type AppParts } from "../http/app.ts";
import { createMediaStore } from "../media/media-store.ts";
import { callsOf } from "../store/calls.ts";
import { openStore, type Database } from "../store/open.ts";
import type { Store } from "../store/store.ts";

export const ROOT = resolve(import.meta.dirname, "../../../..");
const NOW = new Date("2026-05-20T15:00:00Z");

/** The server's parts in the test's own thread, on a folder of its own. */
export interface LocalApp {
  readonly app: Express;
  readonly store: Store;
  readonly db: Database;
  readonly parts: AppParts;
  readonly folder: string;
  /** Closes the data and opens it again, as a restart does. */
  readonly reopen: () => Promise<LocalApp>;
  readonly end: () => Promise<void>;
}

/** The tasks without threads: they are what is tested, not the pool. */
export const localHeavy: Heavy = {
  run: (name, ...args) => (TASKS[name] as (...a: unknown[]) => Promise<never>)(...args),
  runWhile: (_, name, ...args) => (TASKS[name] as (...a: unknown[]) => Promise<never>)(...args),
  stop: () => Promise.resolve(),
};

export async function localApp(folder = mkdtempSync(join(tmpdir(), "rheonom-app-")), databaseUrl?: string): Promise<LocalApp> {
  const opened = await openStore({ dataFolder: folder, databaseUrl, startFresh: false, look: false, root: ROOT, who: "test" });
  const calls = callsOf(opened);
  await calls.refresh();
  const listeners = new Set<(jobId: string, entries: number) => void>();
  await opened.listen((payload) => {
    for (const [id, entries] of JSON.parse(payload) as [string, number][]) for (const told of listeners) told(id, entries);
  });
  const store: Store = {
    ...calls,
    mode: () => ({ mode: "writable", why: "" }),
    onChange: (told) => {
      listeners.add(told);
      return () => void listeners.delete(told);
    },
  };
  const door = { openToNetwork: false, names: [] };
  const media = createMediaStore(join(folder, "media"), () => "");
  const parts: AppParts = {
    store,
    heavy: localHeavy,
    media,
    door,
    root: ROOT,
    version: "test",
    log: pino({ level: "silent" }),
    now: () => NOW,
  };
  return {
    app: createApp(parts),
    store,
    db: opened.db,
    parts,
    folder,
    reopen: async () => {
      await store.close();
      return localApp(folder, databaseUrl);
    },
    end: async () => {
      await store.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
