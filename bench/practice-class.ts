import { randomBytes } from "node:crypto";
import { foldJob, uuidV7, type JobEvent } from "@rheonom/core/job";

/**
 * A class at work on a server that runs: `BASE=http://127.0.0.1:4180 node --import ./scripts/ts-hook.mjs bench/practice-class.ts`. Twenty trainees, each on a bench rig of its own,
 * ask the simulated vehicle for a reading and record it, every one to three seconds. Prints how long an act takes from asking to stored.
 */
const BASE = process.env.BASE ?? "http://127.0.0.1:4180";
const TRAINEES = 20;
const ACTS = 12;
const RIGS = ["rig-horn", "rig-lamps", "rig-screen", "rig-coil"];

async function send<T>(method: string, path: string, body?: unknown): Promise<T> {
  const answer = await fetch(BASE + path, {
    method,
    ...(body === undefined ? {} : { headers: { "content-type": "application/json" }, body: JSON.stringify(body) }),
  });
  if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
  return (await answer.json()) as T;
}
const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** Milliseconds of each act: the reading that is asked for, and its entry. */
interface Acts {
  readonly readings: number[];
  readonly entries: number[];
}

async function trainee(n: number, acts: Acts): Promise<void> {
  const by = `Trainee ${n}`;
  const vehicle = { from: "bench", id: RIGS[n % RIGS.length]! };
  const { jobId } = await send<{ jobId: string }>("POST", "/api/practice", { by, vehicle, difficulty: 0.2, advice: "off" });
  const { events } = await send<{ events: JobEvent[] }>("GET", `/api/jobs/${jobId}`);
  const said = foldJob(events)!.seen[0];
  const state = said?.data.state ?? { key: "run", engine: "stopped", on: [], temperatureC: 20, opened: [], bridged: [] };
  for (let i = 0; i < ACTS; i++) {
    await pause(1000 + 2000 * Math.random());
    const leads = { quantity: "volts", red: i % 2 === 0 ? "F1.2" : "BAT.+", black: "BAT.-" };
    let began = performance.now();
    const shown = await send<{ text: string }>("POST", `/api/jobs/${jobId}/simulated-reading`, { leads, state });
    acts.readings.push(performance.now() - began);
    const value = Number.parseFloat(shown.text) * (shown.text.includes("m") ? 0.001 : 1);
    const data = { leads, state, load: "", text: shown.text, shown: { kind: "value", quantity: "volts", value }, instrument: "simulated" };
    const event = { id: uuidV7(Date.now(), randomBytes(10)), jobId, at: new Date().toISOString(), by, type: "reading-taken", data };
    began = performance.now();
    await send("POST", `/api/jobs/${jobId}/events`, { events: [event] });
    acts.entries.push(performance.now() - began);
  }
}

const acts: Acts = { readings: [], entries: [] };
await Promise.all(Array.from({ length: TRAINEES }, (_, n) => trainee(n, acts)));
console.log("| act | count | median ms | p95 ms | most ms |\n| --- | --- | --- | --- | --- |");
for (const [name, list] of Object.entries(acts)) {
  const sorted = [...(list as number[])].sort((p, q) => p - q);
  const at = (share: number): string => sorted[Math.floor(share * (sorted.length - 1))]!.toFixed(0);
  console.log(`| ${name} | ${sorted.length} | ${at(0.5)} | ${at(0.95)} | ${at(1)} |`);
}
