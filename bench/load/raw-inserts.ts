// How fast the embedded database itself takes rows, each on the disk before the next: what the server's figures are compared with.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { performance } from "node:perf_hooks";
import { PGlite } from "@electric-sql/pglite";
import { DURABLE_START, DurableFiles } from "../../apps/server/src/store/embedded-files.ts";
import { newId, reading } from "./jobs.ts";

const folder = mkdtempSync(join(process.env.BENCH_TMP ?? tmpdir(), "rheonom-raw-"));
const client = await PGlite.create({ fs: new DurableFiles(join(folder, "pg")), startParams: DURABLE_START });
await client.exec(`create table events (seq serial primary key, id uuid not null unique, job_id uuid not null, type text not null,
  at timestamptz not null, "by" text not null, data jsonb not null)`);
const jobId = newId();
const began = performance.now();
let count = 0;
while (performance.now() - began < 5000) {
  const e = reading(jobId, count++) as { id: string; type: string; at: string; by: string; data: object };
  await client.query('insert into events (id, job_id, type, at, "by", data) values ($1, $2, $3, $4, $5, $6)', [
    e.id,
    jobId,
    e.type,
    e.at,
    e.by,
    e.data,
  ]);
}
process.stdout.write(`${JSON.stringify({ perSecond: (1000 * count) / (performance.now() - began) })}\n`);
await client.close();
rmSync(folder, { recursive: true, force: true });
