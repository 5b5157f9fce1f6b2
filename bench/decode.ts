/** How long buses take to be read. Run with: node --import ./scripts/ts-hook.mjs bench/decode.ts */
import { decodeCan, decodeLin } from "@rheonom/core/waveform";
import { canBits, linHeader, linLine, linResponse, PROTECTED, type Piece } from "../packages/core/src/test/bus-lines.ts";

console.log("| what | samples | frames | looked at once | read |\n| --- | --- | --- | --- | --- |");
/** Time of a look at every sample, which nothing can be quicker than. */
function look(samples: Float32Array): number {
  const began = performance.now();
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i]!;
  if (Number.isNaN(sum)) throw new Error("no numbers");
  return performance.now() - began;
}
function row(
  name: string,
  samples: Float32Array,
  read: () => { readonly frames: readonly { readonly problems: readonly string[] }[] },
): void {
  const looked = look(samples);
  const began = performance.now();
  const { frames } = read();
  const ms = performance.now() - began;
  if (frames.some((f) => f.problems.length > 0)) throw new Error(JSON.stringify(frames.find((f) => f.problems.length > 0)));
  console.log(`| ${name} | ${samples.length} | ${frames.length} | ${(looked / 1000).toFixed(2)} s | ${(ms / 1000).toFixed(2)} s |`);
}

const BAUD = 500_000;
const RATE = 1e7;
const can =
  "1".repeat(20) +
  Array.from({ length: 40 }, (_, k) => canBits({ id: 0x100 + 7 * k, data: [k, 255 - k, 3, 4, 5, 6, 7, 8] }) + "1".repeat(60)).join("");
const per = RATE / BAUD;
const seconds = 10;
const line = new Float32Array(seconds * RATE);
for (let i = 0; i < line.length; i++) line[i] = can[Math.floor(i / per) % can.length] === "0" ? 2 : 0;
// The frame that the end cuts off is no good one: the line is idle there.
line.fill(0, line.length - 400 * per);
row(`CAN, 500 kbit/s, ${seconds} s at 10 MS/s`, line, () => ({ frames: decodeCan(line, RATE).frames.slice(0, -1) }));

const idle: Piece = [1, 60];
const pieces: Piece[] = [];
let bits = 0;
for (let k = 0; bits < 60 * 19_200; k++) {
  const id = [0, 1, 2, 0x10, 0x23][k % 5]!;
  const frame: Piece[] = [...linHeader(PROTECTED[id]!), ...linResponse([k & 255, 1, 2, 3], PROTECTED[id]), idle];
  bits += frame.reduce((sum, [, n]) => sum + n, 0);
  pieces.push(...frame);
}
const lin = linLine([idle, ...pieces], { rateHz: 2e5 });
row("LIN, 60 s at 200 kS/s", lin, () => decodeLin(lin, 2e5, 13.6));
