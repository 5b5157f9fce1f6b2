/**
 * What is handed over: taking in pictures of 12 MP, and printing and packing a job with 40 readings and 10 pictures.
 * Run: node --import ./scripts/ts-hook.mjs bench/handover.ts
 */
import { createHash } from "node:crypto";
import { mkdtempSync, rmSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import sharp from "sharp";
import type { JobLog } from "@rheonom/contract/api";
import { EMPTY_COMPLAINT, linkText, uuidV7, type JobEvent } from "@rheonom/core/job";
import { readBundle } from "../apps/server/src/bundle/bundle.ts";
import { TASKS } from "../apps/server/src/heavy/tasks.ts";
import { createMediaStore } from "../apps/server/src/media/media-store.ts";

const ROUNDS = 3;

const folder = mkdtempSync(join(tmpdir(), "rheonom-handover-"));
const media = createMediaStore(folder, () => "");
const shop = { name: "", mediaFolder: folder };
const noise = async (i: number): Promise<Buffer> =>
  sharp({
    create: { width: 4000, height: 3000, channels: 3, background: "#808080", noise: { type: "gaussian", mean: 96 + 8 * i, sigma: 30 } },
  })
    .jpeg({ quality: 90 })
    .toBuffer();
const median = (list: readonly number[]): number => [...list].sort((p, q) => p - q)[list.length >> 1]!;
const say = (line: string): void => void process.stdout.write(`${line}\n`);

const photos = await Promise.all(Array.from({ length: 10 }, (_, i) => noise(i)));
const takenMs: number[] = [];
const kept = [];
for (const photo of photos) {
  const began = performance.now();
  kept.push(await media.take(photo));
  takenMs.push(performance.now() - began);
}
const mb = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`;
say(
  `picture of 12 MP (${mb(photos[0]!.length)}, noise): taken in and stored in ${Math.round(median(takenMs))} ms (3000 wanted), kept as ${mb(kept[0]!.bytes)}`,
);

let clock = Date.parse("2026-05-20T08:00:00Z");
const id = (): string =>
  uuidV7(
    ++clock,
    Uint8Array.from({ length: 10 }, (_, i) => (clock >> i) & 255),
  );
const jobId = id();
const at = new Date(clock).toISOString();
const state = { key: "run", engine: "stopped", on: ["SW9"], temperatureC: 20, opened: [], bridged: [] };
const notation = readFileSync(resolve(import.meta.dirname, "../demo/circuits/brigg-work-lamps.circuit"), "utf8");
const event = (type: string, data: unknown): JobEvent => ({ id: id(), jobId, at, by: "Ada", type, data }) as JobEvent;
const places = ["F31.1", "F31.2", "BAT.+"];
const events: JobEvent[] = [
  event("job-opened", { ...EMPTY_COMPLAINT, vehicle: "Bench rig", words: "Lamp is dim", reproduced: "yes" }),
  event("circuit-set", { notation }),
  ...Array.from({ length: 40 }, (_, i) =>
    event("reading-taken", {
      leads: { quantity: "volts", red: places[i % 3]!, black: "BAT.-" },
      state,
      load: "",
      text: `12.${i % 10}0`,
      shown: { kind: "value", quantity: "volts", value: 12 + (i % 10) / 10 },
      instrument: "typed",
    }),
  ),
  ...kept.map((k, i) => event("picture-kept", { ...k, at: `C${i >> 1}`, when: i % 2 === 0 ? "before" : "after", caption: "a caption" })),
];
const log: JobLog = { id: jobId, simulated: false, events, next: events.length, bench: null, hash: "" };
const bytes = new TextEncoder().encode(JSON.stringify(log));
let hash = "";
const entries = events.map((e) => {
  hash = createHash("sha256")
    .update(linkText(hash, jobId, e))
    .digest("hex");
  return { id: e.id, type: e.type, at: e.at, by: e.by, data: e.data, hash };
});
const chained = new TextEncoder().encode(JSON.stringify({ format: "rheonom-log", version: 1, jobId, exportedAt: at, entries }));
for (const name of ["report", "customer"] as const) {
  const times: number[] = [];
  let size = 0;
  for (let i = 0; i < ROUNDS; i++) {
    const began = performance.now();
    size = (await TASKS.paper(bytes, at, name, "pdf", false, shop)).length;
    times.push(performance.now() - began);
  }
  say(
    `${name}.pdf of 40 readings and 10 pictures: first ${Math.round(times[0]!)} ms, then ${Math.round(median(times))} ms (3000 wanted), ${mb(size)} (4 wanted)`,
  );
}
const packed: number[] = [];
const read: number[] = [];
let zip = new Uint8Array(0);
for (let i = 0; i < ROUNDS; i++) {
  let began = performance.now();
  zip = Uint8Array.from(await TASKS.writeBundle(bytes, chained, at, shop));
  packed.push(performance.now() - began);
  began = performance.now();
  const back = await readBundle(zip);
  await media.takeKept(back);
  read.push(performance.now() - began);
}
say(
  `bundle of it: written in ${Math.round(median(packed))} ms, read in ${Math.round(median(read))} ms (5000 wanted each), ${mb(zip.length)}`,
);
rmSync(folder, { recursive: true, force: true });
process.exit(0);
