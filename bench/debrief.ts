import { readFileSync } from "node:fs";
import { DEFAULT_QUESTION, findingsOf, shownBy, type Evidence, type Test } from "@rheonom/core/diagnosis";
import { resolveVariant, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { debriefOf, fixedOrder, makeScenario, planOf, walkOf, type Family, type Played } from "@rheonom/core/practice";

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
  "| vehicle | family | tests | the steps ms | the plan ms | plan’s tests | both on one thread ms |\n| --- | --- | --- | --- | --- | --- | --- |",
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
      observe: { kind: "look", at: played.wires[i % played.wires.length]!.id },
    };
    evidence.push({ id: `step-${i}`, ...test, result: shownBy(played, test, faults), source: "technician" });
  }
  // What only a scan tells is found first, by one scan.
  const scanned = complaint.evidence.filter((e) => e.source !== "customer").map((e, i) => ({ ...e, id: `scan ${i}` }));
  // Each half in a thread that has never seen the vehicle.
  const playedOn = (harness: Harness): Played => ({
    question: { ...DEFAULT_QUESTION, harness, focus: complaint.focus, state: complaint.state, circumstances },
    told: complaint.evidence.filter((e) => e.source === "customer"),
    found: findingsOf([...scanned, ...evidence]),
    acts: [{ at: truth[0]!.fault.link, isReplaced: false, after: evidence.length + Math.min(1, scanned.length) }],
    truth: truth.map((t) => t.fault.faultAt(t.severity)),
    beside,
  });
  const timed = <T>(work: (of: Played) => T): readonly [T, number] => {
    const harness = open(vehicle);
    const began = performance.now();
    return [work(playedOn(harness)), performance.now() - began];
  };
  const [walked, walkMs] = timed(walkOf);
  const [plan, planMs] = timed(planOf);
  const [, bothMs] = timed(debriefOf);
  console.log(
    `| ${vehicle} | ${family} | ${walked.steps.length} | ${walkMs.toFixed(0)} | ${planMs.toFixed(0)} | ${plan?.tests ?? "none"} | ${bothMs.toFixed(0)} |`,
  );
}
