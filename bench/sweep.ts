/**
 * Sweeps every single fault of a made-up vehicle of some 250 wires and prints the time beside what ngspice takes for the same operating points in one
 * process (an alter loop), measured in the same run. Run: npm run bench
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buildCircuit, printSpice } from "@rheonom/core/circuit";
import { catalogueOf, sweep } from "@rheonom/core/faults";
import { allPlaces } from "@rheonom/core/harness";
import { solve } from "@rheonom/core/solver";
import { statesOf, vehicle } from "./vehicle.ts";

const harness = vehicle(37);
const states = statesOf(harness);
const places = allPlaces(harness).slice(0, 300);
const catalogue = catalogueOf(harness);

const { netlist } = buildCircuit(harness, states[0]!, []);
const rest = solve(netlist);
if (rest.kind !== "solved") throw new Error(rest.kind);
const point = rest;
const began = performance.now();
const result = sweep(harness, catalogue, states, places);
const ours = performance.now() - began;
const points = result.cases.length * states.length;

/** ngspice: the same circuit in the first state, one altered resistor and one operating point for each case. */
function ngspice(): number | undefined {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-bench-"));
  const { text } = printSpice(netlist, "bench", ".op", point);
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
