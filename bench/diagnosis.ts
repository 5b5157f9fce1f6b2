/**
 * How the proposals do over faults of the demo fleet: a simulated technician who follows the first proposal from the complaint alone, beside two rules of thumb; with a fault that
 * is there 30 % of the time; with one grossly wrong reading. Then how long the engine takes for an answer. Run: node --import ./scripts/ts-hook.mjs bench/diagnosis.ts [cases]
 * [name ...]
 */
import { readdirSync, readFileSync } from "node:fs";
import { answerCase, DEFAULT_QUESTION } from "@rheonom/core/diagnosis";
import { resolveVariant, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import {
  chanceOf,
  comparePlans,
  complaintOf,
  practise,
  practiseAll,
  practiseUntilSound,
  summarise,
  truthsOf,
  type Run,
  type Summary,
} from "@rheonom/core/practice";

const [count = "40", ...names] = process.argv.slice(2);
const folder = new URL("../demo/vehicles/", import.meta.url);
const fleet = readdirSync(folder)
  .filter((f) => f.endsWith(".circuit"))
  .map((f) => f.replace(".circuit", ""))
  .filter((n) => names.length === 0 || names.includes(n))
  .sort((p, q) => Number(q.startsWith("rig")) - Number(p.startsWith("rig")));
const load = (name: string): Harness =>
  resolveVariant(parseNotation(readFileSync(new URL(`${name}.circuit`, folder), "utf8")).harness!, []);
const pct = (x: number): string => `${(100 * x).toFixed(1)} %`;
const row = (name: string, s: Summary): string =>
  `| ${name} | ${s.cases} | ${pct(s.rightFirst)} | ${pct(s.wrongPart)} | ${pct(s.notEnough)} | ${s.meanTests.toFixed(2)} | ${s.p95Tests} | ${s.meanMinutes.toFixed(1)} |`;

const families = new Map<string, Summary[]>();
console.log(
  "| circuit | cases | right first | wrong part | not enough | mean tests | p95 tests | mean min | halving, min | fixed order, min | 30 % there: right | one slip: right | slip named | two faults: both found | best plan: times |",
);
console.log("| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |");
/** Sequences that are searched for the best plan of one complaint, and circuits that are small enough for it: up to so many wires. */
const MOST_NODES = 20_000;
const SMALL_WIRES = 60;

/** Two faults at once, from those that are noticed by themselves: share of vehicles that end sound with nothing mended in vain. */
function doubles(harness: Harness): string {
  const noticed = truthsOf(harness, 8 * Number(count), 17).filter((t) => complaintOf(harness, [t.fault.faultAt(t.severity)]) !== undefined);
  const ends = Array.from({ length: Math.min(Number(count), noticed.length) }, (_, i) => {
    const [p, q] = [noticed[(i * 7) % noticed.length]!, noticed[(i * 13 + 5) % noticed.length]!];
    return p.fault.link === q.fault.link ? undefined : practiseUntilSound(harness, [p, q], { chance: chanceOf(i) })?.sound;
  }).filter((x) => x !== undefined);
  return ends.length === 0 ? "" : `${pct(ends.filter((x) => x).length / ends.length)} of ${ends.length}`;
}

/** Minutes by best information per minute over those of the best plan, all complaints of the sample together. */
function againstBestPlan(harness: Harness): string {
  if (harness.wires.length > SMALL_WIRES) return "";
  const seen = new Map<string, ReturnType<typeof complaintOf>>();
  for (const t of truthsOf(harness, Number(count), 11)) {
    const c = complaintOf(harness, [t.fault.faultAt(t.severity)]);
    if (c !== undefined) seen.set(JSON.stringify([c.focus, c.state, c.evidence.map((e) => e.result)]), c);
  }
  const plans = [...seen.values()].map((c) => comparePlans(harness, c!, MOST_NODES));
  const sum = (of: (p: (typeof plans)[number]) => number): number => plans.reduce((s, p) => s + of(p), 0);
  const whole = plans.filter((p) => p.whole).length;
  return `${(sum((p) => p.greedyMinutes) / sum((p) => p.bestMinutes)).toFixed(3)} (${whole} of ${plans.length} searched whole)`;
}

for (const name of fleet) {
  const harness = load(name);
  const truths = truthsOf(harness, Number(count), 11);
  /** On a large vehicle a column takes long: what is known so far, beside the table. */
  const say = (column: string, so: string): void => console.error(`${name}: ${column} ${so}`);
  const plain = practiseAll(harness, truths, 11, true, (done) => say("plainly and by two rules", `${done} of ${truths.length}`));
  say("plainly", JSON.stringify(plain));
  const runs = (column: string, manner: Partial<Parameters<typeof practise>[2]>): Run[] => {
    const list = truths.flatMap((t, i) => practise(harness, [t], { chance: chanceOf(500 + i), ...manner }) ?? []);
    say(column, JSON.stringify({ ...summarise(list), wrong: list.filter((r) => !r.right).map((r) => [r.truth[0]!.fault.id, r.element]) }));
    return list;
  };
  const [away, slipped] = [runs("there 30 % of the time", { presence: 0.3 }), runs("one slip", { grossAt: 1 })];
  const slips = slipped.filter((r) => r.slipNamed !== undefined);
  console.log(
    `${row(name, plain)} ${plain.baselines.halfSplit.meanMinutes.toFixed(1)} | ${plain.baselines.fixedOrder.meanMinutes.toFixed(1)} | ${pct(summarise(away).rightFirst)} | ${pct(summarise(slipped).rightFirst)} | ${slips.length === 0 ? "" : pct(slips.filter((r) => r.slipNamed).length / slips.length)} | ${doubles(harness)} | ${againstBestPlan(harness)} |`,
  );
  for (const [family, s] of Object.entries(plain.perFamily)) families.set(family, [...(families.get(family) ?? []), s]);
  // Answers as on the screen: the first, and the next after each of its proposals.
  const truth = truths.find((t) => complaintOf(harness, [t.fault.faultAt(t.severity)]) !== undefined);
  const run = truth === undefined ? undefined : practise(harness, [truth], { chance: chanceOf(1) });
  if (run === undefined) continue;
  const fresh = load(name);
  const evidence = [...run.complaint.evidence];
  const times: number[] = [];
  for (const step of [undefined, ...run.steps]) {
    if (step !== undefined)
      evidence.push({
        id: `t${times.length}`,
        state: step.test.state,
        observe: step.test.observe,
        result: step.result,
        source: "technician",
      });
    const from = performance.now();
    answerCase({ ...DEFAULT_QUESTION, harness: fresh, focus: run.complaint.focus, state: run.complaint.state, evidence: [...evidence] });
    times.push(performance.now() - from);
  }
  console.error(
    `${name}: first answer ${times[0]!.toFixed(0)} ms, further ones ${times
      .slice(1)
      .map((t) => t.toFixed(0))
      .join(", ")} ms`,
  );
}

console.log("\n| family | cases | right first | wrong part | mean tests | mean min |\n| --- | --- | --- | --- | --- | --- |");
for (const [family, list] of [...families].sort()) {
  const cases = list.reduce((n, s) => n + s.cases, 0);
  const mean = (of: (s: Summary) => number): number => list.reduce((sum, s) => sum + s.cases * of(s), 0) / cases;
  console.log(
    `| ${family} | ${cases} | ${pct(mean((s) => s.rightFirst))} | ${pct(mean((s) => s.wrongPart))} | ${mean((s) => s.meanTests).toFixed(2)} | ${mean((s) => s.meanMinutes).toFixed(1)} |`,
  );
}
