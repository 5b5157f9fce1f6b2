/**
 * Reading a table of 10 million samples in 4 channels, measuring and drawing it, beside reading the file's bytes alone.
 * Run: node --expose-gc --import ./scripts/ts-hook.mjs bench/waveform.ts
 */
import { createReadStream, mkdtempSync, rmSync, statSync, writeFileSync, appendFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createCsvReader, measure, pyramidOf, readTraceFile, visibleOf, writeTraceFile } from "@rheonom/core/waveform";

const SAMPLES = 10e6;
const CHANNELS = 4;
const LINES = SAMPLES / CHANNELS;
const PIECE = 50_000;
const say = (line: string): void => void process.stdout.write(`${line}\n`);
const folder = mkdtempSync(join(tmpdir(), "rheonom-waveform-"));
const file = join(folder, "trace.csv");
writeFileSync(file, "Time (us),A (V),B (V),C (V),D (A)\n");
for (let i = 0; i < LINES; i += PIECE) {
  let text = "";
  for (let k = i; k < i + PIECE; k++) {
    const high = (k / 500) % 1 < 0.3;
    text += `${k},${high ? 12.41 : 0.32},${Math.sin(k / 300).toFixed(4)},${(k % 97) / 10},${(k % 1000) - 500}\n`;
  }
  appendFileSync(file, text);
}
const size = statSync(file).size;
const timed = async (work: () => Promise<void> | void): Promise<number> => {
  const began = performance.now();
  await work();
  return performance.now() - began;
};
let bytes = 0;
const alone = await timed(async () => {
  for await (const piece of createReadStream(file, { highWaterMark: 1 << 18 })) bytes += (piece as Buffer).length;
});
globalThis.gc?.();
const before = process.memoryUsage();
const reader = createCsvReader();
let most = 0;
const reading = await timed(async () => {
  for await (const piece of createReadStream(file, { highWaterMark: 1 << 18 })) {
    reader.push(piece as Buffer);
    const { rss } = process.memoryUsage();
    most = Math.max(most, rss - before.rss);
  }
});
const read = reader.end();
if (read.kind === "bad") throw new Error(JSON.stringify(read.problem));
const { trace } = read;
let pyramids: ReturnType<typeof pyramidOf>[] = [];
const building = await timed(() => void (pyramids = trace.channels.map((c) => pyramidOf(c.samples))));
const measuring = await timed(() => void trace.channels.map((c) => measure(c.samples, trace.rateHz)));
const ROUNDS = 50;
const drawing = await timed(() => {
  for (let i = 0; i < ROUNDS; i++) for (const p of pyramids) visibleOf(p, i * 1000, trace.count - i * 1000, 900);
});
const packing = await timed(() => void readTraceFile(writeTraceFile(trace)));
say(
  `table of ${SAMPLES / 1e6} million samples in ${CHANNELS} channels, ${(size / 1e6).toFixed(0)} MB, ${bytes === size ? "" : "read in part, "}rate ${trace.rateHz} Hz:`,
);
say(
  `  understood in ${Math.round(reading)} ms (8000 wanted), ${(reading / alone).toFixed(1)} times reading the file alone (${Math.round(alone)} ms); memory ${Math.round(most / 1e6)} MB more (600 wanted)`,
);
say(
  `  finenesses for drawing ${Math.round(building)} ms; a sight of all channels ${(drawing / ROUNDS).toFixed(2)} ms; measures of all ${Math.round(measuring)} ms; written and read as a file ${Math.round(packing)} ms`,
);
rmSync(folder, { recursive: true, force: true });
process.exit(0);
