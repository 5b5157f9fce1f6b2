/**
 * Times the model's work on the demo circuits and prints each as a multiple of one yardstick, solving a dense system of 100 unknowns on
 * this machine, so that runs on different machines can be compared. Run: npm run bench
 */
import { readdirSync, readFileSync } from "node:fs";
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { REST_STATE } from "@rheonom/core/circuit";
import { answerPath, judgePath } from "@rheonom/core/diagnosis";
import { predictAll } from "@rheonom/core/instruments";
import { parseNotation } from "@rheonom/core/notation";
import { layoutSlice } from "../apps/server/src/report/layout-slice.ts";

/** Median time of one call in ms, over at least `rounds` calls. */
async function median(rounds: number, work: () => unknown): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < rounds + 3; i++) {
    const began = performance.now();
    await work();
    if (i >= 3) times.push(performance.now() - began);
  }
  return times.sort((a, b) => a - b)[rounds >> 1]!;
}

function denseSystem(n: number): void {
  const a = Float64Array.from({ length: n * n }, (_, i) => ((i * 7919) % 97) / 97 + (i % (n + 1) === 0 ? n : 0));
  for (let k = 0; k < n; k++)
    for (let i = k + 1; i < n; i++) {
      const factor = a[i * n + k]! / a[k * n + k]!;
      for (let j = k; j < n; j++) a[i * n + j]! -= factor * a[k * n + j]!;
    }
}

const yardstick = await median(50, () => denseSystem(100));
const rows: (readonly [string, number])[] = [];
const texts = readdirSync("demo/circuits").map((f) => readFileSync(join("demo/circuits", f), "utf8"));
const harnesses = texts.map((t) => parseNotation(t).harness!);
const state = {
  ...REST_STATE,
  key: "run" as const,
  on: harnesses.flatMap((h) => h.components.filter((c) => c.kind === "switch").map((c) => c.id)),
};
const loads = harnesses.map((h) => h.components.find((c) => c.kind === "load")!.id);

rows.push(["read the five circuit texts", await median(50, () => texts.map((t) => parseNotation(t)))]);
rows.push(["operating point of all five", await median(50, () => harnesses.map((h) => predictAll(h, state, [])))]);
rows.push([
  "judge two readings and answer, all five",
  await median(20, () =>
    harnesses.map((h, i) => {
      const facts = [
        { id: "1", red: "BAT.+", black: "BAT.-", volts: 12.4, resolutionVolts: 0.01 },
        { id: "2", red: `${loads[i]}.1`, black: "BAT.-", volts: 9.1, resolutionVolts: 0.01 },
      ];
      const trace = judgePath(h, state, loads[i]!, "usual", facts);
      return "stretches" in trace ? answerPath(h, state, trace) : trace;
    }),
  ),
]);
const long = `BAT -- RD 6mm2 1m -- S1\n${Array.from({ length: 1000 }, (_, i) => `S1 -- RD 1mm2 1m -- L${i}(lamp 5W) -- BK 1mm2 1m -- G1`).join("\n")}\nG2 -- BK 25mm2 1m -- BAT`;
rows.push(["read a text of 2,000 wires", await median(3, () => parseNotation(long))]);
rows.push(["lay out the largest drawing, warm", await median(10, () => layoutSlice(harnesses[1]!))]);

/** Milliseconds from the start of the built server to its address on standard output. */
function startTime(folder: string): Promise<number> {
  const began = performance.now();
  const child = spawn(process.execPath, ["apps/server/dist/main.mjs"], {
    env: { ...process.env, PORT: "0", RHEONOM_DATA: folder, RHEONOM_DEMO: "1" },
  });
  return new Promise((resolve) => {
    child.stdout.once("data", () => {
      const took = performance.now() - began;
      child.once("exit", () => resolve(took));
      child.kill("SIGTERM");
    });
  });
}
const folder = mkdtempSync(join(tmpdir(), "rheonom-bench-"));
rows.push(["server start, first (new database, demo data)", await startTime(folder)]);
rows.push(["server start, second", await startTime(folder)]);
rmSync(folder, { recursive: true, force: true });

console.log(`yardstick: ${yardstick.toFixed(3)} ms for a dense system of 100 unknowns\n`);
console.log(`${"what".padEnd(48)} ${"ms".padStart(10)} ${"yardsticks".padStart(12)}`);
for (const [name, ms] of rows) console.log(`${name.padEnd(48)} ${ms.toFixed(2).padStart(10)} ${(ms / yardstick).toFixed(1).padStart(12)}`);
