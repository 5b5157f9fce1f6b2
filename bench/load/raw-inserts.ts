// How fast the embedded database itself takes rows, each on the disk before the next: what the server's figures are compared with.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { performance } from "node:perf_hooks";
import { PGlite } from "@electric-sql/pglite";
import { DURABLE_START, DurableFiles, PASSING_START } from "../../apps/server/src/store/embedded-files.ts";
import { newId, reading } from "./jobs.ts";

/** Rows a second, one a commit. */
async function rate(startParams: string[]): Promise<number> {
  const folder = mkdtempSync(join(process.env.BENCH_TMP ?? tmpdir(), "rheonom-raw-"));
  const client = await PGlite.create({ fs: new DurableFiles(join(folder, "pg")), startParams });
  await client.exec(`create table events (seq serial primary key, id uuid not null unique, job_id uuid not null, type text not null,
    at timestamptz not null, "by" text not null, data jsonb not null)`);
  const jobId = newId();
  const began = performance.now();
  let count = 0;
  while (performance.now() - began < 5000) {
    const e = reading(jobId, count++) as { id: string; type: string; at: string; by: string; data: object };
    const row = [e.id, jobId, e.type, e.at, e.by, e.data];
    await client.query('insert into events (id, job_id, type, at, "by", data) values ($1, $2, $3, $4, $5, $6)', row);
  }
  const perSecond = (1000 * count) / (performance.now() - began);
  await client.close();
  rmSync(folder, { recursive: true, force: true });
  return perSecond;
}

process.stdout.write(`${JSON.stringify({ synced: await rate(DURABLE_START), unsynced: await rate(PASSING_START) })}\n`);
