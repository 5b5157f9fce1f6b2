/** How long the simulated vehicle takes to be recorded: four probes, 1 MS/s. Run with: node --import ./scripts/ts-hook.mjs bench/capture.ts */
import { readFileSync } from "node:fs";
import { REST_STATE, type VehicleState } from "@rheonom/core/circuit";
import { predictTraces, throughScope, type Probe } from "@rheonom/core/instruments";
import { parseNotation } from "@rheonom/core/notation";

const run = (engine: VehicleState["engine"], on: readonly string[] = []): VehicleState => ({
  ...REST_STATE,
  key: engine === "cranking" ? "crank" : "run",
  engine,
  on: [...on],
});
const CASES = [
  ["rig-coil", run("stopped"), ["BAT.+"]],
  ["plover", run("stopped"), ["ECM.D5", "ECM.A1", "ECM.B1", "ALT.B+"]],
  ["plover", run("idling"), ["ECM.D5", "ECM.D1", "ALT.B+", "ECM.A1"]],
  ["brigg", run("cranking"), ["IC3.1", "ECM.I3", "BAT.+", "ECM.1"]],
  ["brigg", run("idling"), ["IC3.1", "ECM.I3", "BAT.+", "ECM.1"]],
] as const;

console.log("| vehicle | engine | probes | length | solved | with scope's noise |\n| --- | --- | --- | --- | --- | --- |");
for (const [vehicle, state, reds] of CASES) {
  const { harness } = parseNotation(readFileSync(new URL(`../demo/vehicles/${vehicle}.circuit`, import.meta.url), "utf8"));
  for (const seconds of [0.05, 0.2, 1]) {
    const began = performance.now();
    const probes = reds.map((red): Probe => ({ at: { red, black: "BAT.-" }, probe: 10 }));
    const traces = predictTraces(harness!, state, [], probes, { seconds, resolutionS: 1e-6 });
    if (traces.kind !== "traces") throw new Error(JSON.stringify(traces));
    const solved = performance.now();
    for (const channel of traces.channels) throughScope(channel, Math.random);
    const ms = (t: number): string => `${((t - began) / 1000).toFixed(2)} s`;
    console.log(`| ${vehicle} | ${state.engine} | ${reds.length} | ${seconds} s | ${ms(solved)} | ${ms(performance.now())} |`);
  }
}
