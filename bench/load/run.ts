// npm run bench:load: what many devices, many jobs and a long log cost. Bounded; on loopback; in a folder of its own that it removes.
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { performance } from "node:perf_hooks";
import { fileURLToPath } from "node:url";
import { CIRCUIT, event, newId, opened, reading } from "./jobs.ts";
import { ask, percentile, startBuilt, type LoadedServer } from "./server.ts";

const ROOT = fileURLToPath(new URL("../..", import.meta.url));
const JOBS = Number(process.env.BENCH_JOBS ?? 20_000);
const SECONDS = 10;
const say = (name: string, measured: string, wanted: string): void => console.log(`| ${name} | ${measured} | ${wanted} |`);
const ms = (n: number): string => `${n < 10 ? n.toFixed(1) : n.toFixed(0)} ms`;

const folder = mkdtempSync(join(process.env.BENCH_TMP ?? tmpdir(), "rheonom-load-"));
const hook = ["--import", "./scripts/ts-hook.mjs"];
console.log("| what | measured | wanted |\n| --- | --- | --- |");
const rawText = execFileSync(process.execPath, [...hook, "bench/load/raw-inserts.ts"], { cwd: ROOT, encoding: "utf8" });
const { synced: raw, unsynced } = JSON.parse(rawText) as { synced: number; unsynced: number };
say("raw inserts, one row a commit, each on the disk before the next", `${raw.toFixed(0)}/s`, "");
say("the same without a sync: what durability costs a single writer", `${unsynced.toFixed(0)}/s`, "");

const server = await startBuilt(folder);
try {
  await manyClients(server, 20, 60);
  await manyClients(server, 50, 150);
  await manyJobs(server);
  await longLog(server);
  const { rssMb } = await server.probe();
  say("memory of the whole process right after all this", `${rssMb.toFixed(0)} MB`, "< 600 MB");
  await new Promise((done) => setTimeout(done, 45_000));
  say("memory once its threads have rested", `${(await server.probe()).rssMb.toFixed(0)} MB`, "< 600 MB");
} finally {
  await server.end();
  rmSync(folder, { recursive: true, force: true });
}

/** So many devices, each with a job of its own, post a reading as soon as the last is acknowledged. */
async function manyClients({ port, probe }: LoadedServer, clients: number, wantedMs: number): Promise<void> {
  const jobs = await Promise.all(
    Array.from({ length: clients }, async (_, i) => {
      const jobId = newId();
      await mustBe(201, ask(port, "POST", "/api/jobs", opened(jobId, i)));
      return jobId;
    }),
  );
  // A server that has been up for a while: its programs are compiled.
  const warm = performance.now() + 3000;
  for (let n = 0; performance.now() < warm; n++)
    await Promise.all(jobs.map((jobId) => ask(port, "POST", `/api/jobs/${jobId}/events`, { events: [reading(jobId, n)] })));
  await probe();
  const took: number[] = [];
  const end = performance.now() + SECONDS * 1000;
  await Promise.all(
    jobs.map(async (jobId) => {
      for (let n = 0; performance.now() < end; n++)
        took.push((await mustBe(201, ask(port, "POST", `/api/jobs/${jobId}/events`, { events: [reading(jobId, n)] }))).ms);
    }),
  );
  const loop = await probe();
  const rate = took.length / SECONDS;
  say(
    `${clients} clients, one reading a posting, p99`,
    `${ms(percentile(took, 0.99))} (median ${ms(percentile(took, 0.5))})`,
    `< ${wantedMs} ms`,
  );
  if (clients >= 50) {
    say(`${clients} clients, postings`, `${rate.toFixed(0)}/s`, "≥ 400/s");
    say("against raw inserts", (rate / raw).toFixed(2), "≥ 0.25");
  }
  say(`${clients} clients, event loop held up`, `max ${ms(loop.maxMs)}, p99.9 ${ms(loop.p999Ms)}`, "≤ 50 ms");
}

async function manyJobs({ port, probe }: LoadedServer): Promise<void> {
  const began = performance.now();
  let next = 0;
  await Promise.all(
    Array.from({ length: 32 }, async () => {
      while (next < JOBS) {
        const n = next++;
        await mustBe(201, ask(port, "POST", "/api/jobs", opened(newId(), n)));
      }
    }),
  );
  say(`opening ${JOBS} jobs, 32 at a time`, `${((performance.now() - began) / 1000).toFixed(0)} s`, "");
  // Writing rests for a moment, as it does between two technicians.
  await new Promise((done) => setTimeout(done, 5000));
  await probe();
  const pages = await repeated(60, (i) => `/api/jobs?limit=50&offset=${(i * 331) % JOBS}&sort=${["lastAt", "vehicle", "stage"][i % 3]!}`);
  say(`${JOBS} jobs, a page of the board, p95`, ms(percentile(pages, 0.95)), "< 60 ms");
  const searches = await repeated(
    40,
    (i) => `/api/jobs?limit=50&search=${encodeURIComponent(["pump hot", `job ${i * 97}`, "gritter", "nothing like it"][i % 4]!)}`,
  );
  say(`${JOBS} jobs, search, p95`, ms(percentile(searches, 0.95)), "< 100 ms");
  say("board and search, event loop held up", ms((await probe()).maxMs), "≤ 50 ms");
  await firstRows(port);

  async function repeated(times: number, path: (i: number) => string): Promise<number[]> {
    const took: number[] = [];
    for (let i = 0; i < times; i++) took.push((await mustBe(200, ask(port, "GET", path(i)))).ms);
    return took;
  }
}

/** Until the board of a new browser shows its first row. */
async function firstRows(port: number): Promise<void> {
  const { chromium } = await import("@playwright/test");
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM_PATH ?? "/usr/bin/chromium",
    args: [
      "--headless",
      "--no-sandbox",
      "--disable-gpu",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  });
  const took: number[] = [];
  for (let i = 0; i < 4; i++) {
    const context = await browser.newContext();
    const page = await context.newPage();
    const began = performance.now();
    await page.goto(`http://127.0.0.1:${port}/`, { waitUntil: "commit" });
    await page.locator("tbody tr").first().waitFor();
    // The first visit pays for the browser's own start.
    if (i > 0) took.push(performance.now() - began);
    await context.close();
  }
  await browser.close();
  say(`${JOBS} jobs, first rows in a new browser, median`, ms(percentile(took, 0.5)), "< 1000 ms");
}

async function longLog({ port, probe }: LoadedServer): Promise<void> {
  const jobId = newId();
  await mustBe(201, ask(port, "POST", "/api/jobs", opened(jobId, 1)));
  await mustBe(
    201,
    ask(port, "POST", `/api/jobs/${jobId}/events`, { events: [event(jobId, { type: "circuit-set", data: { notation: CIRCUIT } })] }),
  );
  const began = performance.now();
  for (let n = 0; n < 5000; n += 50) {
    const events = Array.from({ length: 50 }, (_, i) => reading(jobId, n + i));
    await mustBe(201, ask(port, "POST", `/api/jobs/${jobId}/events`, { events }));
  }
  say("a job of 5000 readings, filled 50 a posting", `${((performance.now() - began) / 1000).toFixed(1)} s`, "< 20 s");
  const single: number[] = [];
  for (let n = 0; n < 200; n++)
    single.push((await mustBe(201, ask(port, "POST", `/api/jobs/${jobId}/events`, { events: [reading(jobId, n)] }))).ms);
  say("one more reading, p95", ms(percentile(single, 0.95)), "< 20 ms");
  await probe();
  const opening: number[] = [];
  for (let i = 0; i < 5; i++) opening.push((await mustBe(200, ask(port, "GET", `/api/jobs/${jobId}`))).ms);
  say("opening it (the API), worst of 5", ms(Math.max(...opening)), "< 1000 ms");
  // Somebody else goes on working meanwhile.
  const beside: number[] = [];
  let printing = true;
  const printed = ask(port, "GET", `/api/jobs/${jobId}/report.pdf`).finally(() => (printing = false));
  while (printing) {
    beside.push((await mustBe(200, ask(port, "GET", "/api/jobs?limit=20"))).ms);
    await new Promise((done) => setTimeout(done, 50));
  }
  const pdf = await mustBe(200, printed);
  say("its record as PDF", `${(pdf.ms / 1000).toFixed(1)} s`, "< 5 s");
  say("the board meanwhile, p99", ms(percentile(beside, 0.99)), "");
  say("opening and printing it, event loop held up", ms((await probe()).maxMs), "≤ 50 ms");
}

async function mustBe<T extends { readonly status: number; readonly bytes: Buffer }>(status: number, asked: Promise<T>): Promise<T> {
  const answer = await asked;
  if (answer.status !== status)
    throw new Error(`status ${answer.status} in place of ${status}: ${answer.bytes.toString("utf8").slice(0, 300)}`);
  return answer;
}
