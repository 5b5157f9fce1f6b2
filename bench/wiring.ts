/**
 * Times what a vehicle's wiring asks for: reading it, importing tables, slicing, the shared-node question, laying a slice out.
 * Run: npm run bench
 */
import { readFileSync } from "node:fs";
import { groundMap, resolveVariant, sharedNodes, sliceOf } from "@rheonom/core/harness";
import { parseNotation, readTables } from "@rheonom/core/notation";
import { REST_STATE } from "@rheonom/core/circuit";
import { predictAll } from "@rheonom/core/instruments";
import { sliceGraph } from "@rheonom/drawing/slice";
import { layoutSlice } from "../apps/server/src/report/layout-slice.ts";

async function time(rounds: number, work: (round: number) => unknown): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < rounds + 1; i++) {
    const began = performance.now();
    await work(i);
    if (i >= 1) times.push(performance.now() - began);
  }
  return times.sort((a, b) => a - b)[rounds >> 1]!;
}

const text = readFileSync("demo/vehicles/plover.circuit", "utf8");
const rows: (readonly [string, number])[] = [];
rows.push(["read the van's text", await time(9, () => parseNotation(text))]);
const whole = parseNotation(text).harness!;
// A fresh object each time, so that nothing is remembered from the round before.
const fresh = (): typeof whole => ({ ...resolveVariant(whole, []) });
rows.push(["slice of one load, cold", await time(9, () => sliceOf(fresh(), ["FPU"]))]);
rows.push(["shared-node question, cold", await time(9, () => sharedNodes(fresh(), ["L10", "L13", "L15"], ["L11", "L14"]))]);
rows.push(["ground map, cold", await time(9, () => groundMap(fresh()))]);
rows.push(["what every place should read", await time(5, () => predictAll(fresh(), { ...REST_STATE, key: "run" }, []))]);

const van = resolveVariant(whole, []);
for (const focus of [["L10"], ["FPU"], ["ECT", "FAN"], ["STA", "FAN", "GP1"], ["STA", "FAN", "GP1", "L10", "WIP"]]) {
  const slice = sliceOf(van, focus);
  const { children, edges } = sliceGraph(slice.harness, van);
  const ms = await time(5, () => layoutSlice({ ...slice.harness }, van));
  rows.push([`lay out ${focus.join(", ")}: ${children.length} elements, ${edges.length} wires`, ms]);
}

let [components, fuses, wires] = [
  "id,kind,rating\nBAT,battery,12.6V\n",
  "id,amps\n",
  "id,from,to,colour,area_mm2,length_m\nW1,G0,BAT.-,BK,50,1\n",
];
let n = 1;
const wire = (from: string, to: string): void => void (wires += `W${++n},${from},${to},RD/BK,1.5,0.5\n`);
for (let i = 1; n < 10_000; i++) {
  components += `LP${i},lamp,5W\n`;
  fuses += `F${i},10\n`;
  wire("BAT.+", `F${i}.1`);
  wire(`F${i}.2`, `C${i}.1a`);
  wire(`C${i}.1b`, `S${i}`);
  wire(`S${i}`, `LP${i}.1`);
  wire(`LP${i}.2`, `G${i}`);
}
const files = [
  { name: "components.csv", text: components },
  { name: "fuses.csv", text: fuses },
  { name: "wires.csv", text: wires },
];
let ticks = 0;
const imported = await time(3, () => {
  ticks = 0;
  if (readTables(files, () => ticks++).harness?.wires.length !== n) throw new Error("not all wires came in");
});
rows.push([`import ${n} wires from tables, checked, ${ticks} steps of progress`, imported]);

console.log(`\nvan of ${van.wires.length} wires, ${van.components.length} parts\n`);
for (const [what, ms] of rows) console.log(`${what.padEnd(66)} ${ms.toFixed(1).padStart(9)} ms`);
