/**
 * Similar cases among 10,000 closed jobs: how long the search and the comparison take, beside reading the job's own row alone.
 * Run: node --import ./scripts/ts-hook.mjs bench/similar.ts
 */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { eq } from "drizzle-orm";
import { advanceDigest, jobEvent, uuidV7, type JobDigest } from "@rheonom/core/job";
import { columnsOf } from "../apps/server/src/store/digest-columns.ts";
import { openStore } from "../apps/server/src/store/open.ts";
import { jobs } from "../apps/server/src/store/schema.ts";
import { createSimilar } from "../apps/server/src/store/similar.ts";

const JOBS = 10_000;
const BATCH = 500;
const ROUNDS = 40;
/** A generator of its own, so that two runs have the same jobs. */
let seed = 7;
const random = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647;
const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

const PARTS = Array.from({ length: 60 }, (_, i) => `LA${i + 1}`);
const CODES = Array.from({ length: 120 }, (_, i) => `P0${100 + i}`);
const THINGS = ["lamp", "horn", "pump", "heater", "wiper", "window", "fan", "starter", "screen", "mirror", "seat", "radio"];
const SIDES = ["left", "right", "front", "rear", "upper", "lower"];
const DOES = ["dead", "dim", "weak", "slow", "flickers", "cuts out", "runs on", "blows its fuse", "comes and goes"];
const WHENS = ["in rain", "on bumps", "with the heater on", "when cold", "after standing", "on full lock", "at night", "uphill"];

const folder = mkdtempSync(join(tmpdir(), "rheonom-similar-"));
const opened = await openStore({
  dataFolder: folder,
  databaseUrl: undefined,
  startFresh: false,
  look: false,
  root: resolve(import.meta.dirname, ".."),
  who: "bench",
});
let clock = Date.parse("2025-01-01T00:00:00Z");
const id = (): string =>
  uuidV7(
    ++clock,
    Uint8Array.from({ length: 10 }, () => Math.floor(random() * 256)),
  );

function digestOfJob(jobId: string, isClosed: boolean): JobDigest {
  const vehicle = one(["brigg", "plover", "ouse", "gritter"]);
  const part = one(PARTS);
  const list: [string, unknown][] = [
    [
      "job-opened",
      {
        vehicle,
        registration: `SKV ${Math.floor(random() * 9000)}`,
        words: `The ${one(SIDES)} ${one(THINGS)} is ${one(DOES)} ${one(WHENS)}.`,
      },
    ],
    ["circuit-set", { notation: "BAT -- F1", vehicle: { id: vehicle, version: 1, options: [] } }],
    [
      "seen",
      {
        state: { key: "run", engine: "stopped", on: [], temperatureC: 20, opened: [], bridged: [] },
        observe: { kind: "part", part },
        word: "none",
        wrong: true,
      },
    ],
    [
      "codes-read",
      {
        scan: {
          format: "rheonom-scan",
          version: 1,
          takenAt: new Date(clock).toISOString(),
          source: "typed",
          modules: [],
          codes: [{ code: one(CODES), status: "active", module: "ECM" }],
        },
        state: { key: "run", engine: "stopped", on: [], temperatureC: 20, opened: [], bridged: [] },
      },
    ],
    ...(isClosed
      ? ([
          [
            "mend-made",
            {
              at: `C${Math.floor(random() * 40)}.${Math.floor(random() * 9)}`,
              found: `${one(["green", "loose", "burnt", "broken"])} ${one(SIDES)}`,
              cause: "",
              method: "contact cleaned",
              done: "cleaned",
            },
          ],
          ["job-closed", { safeToDrive: "yes", advice: "", withoutProof: "bench" }],
        ] as [string, unknown][])
      : []),
  ];
  return list.reduce<JobDigest | undefined>((digest, [type, data], i) => {
    const event = jobEvent.parse({ id: id(), jobId, at: new Date(clock).toISOString(), by: "Ada", type, data });
    return advanceDigest(digest, event, i, () => undefined);
  }, undefined)!;
}

for (let done = 0; done < JOBS; done += BATCH) {
  const rows = Array.from({ length: BATCH }, () => {
    const jobId = id();
    return { id: jobId, ...columnsOf(digestOfJob(jobId, true)) };
  });
  await opened.db.insert(jobs).values(rows);
}
const asked = Array.from({ length: ROUNDS }, () => id());
await opened.db.insert(jobs).values(asked.map((jobId) => ({ id: jobId, ...columnsOf(digestOfJob(jobId, false)) })));
const similar = createSimilar(opened.db);
const timesMs: number[] = [];
const aloneMs: number[] = [];
let found = 0;
for (const jobId of asked) {
  const began = performance.now();
  const { cases } = await similar(jobId);
  timesMs.push(performance.now() - began);
  found += cases.length;
  const alone = performance.now();
  await opened.db.select().from(jobs).where(eq(jobs.id, jobId));
  aloneMs.push(performance.now() - alone);
}
const at = (list: readonly number[], share: number): string =>
  [...list].sort((p, q) => p - q)[Math.floor(share * (list.length - 1))]!.toFixed(1);
process.stdout.write(
  `similar cases among ${JOBS} closed jobs: median ${at(timesMs, 0.5)} ms, p95 ${at(timesMs, 0.95)} ms, slowest ${at(timesMs, 1)} ms (100 wanted); reading one row ${at(aloneMs, 0.5)} ms; ${(found / ROUNDS).toFixed(1)} cases each\n`,
);
await opened.close();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
