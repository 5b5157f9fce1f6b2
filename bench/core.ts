/**
 * The electrical core beside ngspice and beside itself at other sizes. Prints ratios; nothing here passes or fails. Run: npm run bench
 */
import { buildCircuit, REST_STATE } from "@rheonom/core/circuit";
import { catalogueOf, sweep } from "@rheonom/core/faults";
import { allPlaces } from "@rheonom/core/harness";
import { predictReading, predictTrace } from "@rheonom/core/instruments";
import { parseNotation } from "@rheonom/core/notation";
import { createSolver, prepare, solve } from "@rheonom/core/solver";
import { statesOf, vehicle } from "./vehicle.ts";

const median = (rounds: number, work: () => unknown): number => {
  for (let i = 0; i < 5; i++) work();
  const times = Array.from({ length: rounds }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
  return times.sort((a, b) => a - b)[Math.floor(rounds / 2)]!;
};

const rows: string[][] = [];
for (const branches of [37, 150, 600]) {
  const harness = vehicle(branches);
  const states = statesOf(harness);
  const netlists = states.slice(0, 6).map((s) => buildCircuit(harness, s, []).netlist);
  const cold = median(branches > 300 ? 5 : 20, () => solve(netlists[0]!));
  const solver = createSolver();
  const hot = buildCircuit(harness, { ...states[0]!, temperatureC: 60 }, []).netlist;
  let flip = false;
  const warm = median(branches > 300 ? 20 : 200, () => solver((flip = !flip) ? hot : netlists[0]!));
  const made = prepare(netlists[0]!);
  if (made.kind !== "prepared") throw new Error(made.kind);
  let node = 5;
  const update = median(400, () =>
    made.prepared.withDelta({ added: [{ id: "x", kind: "resistor", a: (node = 5 + ((node * 7) % 300)), b: 0, ohms: 1e3 }] }),
  );
  const catalogue = catalogueOf(harness);
  const places = allPlaces(harness).slice(0, 300);
  // One state and a part of the catalogue for the larger ones: cost for each point is what is compared.
  const part = branches > 40 ? catalogue.filter((_, i) => i % Math.ceil(branches / 8) === 0) : catalogue;
  const used = branches > 40 ? states.slice(0, 2) : states;
  const before = process.memoryUsage();
  const began = performance.now();
  const result = sweep(harness, part, used, places);
  const ms = performance.now() - began;
  const points = result.cases.length * used.length;
  const megabytes = (process.memoryUsage().arrayBuffers + process.memoryUsage().heapUsed - before.arrayBuffers - before.heapUsed) / 2 ** 20;
  rows.push([
    String(harness.wires.length),
    String(netlists[0]!.nodes.length),
    cold.toFixed(2),
    warm.toFixed(2),
    (1000 * update).toFixed(0),
    `${points}`,
    (ms / 1000).toFixed(2),
    ((1000 * ms) / points).toFixed(0),
    ((1000 * ms) / points / harness.wires.length).toFixed(3),
    `${((100 * result.updated) / points).toFixed(0)} %`,
    megabytes.toFixed(0),
  ]);
}
const heads = [
  "wires",
  "nodes",
  "cold, ms",
  "warm, ms",
  "update, µs",
  "points",
  "sweep, s",
  "µs a point",
  "µs a point and wire",
  "by update",
  "MB",
];
console.log(
  "\noperating point anew (cold) and with order and pivots at hand (warm); one supposed fault; sweep of faults × states with 300 places",
);
for (const row of [heads, ...rows]) console.log(row.map((c, i) => c.padStart(heads[i]!.length + 1)).join(" "));

/** Courses over time, 200 ms with a point every 10 µs. */
const rig = parseNotation(`
BAT(12.6V) -- W1 RD 4mm2 1m -- F1(15A) -- W2 RD 2.5mm2 1m -- S1
S1 -- W3 WH 1.5mm2 1m -- IC1.15(ignition)
IC1.1 -- W4 GN 1.5mm2 1m -- ECM.7
IC1.E -- G3
S1 -- W5 WH 1mm2 1m -- V1.1(injector)
V1.2 -- W6 BU 1mm2 1m -- ECM.6
S1 -- W7 RD 1mm2 1m -- ECM.1(module pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"6":{"sort":"low","duty":0.3,"hertz":100},"7":{"sort":"low","duty":0.1,"hertz":25,"clampVolts":380}} rules=[{"pin":"6","when":{"key":["accessory"]}},{"pin":"7","when":{"key":["run"]}}])
ECM.2 -- W8 BN 1.5mm2 0.5m -- G4
G2 -- W9 BK 25mm2 0.5m -- BAT
`).harness!;
const course = (key: "accessory" | "run", at: { red: string; black: string }): number =>
  median(9, () => {
    const trace = predictTrace(rig, { ...REST_STATE, key }, [], { at, probe: 10, seconds: 0.2, resolutionS: 1e-5 });
    if (trace.kind !== "trace") throw new Error(JSON.stringify(trace));
  });
console.log("\n200 ms at 10 µs: a valve pulsed at 100 Hz        ", course("accessory", { red: "ECM.6", black: "ECM.2" }).toFixed(0), "ms");
console.log("                 an ignition coil fired five times", course("run", { red: "ECM.7", black: "ECM.2" }).toFixed(0), "ms");
const demo = vehicle(37);
const [state] = statesOf(demo);
console.log(
  "a meter's reading on the smallest vehicle above   ",
  median(50, () => predictReading(demo, state!, [], { quantity: "volts", red: "S1", black: "BAT.-" })).toFixed(2),
  "ms",
);
