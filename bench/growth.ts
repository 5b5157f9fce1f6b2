/**
 * How the sweep grows with the vehicle: made-up vehicles of some 250 to 4,000 wires, on each the same number of faults spread evenly over its list, in the same states. Prints
 * the time of preparing a state, the time of one operating point from its factors, and both by wire, which stay level where growth is linear. Run:
 * node --import ./scripts/ts-hook.mjs bench/growth.ts
 */
import { catalogueOf, sweep } from "@rheonom/core/faults";
import { allPlaces } from "@rheonom/core/harness";
import { statesOf, vehicle } from "./vehicle.ts";

const FAULTS = 400;
const REPEATS = 3;

/** The best of some runs, ms: what else the machine does only ever makes it slower. */
function best<T>(run: () => T): { readonly ms: number; readonly value: T } {
  let [ms, value] = [Infinity, undefined as T];
  for (let i = 0; i < REPEATS; i++) {
    const began = performance.now();
    value = run();
    ms = Math.min(ms, performance.now() - began);
  }
  return { ms, value };
}

console.log(
  "\n| wires | faults tried | operating points | by update | ms to prepare a state | µs for that and wire | ms a point | µs a point and wire |\n| --- | --- | --- | --- | --- | --- | --- | --- |",
);
for (const circuits of [37, 74, 148, 296, 592]) {
  const harness = vehicle(circuits);
  const states = statesOf(harness);
  const places = allPlaces(harness).slice(0, 300);
  const all = catalogueOf(harness);
  const some = Array.from({ length: FAULTS }, (_, i) => all[Math.floor((i * all.length) / FAULTS)]!);
  const prepared = best(() => sweep(harness, [], states, places)).ms / states.length;
  const { ms, value } = best(() => sweep(harness, some, states, places));
  const points = value.cases.length * states.length;
  const perPoint = (ms - prepared * states.length) / points;
  const { length } = harness.wires;
  console.log(
    `| ${length} | ${some.length} of ${all.length} | ${points} | ${((100 * value.updated) / points).toFixed(0)} % | ${prepared.toFixed(1)} | ${((1000 * prepared) / length).toFixed(0)} | ${perPoint.toFixed(3)} | ${((1000 * perPoint) / length).toFixed(2)} |`,
  );
}
