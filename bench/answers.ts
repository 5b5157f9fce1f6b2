/**
 * How long answers take as the screen asks for them: from a complaint first what can be told at once, then everything; after each reading the ranking, the best test at hand and the best of
 * all, with the likeliest outcomes thought through beforehand as while hands are at work. A vehicle read anew for each complaint. Run: node --import ./scripts/ts-hook.mjs bench/answers.ts
 * [complaints] [name ...]
 */
import { readFileSync } from "node:fs";
import { answerCase, DEFAULT_QUESTION, diagnose, foreseen, type Question } from "@rheonom/core/diagnosis";
import { resolveVariant, type Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { chanceOf, complaintOf, practise, truthsOf, type Run } from "@rheonom/core/practice";

const [count = "8", ...names] = process.argv.slice(2);
const load = (name: string): Harness =>
  resolveVariant(parseNotation(readFileSync(new URL(`../demo/vehicles/${name}.circuit`, import.meta.url), "utf8")).harness!, []);

const timed = (work: () => unknown): number => {
  const from = performance.now();
  work();
  return performance.now() - from;
};
function told(list: readonly number[]): string {
  const sorted = [...list].sort((p, q) => p - q);
  const at = (share: number): string => `${sorted[Math.max(0, Math.ceil(share * sorted.length) - 1)]?.toFixed(0) ?? "–"}`;
  return `${at(0.5)}, ${at(0.9)}, ${at(0.95)}, ${at(1)}`;
}

/** Runs of the simulated technician over complaints that a driver has, spread evenly. */
function runsOf(harness: Harness): readonly Run[] {
  const noticed = truthsOf(harness, 60, 11).filter((t) => complaintOf(harness, [t.fault.faultAt(t.severity)]) !== undefined);
  const step = Math.max(1, Math.floor(noticed.length / Number(count)));
  return noticed
    .filter((_, i) => i % step === 0)
    .slice(0, Number(count))
    .flatMap((t, i) => practise(harness, [t], { chance: chanceOf(i + 1) }) ?? []);
}

console.log("Milliseconds: median, 90th, 95th, worst\n");
console.log(
  "| vehicle | first ranking | first test at hand | everything from the complaint | ranking after a reading | best at hand | best of all |",
);
console.log("| --- | --- | --- | --- | --- | --- | --- |");
for (const name of names.length > 0 ? names : ["brigg", "plover"]) {
  const times: Record<"first" | "atHand" | "whole" | "ranking" | "next" | "best", number[]> = {
    first: [],
    atHand: [],
    whole: [],
    ranking: [],
    next: [],
    best: [],
  };
  for (const run of runsOf(load(name))) {
    const ask = (evidence: Question["evidence"]): Question => ({
      ...DEFAULT_QUESTION,
      harness,
      focus: run.complaint.focus,
      state: run.complaint.state,
      evidence,
    });
    const harness = load(name);
    let evidence = [...run.complaint.evidence];
    const foresee = (): void => {
      const q = ask(evidence);
      for (const next of foreseen(q, diagnose(q))) answerCase(next, "at hand");
    };
    times.first.push(timed(() => answerCase({ ...ask(evidence), isRough: true }, "none")));
    times.atHand.push(timed(() => answerCase({ ...ask(evidence), isRough: true }, "at hand")));
    times.whole.push(timed(() => answerCase(ask(evidence))));
    foresee();
    for (const { test, result } of run.steps) {
      evidence = [...evidence, { id: `t${evidence.length}`, state: test.state, observe: test.observe, result, source: "technician" }];
      times.ranking.push(timed(() => answerCase(ask(evidence), "none")));
      times.next.push(timed(() => answerCase(ask(evidence), "at hand")));
      times.best.push(timed(() => answerCase(ask(evidence))));
      foresee();
    }
  }
  console.log(
    `| ${name} | ${[times.first, times.atHand, times.whole, times.ranking, times.next, times.best].map((t) => told(t)).join(" | ")} |`,
  );
}
