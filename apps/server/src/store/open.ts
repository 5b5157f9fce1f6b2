import fs from "node:fs";
import { join } from "node:path";
import type { PGlite } from "@electric-sql/pglite";
import type { PgDatabase, PgQueryResultHKT } from "drizzle-orm/pg-core";
import type { StoreConfig } from "../config.ts";
import { AppError } from "../errors.ts";
import { bytesOf, breakSeal, freeBytes, inspectFolder, sealFolder, unwritable } from "./folder-state.ts";
import { shareFolder } from "./hold-folder.ts";
import * as schema from "./schema.ts";
import { damagedWords, StartError } from "./start-failure.ts";

export type Database = PgDatabase<PgQueryResultHKT, typeof schema>;

export interface OpenStore {
  readonly db: Database;
  /** Asked before every write; undefined on a server, which looks after its own disk. */
  readonly room: (() => Room) | undefined;
  /** Told the payload whenever any process has changed a job. */
  readonly listen: (told: (payload: string) => void) => Promise<void>;
  /** The write-ahead log of a database that has no process of its own to look after it; undefined on a server, and for a copy in memory. */
  readonly wal: WriteAheadLog | undefined;
  readonly close: () => Promise<void>;
}

export interface WriteAheadLog {
  /** Bytes written to it since the database was made. */
  readonly bytes: () => Promise<number>;
  /** Works it into the tables, on the disk. */
  readonly checkpoint: () => Promise<void>;
  /** Gives the room of rows that were written over back to the tables, and counts what stands in them for the plans of questions. */
  readonly tidy: () => Promise<void>;
}

/** Whether there is room to write: bytes free and needed. */
export interface Room {
  readonly free: number;
  readonly needed: number;
}

/** Any number will do, as long as all servers of one database use the same. */
const MIGRATION_LOCK = 7_219_001;
/** What a posting may need at once: a new segment of the write-ahead log, and pages of tables. */
export const ROOM_BYTES = 32 * 2 ** 20;
/** A new database, with its first segments. */
const FRESH_BYTES = 96 * 2 ** 20;
/** Folders beyond this are not tried out in memory first. */
const MOST_TRIED_BYTES = 512 * 2 ** 20;
export const CHANNEL = "rheonom_jobs";

/** Opens the database and applies the migrations: PGlite in the data folder, which must be held and made ready (`prepareFolder`), or the PostgreSQL server of DATABASE_URL. Throws StartError. */
export async function openStore(config: StoreConfig): Promise<OpenStore> {
  const migrationsFolder = join(config.root, "apps/server/drizzle");
  if (config.databaseUrl !== undefined) return openServer(config.databaseUrl, migrationsFolder);
  return config.look ? openCopy(config, migrationsFolder) : openFolder(config, migrationsFolder);
}

/** Whether the data folder can be written to at all, told without touching what is in it. Throws StartError. */
export function checkPlace({ dataFolder, startFresh }: StoreConfig): void {
  const locked = fs.existsSync(dataFolder) ? unwritable(dataFolder) : undefined;
  const free = freeBytes(existing(dataFolder));
  const needed = startFresh || !fs.existsSync(join(dataFolder, "pg")) ? FRESH_BYTES : ROOM_BYTES;
  if (locked === undefined && free < needed) throw new StartError({ kind: "full", message: fullWords(dataFolder, { free, needed }) });
  if (locked !== undefined)
    throw new StartError({
      kind: "read-only",
      message: `The data folder ${dataFolder} cannot be written to (${locked}). Make it writable for this user, or set RHEONOM_DATA to another folder.`,
    });
}

/**
 * Makes a held folder ready to be opened: tries out one that was not left in order on a copy in memory, and makes the database of an empty one. Takes several hundred MB while it
 * runs; in a thread of its own they are given back. Throws StartError.
 */
export async function prepareFolder({ dataFolder, startFresh, root }: StoreConfig): Promise<void> {
  const folder = join(dataFolder, "pg");
  if (startFresh) {
    fs.rmSync(folder, { recursive: true, force: true });
    breakSeal(dataFolder);
  }
  const state = inspectFolder(dataFolder);
  switch (state.kind) {
    case "unusable":
      throw new StartError({ kind: "damaged", message: damagedWords(dataFolder, state.why) });
    case "unsealed":
      if (bytesOf(folder) <= MOST_TRIED_BYTES) await tryOut(dataFolder, folder, join(root, "apps/server/drizzle"));
      return;
    case "empty":
      return makeDatabase(folder);
    case "sealed":
      return;
  }
}

/** Makes a database beside its place, brings it to the disk and moves it there: one that was begun and not finished is never taken for one. */
async function makeDatabase(folder: string): Promise<void> {
  const { DurableFiles, DURABLE_START, syncFolder, syncTree } = await import("./embedded-files.ts");
  const { PGlite } = await import("@electric-sql/pglite");
  const begun = `${folder}.begun`;
  fs.rmSync(begun, { recursive: true, force: true });
  const client = await PGlite.create({ fs: new DurableFiles(begun), startParams: DURABLE_START });
  await client.close();
  syncTree(begun);
  fs.rmSync(folder, { recursive: true, force: true });
  fs.renameSync(begun, folder);
  syncFolder(join(folder, ".."));
}

/** One by one, as whoever asks in between waits for the longest only; a sample of 3,000 rows and the columns that are sorted and joined by say enough. */
const TIDY_STEPS = [
  "VACUUM jobs",
  "VACUUM events",
  "SET default_statistics_target = 10",
  "ANALYZE jobs (id, stage, vehicle, last_at)",
  "ANALYZE events (job_id, position)",
];

async function openFolder({ dataFolder }: StoreConfig, migrationsFolder: string): Promise<OpenStore> {
  const { DurableFiles, DURABLE_START } = await import("./embedded-files.ts");
  const { PGlite } = await import("@electric-sql/pglite");
  breakSeal(dataFolder);
  const client = await PGlite.create({ fs: new DurableFiles(join(dataFolder, "pg")), startParams: DURABLE_START });
  return {
    ...(await embedded(client, migrationsFolder)),
    room: () => ({ free: freeBytes(dataFolder), needed: ROOM_BYTES }),
    wal: {
      bytes: async () =>
        Number((await client.query<{ n: string }>("select pg_wal_lsn_diff(pg_current_wal_insert_lsn(), '0/0') as n")).rows[0]!.n),
      checkpoint: async () => void (await client.exec("CHECKPOINT")),
      tidy: async () => {
        for (const step of TIDY_STEPS) await client.exec(step);
      },
    },
    close: async () => {
      await client.close();
      sealFolder(dataFolder);
    },
  };
}

/** Opens a copy of the folder in memory. */
async function openCopy(config: StoreConfig, migrationsFolder: string): Promise<OpenStore> {
  const folder = join(config.dataFolder, "pg");
  const share = shareFolder(config.dataFolder);
  try {
    if (!fs.existsSync(join(folder, "PG_VERSION")))
      throw new StartError({ kind: "damaged", message: `There is no database in ${config.dataFolder} to look at.` });
    const { client } = await copyOf(folder).catch((error: unknown) => {
      throw new StartError({ kind: "damaged", message: `The copy of ${config.dataFolder} in memory cannot be read: ${reasonOf(error)}.` });
    });
    return { ...(await embedded(client, migrationsFolder)), room: undefined, wal: undefined, close: () => client.close() };
  } finally {
    share();
  }
}

/** A database of a copy in memory, and what it said of itself on the way. */
async function copyOf(folder: string): Promise<{ readonly client: PGlite }> {
  const { PGlite } = await import("@electric-sql/pglite");
  const { CopyInMemory, PASSING_START } = await import("./embedded-files.ts");
  const said: string[] = [];
  const listen = (line: string): boolean => {
    if (/\b(PANIC|FATAL|ERROR):/.test(line)) said.push(line.replace(/^.*?(PANIC|FATAL|ERROR):\s*/, "").trim());
    return true;
  };
  try {
    const client = await PGlite.create({ fs: new CopyInMemory(folder), startParams: PASSING_START, onStderr: listen, onStdout: listen });
    return { client };
  } catch (error) {
    throw new Error(said.at(-1) ?? reasonOf(error), { cause: error });
  }
}

/** Opens a copy in memory and reads all that the shop cannot do without, so that a damaged folder is found before anything is written to it. */
async function tryOut(dataFolder: string, folder: string, migrationsFolder: string): Promise<void> {
  try {
    const { client } = await copyOf(folder);
    await embedded(client, migrationsFolder);
    for (const table of ["events", "jobs", "vehicles", "harness_versions"])
      await client.query(`select count(*), max(length(t::text)) from ${table} t`);
    await client.close();
  } catch (error) {
    throw new StartError({ kind: "damaged", message: damagedWords(dataFolder, `a copy of it does not open: ${reasonOf(error)}`) });
  }
}

const reasonOf = (error: unknown): string => {
  const text = error instanceof Error ? error.message : String(error);
  return text.split("\n")[0]!.replace(/\.$/, "").slice(0, 300);
};

async function embedded(client: PGlite, migrationsFolder: string): Promise<Pick<OpenStore, "db" | "listen">> {
  const { drizzle } = await import("drizzle-orm/pglite");
  const { migrate } = await import("drizzle-orm/pglite/migrator");
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder });
  return { db, listen: async (told) => void (await client.listen(CHANNEL, told)) };
}

/** The refusal of a write that there is no room for. */
export const diskFull = ({ free, needed }: Room): AppError =>
  new AppError("disk-full", { free: String(Math.floor(free / 2 ** 20)), needed: String(Math.ceil(needed / 2 ** 20)) });

const fullWords = (folder: string, { free, needed }: Room): string =>
  `The disk that holds ${folder} has ${Math.floor(free / 2 ** 20)} MB left, and ${Math.ceil(needed / 2 ** 20)} MB are needed. Free some space; writing then goes on by itself.`;

/** The nearest folder above that is there. */
function existing(folder: string): string {
  return fs.existsSync(folder) ? folder : existing(join(folder, ".."));
}

async function openServer(url: string, migrationsFolder: string): Promise<OpenStore> {
  const { default: pg } = await import("pg");
  const { drizzle } = await import("drizzle-orm/node-postgres");
  const { migrate } = await import("drizzle-orm/node-postgres/migrator");
  const pool = new pg.Pool({ connectionString: url, max: 8 });
  // A connection that breaks while nobody uses it is replaced at the next use.
  pool.on("error", () => undefined);
  const lock = await pool.connect();
  try {
    await lock.query("select pg_advisory_lock($1)", [MIGRATION_LOCK]);
    await migrate(drizzle(pool, { schema }), { migrationsFolder });
    await lock.query("select pg_advisory_unlock($1)", [MIGRATION_LOCK]);
  } finally {
    lock.release();
  }
  let closed = false;
  const listen = async (told: (payload: string) => void): Promise<void> => {
    const client = await pool.connect();
    client.on("notification", (message) => told(message.payload ?? ""));
    // A lost connection is asked for again; what came meanwhile is caught up with by whoever asks.
    client.on("error", () => {
      client.release(true);
      if (!closed) setTimeout(() => void listen(told).catch(() => undefined), 1000);
    });
    await client.query(`listen ${CHANNEL}`);
  };
  return {
    db: drizzle(pool, { schema }),
    room: undefined,
    wal: undefined,
    listen,
    close: async () => {
      closed = true;
      await Promise.race([pool.end(), new Promise((done) => setTimeout(done, 1000))]);
    },
  };
}
