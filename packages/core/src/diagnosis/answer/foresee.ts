import { batteryNegative, batteryPositive } from "../../harness/index.ts";
import { isFirstAnswer, type Diagnosis, type Question } from "./diagnose.ts";
import { wordShares } from "../evidence/likelihood.ts";
import { outcomeOf, type Outcome } from "../evidence/outcome.ts";
import { RESULT_WORDS, type ResultWord } from "../evidence/kinds/index.ts";
import type { Evidence, Result } from "../evidence/evidence.ts";
import type { Test } from "../predict/oracle.ts";

/** Outcomes of the next test that are thought through. */
const MOST = 3;

/**
 * The questions that will most likely be asked next: `test`, the first proposed one when left out, done with what the likeliest suspects make it show. Answering them while hands are
 * at work fills everything that is kept, so that the real answer comes at once.
 */
export function foreseen(q: Question, d: Diagnosis, test: Test | undefined = d.next()[0]): readonly Question[] {
  if (test === undefined) return [];
  const { observe, state } = test;
  const found = new Map<Outcome, Result>();
  const cases = d.belief.alive.toSorted((p, r) => d.belief.posterior(r) - d.belief.posterior(p));
  for (const c of [...cases.slice(0, 40), undefined]) {
    const p = d.oracle.predict(test, c === undefined ? undefined : d.belief.bestAt(c));
    if (Number.isNaN(p.value) || p.oscillating === true) continue;
    const outcome = outcomeOf(observe, p);
    if (found.has(outcome)) continue;
    if (observe.kind in RESULT_WORDS) {
      const word = Object.entries(wordShares(observe, p)).reduce((a, b) => (b[1] > a[1] ? b : a))[0] as ResultWord;
      found.set(outcome, { kind: "word", word });
    } else found.set(outcome, Number.isFinite(p.value) ? { kind: "value", value: p.value } : { kind: "over" });
    if (found.size === MOST) break;
  }
  return [...found.values()].map((result) => after(q, { id: "foreseen", state, observe, result, source: "technician" }));
}

/**
 * Before anything was measured: the same with a good battery, measured at the place where everybody begins. Whatever is measured first makes the severities of all that is likely be
 * weighed finely, which no other reading at any place has to do again.
 */
export function firstMeasured(q: Question, d: Diagnosis): Question | undefined {
  if (!isFirstAnswer(q)) return undefined;
  const observe = { kind: "volts", red: batteryPositive(q.harness), black: batteryNegative(q.harness) } as const;
  const { value } = d.oracle.predict({ state: q.state, observe }, undefined);
  if (!Number.isFinite(value)) return undefined;
  return after(q, { id: "foreseen", state: q.state, observe, result: { kind: "value", value }, source: "technician" });
}

const after = (q: Question, found: Evidence): Question => ({ ...q, evidence: [...q.evidence, found], vehicleNow: found.state });
