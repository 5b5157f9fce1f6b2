/**
 * Sweeps every single fault of a made-up vehicle of some 250 wires and prints the time beside what ngspice takes for the same operating points in one
 * process (an alter loop), measured in the same run. Run: npm run bench
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buildCircuit, printSpice, REST_STATE, type VehicleState } from "@rheonom/core/circuit";
import { catalogueOf, sweep } from "@rheonom/core/faults";
import { allPlaces } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { prepare, solve } from "@rheonom/core/solver";

const BRANCHES = 36;
const lines = ["BAT -- RD 35mm2 0.6m -- S1"];
for (let i = 1; i <= BRANCHES; i++) {
  const load =
    i % 3 === 0 ? `L${i}(lamp ${i % 2 === 0 ? 21 : 55}W)` : i % 3 === 1 ? `M${i}(motor ${2 + (i % 9)}A)` : `H${i}(heater ${1 + (i % 5)}A)`;
  lines.push(
    `S1 -- RD 6mm2 0.4m -- F${i}(${20}A) -- RD 2.5mm2 1.${i % 10}m -- SW${i} -- RD 1.5mm2 2m -- C${i}.1 -- RD 1.5mm2 1m -- ${load}`,
    `${load.slice(0, load.indexOf("("))} -- BK 1.5mm2 0.5m -- C${i}.2 -- BK 1.5mm2 0.7m -- G${1 + (i % 12)}`,
  );
}
lines.push("G20 -- BK 50mm2 0.5m -- BAT");
const { harness, problems } = parseNotation(lines.join("\n"));
if (harness === undefined) throw new Error(problems[0]?.message);
const on = harness.components.filter((c) => c.kind === "switch").map((c) => c.id);
const states: VehicleState[] = [
  { ...REST_STATE, on },
  { ...REST_STATE, on: [] },
  { ...REST_STATE, on, engine: "idling" },
  { ...REST_STATE, on: on.filter((_, i) => i % 2 === 0) },
  { ...REST_STATE, on: on.filter((_, i) => i % 3 === 0), temperatureC: 80 },
  { ...REST_STATE, on, key: "run", engine: "at speed", temperatureC: -20 },
];
const places = allPlaces(harness).slice(0, 300);
const catalogue = catalogueOf(harness);

const { netlist } = buildCircuit(harness, states[0]!, []);
const time = (rounds: number, work: () => unknown): number => {
  for (let i = 0; i < 5; i++) work();
  const began = performance.now();
  for (let i = 0; i < rounds; i++) work();
  return (performance.now() - began) / rounds;
};
const full = time(50, () => solve(netlist));
const made = prepare(netlist);
if (made.kind !== "prepared") throw new Error(made.kind);
const one = time(2000, () => made.prepared.withChange({ a: 5, b: 0, siemens: 1e-3 }));

const began = performance.now();
const result = sweep(harness, catalogue, states, places);
const ours = performance.now() - began;
const points = result.cases.length * states.length;

/** ngspice: the same circuit in the first state, one altered resistor and one operating point for each case. */
function ngspice(): number | undefined {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-bench-"));
  const { text } = printSpice(netlist, "bench");
  const resistors = [...text.matchAll(/^(R\w+) \S+ \S+ (\S+)$/gm)];
  const script = result.cases.map((_, i) => {
    const [, name, ohms] = resistors[i % resistors.length]!;
    return `alter ${name} = ${Number(ohms) + 0.5}\nop\nalter ${name} = ${ohms}\ndestroy all`;
  });
  writeFileSync(
    join(folder, "c.cir"),
    text.replace(/^\.op$/m, "").replace(/^\.end$/m, `.control\n${script.join("\n")}\nquit\n.endc\n.end`),
  );
  try {
    const start = performance.now();
    execFileSync("ngspice", ["-b", join(folder, "c.cir")], { stdio: "ignore" });
    return performance.now() - start;
  } catch {
    return undefined;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
const theirs = ngspice();

console.log(
  `\nvehicle of ${harness.wires.length} wires, ${netlist.nodes.length} nodes; ${catalogue.length} faults, ${result.cases.length} with severities, ${states.length} states, ${places.length} places`,
);
console.log(`operating point, equations set up anew   ${full.toFixed(3)} ms`);
console.log(`one supposed fault by update             ${one.toFixed(3)} ms`);
console.log(
  `full sweep, ${points} operating points       ${(ours / 1000).toFixed(2)} s, ${((100 * result.updated) / points).toFixed(0)} % by update`,
);
if (theirs === undefined) console.log("ngspice is not installed, so there is nothing to compare with: apt-get install ngspice");
else {
  const perPoint = theirs / result.cases.length;
  console.log(
    `ngspice, ${result.cases.length} operating points           ${(theirs / 1000).toFixed(2)} s; per point ${perPoint.toFixed(3)} ms against ${(ours / points).toFixed(3)} ms: ${(perPoint / (ours / points)).toFixed(1)} times as long`,
  );
}
