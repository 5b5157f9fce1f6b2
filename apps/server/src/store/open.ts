import { rmSync } from "node:fs";
import { join } from "node:path";
import type { PgDatabase, PgQueryResultHKT } from "drizzle-orm/pg-core";
import type { Config } from "../config.ts";
import { holdFolder } from "./hold-folder.ts";
import * as schema from "./schema.ts";

export type Database = PgDatabase<PgQueryResultHKT, typeof schema>;

export interface OpenStore {
  readonly db: Database;
  readonly close: () => Promise<void>;
}

/** Any number will do, as long as all servers of one database use the same. */
const MIGRATION_LOCK = 7_219_001;

/** Opens the database and applies the migrations: PGlite in the data folder, or the PostgreSQL server of DATABASE_URL. */
export async function openStore(config: Config): Promise<OpenStore> {
  const migrationsFolder = join(config.root, "apps/server/drizzle");
  if (config.databaseUrl !== undefined) return openServer(config.databaseUrl, migrationsFolder);
  const release = await holdFolder(
    config.dataFolder,
    `process ${process.pid} on ${config.host}:${config.port}, started ${new Date().toISOString()}`,
  );
  try {
    const folder = join(config.dataFolder, "pg");
    // Only while the folder is held, so that no other process loses its data under its feet.
    if (config.startFresh) rmSync(folder, { recursive: true, force: true });
    const { PGlite } = await import("@electric-sql/pglite");
    const { drizzle } = await import("drizzle-orm/pglite");
    const { migrate } = await import("drizzle-orm/pglite/migrator");
    const client = await PGlite.create(folder);
    const db = drizzle(client, { schema });
    await migrate(db, { migrationsFolder });
    return {
      db,
      close: async () => {
        await client.close();
        release();
      },
    };
  } catch (error) {
    release();
    throw error;
  }
}

async function openServer(url: string, migrationsFolder: string): Promise<OpenStore> {
  const { default: pg } = await import("pg");
  const { drizzle } = await import("drizzle-orm/node-postgres");
  const { migrate } = await import("drizzle-orm/node-postgres/migrator");
  const pool = new pg.Pool({ connectionString: url, max: 8 });
  const lock = await pool.connect();
  try {
    await lock.query("select pg_advisory_lock($1)", [MIGRATION_LOCK]);
    await migrate(drizzle(pool, { schema }), { migrationsFolder });
    await lock.query("select pg_advisory_unlock($1)", [MIGRATION_LOCK]);
  } finally {
    lock.release();
  }
  return { db: drizzle(pool, { schema }), close: () => pool.end() };
}
