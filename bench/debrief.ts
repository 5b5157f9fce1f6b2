import { readFileSync } from "node:fs";
import { DEFAULT_QUESTION, findingsOf, shownBy, type Evidence, type Test } from "@rheonom/core/diagnosis";
import { resolveVariant, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { debriefOf, fixedOrder, makeScenario, type Family } from "@rheonom/core/practice";

/** How long the debrief of a job of 25 tests takes that went from post to post, on a scenario of each of these. */
const JOBS: readonly (readonly [string, Family])[] = [
  ["rig-screen", "high resistance"],
  ["gritter", "bad ground"],
  ["gritter", "charging"],
  ["ouse", "open"],
  ["ouse", "bus"],
  ["brigg", "high resistance"],
];
const STEPS = 25;
const wanted = process.argv.slice(2);

function open(vehicle: string): Harness {
  const { harness } = parseNotation(readFileSync(`demo/vehicles/${vehicle}.circuit`, "utf8"));
  return resolveVariant(
    harness!,
    (harness!.options ?? []).slice(0, 1).map((o) => o.id),
  );
}

console.log(
  "| vehicle | family | tests | ms | first step after ms | of it the steps | of it the plan | plan’s tests |\n| --- | --- | --- | --- | --- | --- | --- | --- |",
);
for (const [vehicle, family] of JOBS) {
  if (wanted.length > 0 && !wanted.includes(vehicle)) continue;
  const played = open(vehicle);
  const scenario = makeScenario(played, { family, difficulty: 0.4, seed: 2 });
  if (scenario === undefined) continue;
  const { complaint, truth, beside, circumstances } = scenario;
  const faults = [...truth.map((t) => t.fault.faultAt(t.severity)), ...beside];
  const evidence: Evidence[] = [];
  for (let i = 0; i < STEPS; i++) {
    // What is left of the tests is looks, from wire to wire of the vehicle.
    const test: Test = fixedOrder(played, complaint.focus, complaint.state, evidence, undefined as never) ?? {
      state: complaint.state,
      observe: { kind: "look", at: played.wires[i]!.id },
    };
    evidence.push({ id: `step-${i}`, ...test, result: shownBy(played, test, faults), source: "technician" });
  }
  // As a thread that has never seen the vehicle.
  const harness = open(vehicle);
  const times: number[] = [];
  const began = performance.now();
  const made = debriefOf({
    question: { ...DEFAULT_QUESTION, harness, focus: complaint.focus, state: complaint.state, circumstances },
    told: complaint.evidence.filter((e) => e.source === "customer"),
    found: findingsOf(evidence),
    acts: [{ at: truth[0]!.fault.link, isReplaced: false, after: evidence.length }],
    truth: truth.map((t) => t.fault.faultAt(t.severity)),
    beside,
    onProgress: () => times.push(performance.now() - began),
  });
  const ms = performance.now() - began;
  const stepsMs = times[made.steps.length - 1] ?? 0;
  console.log(
    `| ${vehicle} | ${family} | ${made.steps.length} | ${ms.toFixed(0)} | ${(times[0] ?? 0).toFixed(0)} | ${stepsMs.toFixed(0)} | ${(ms - stepsMs).toFixed(0)} | ${made.plan?.tests ?? "none"} |`,
  );
}
