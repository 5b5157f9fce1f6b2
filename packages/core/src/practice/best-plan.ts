import {
  believe,
  createOracle,
  everyTest,
  LEAST_BITS,
  minutesOf,
  outcomeOf,
  type Outcome,
  partsMadeAccessible,
  hypothesisSpaceOf,
  POOR_BITS_PER_MINUTE,
  worthOf,
  type Hypothesis,
  type Oracle,
  type RankedTest,
} from "../diagnosis/index.ts";
import { stateKey, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import type { Complaint } from "./complaint.ts";

/** Two ways to the same end, in expected minutes from the complaint until one repair is left. */
export interface Plans {
  /** Best information per minute, one test at a time. */
  readonly greedyMinutes: number;
  /** The best of all sequences of tests. */
  readonly bestMinutes: number;
  readonly suspects: number;
  /** False where the search was broken off: `bestMinutes` is then the best that was found. */
  readonly whole: boolean;
}

/** One repair is left when it holds so much of the belief. */
const LEFT = 0.95;

/** No test takes less. */
const QUICKEST_MINUTES = 0.2;

interface PlanState {
  readonly state: VehicleState;
  readonly accessible: ReadonlySet<string>;
  readonly key: string;
}

/**
 * Compares the way of choosing with the best plan, found by searching all sequences of tests that split what is left. Readings are taken as exact, each case as one severity; tests that
 * split what is left alike count as one, the quickest of them. `mostNodes`: after so many the search is broken off.
 */
export function comparePlans(harness: Harness, complaint: Complaint, mostNodes: number): Plans {
  const oracle = createOracle(hypothesisSpaceOf(harness, complaint.focus, complaint.state));
  const belief = believe(oracle, complaint.evidence);
  const cases = belief.alive.filter((c) => belief.posterior(c) > 1e-4);
  const total = cases.reduce((s, c) => s + belief.posterior(c), 0);
  const weights = cases.map((c) => belief.posterior(c) / total);
  const tests = everyTest(oracle, belief, complaint.evidence, complaint.state, complaint.focus);
  const outcomes = tests.map((t) => Int32Array.from(cases, (c) => comesOutAs(oracle, t, c)));
  const start: PlanState = { state: complaint.state, accessible: new Set(), key: stateKey(complaint.state) };
  const all = cases.map((_, i) => i);
  const minutes = new Map<string, number>();
  const costOf = (t: number, from: PlanState): number => {
    const key = `${t} ${from.key}`;
    const known = minutes.get(key) ?? minutesOf(harness, tests[t]!, from.state, from.accessible);
    minutes.set(key, known);
    return known;
  };
  const after = (t: number, from: PlanState): PlanState => {
    const accessible = new Set([...from.accessible, ...partsMadeAccessible(harness, tests[t]!)]);
    return { state: tests[t]!.state, accessible, key: `${stateKey(tests[t]!.state)} ${[...accessible].sort().join(" ")}` };
  };
  const weightOf = (set: readonly number[]): number => set.reduce((s, i) => s + weights[i]!, 0);
  const isDone = (set: readonly number[]): boolean => {
    const byRepair = new Map<number, number>();
    for (const i of set) byRepair.set(cases[i]!.repair, (byRepair.get(cases[i]!.repair) ?? 0) + weights[i]!);
    return Math.max(...byRepair.values()) >= LEFT * weightOf(set);
  };
  const split = (t: number, set: readonly number[]): readonly (readonly number[])[] => {
    const parts = new Map<number, number[]>();
    for (const i of set) {
      const o = outcomes[t]![i]!;
      const part = parts.get(o);
      if (part === undefined) parts.set(o, [i]);
      else part.push(i);
    }
    return [...parts.values()];
  };
  const bitsOf = (parts: readonly (readonly number[])[], set: readonly number[]): number =>
    entropyOf(set, cases, weights) - parts.reduce((s, p) => s + (weightOf(p) / weightOf(set)) * entropyOf(p, cases, weights), 0);

  /** Tests that split a set, the quickest of each kind of split, best information per minute first. */
  const choices = (
    set: readonly number[],
    from: PlanState,
  ): { t: number; parts: readonly (readonly number[])[]; minutes: number; rate: number }[] => {
    const best = new Map<string, { t: number; parts: readonly (readonly number[])[]; minutes: number; rate: number }>();
    for (let t = 0; t < tests.length; t++) {
      const parts = split(t, set);
      if (parts.length < 2) continue;
      const key = parts
        .map((p) => p.join(","))
        .sort()
        .join("|");
      const cost = costOf(t, from);
      if (cost >= (best.get(key)?.minutes ?? Infinity)) continue;
      const bits = bitsOf(parts, set);
      if (bits >= LEAST_BITS) best.set(key, { t, parts, minutes: cost, rate: worthOf(bits, cost) });
    }
    return [...best.values()].sort((p, q) => q.rate - p.rate);
  };

  const greedy = (set: readonly number[], from: PlanState): number => {
    if (isDone(set)) return 0;
    const open = choices(set, from);
    const plain = open.find((c) => !tests[c.t]!.isAct);
    const next = plain !== undefined && plain.rate > POOR_BITS_PER_MINUTE ? plain : open[0];
    if (next === undefined) return 0;
    const there = after(next.t, from);
    return next.minutes + next.parts.reduce((s, p) => s + (weightOf(p) / weightOf(set)) * greedy(p, there), 0);
  };

  const memo = new Map<string, number>();
  let nodes = 0;
  let whole = true;
  /** The best from here; `limit`: anything above is of no use. */
  const best = (set: readonly number[], from: PlanState, limit: number): number => {
    if (isDone(set)) return 0;
    const key = `${set.join(",")} ${from.key}`;
    const known = memo.get(key);
    if (known !== undefined) return known;
    const open = choices(set, from);
    if (open.length === 0) return 0;
    if (++nodes > mostNodes) {
      whole = false;
      return greedy(set, from);
    }
    let found = Infinity;
    for (const c of open) {
      if (c.minutes >= Math.min(found, limit)) continue;
      const there = after(c.t, from);
      // What is not done with this needs one more test at least.
      const open = c.parts.filter((p) => !isDone(p));
      let bound = c.minutes + (open.reduce((w, p) => w + weightOf(p), 0) / weightOf(set)) * QUICKEST_MINUTES;
      if (bound >= Math.min(found, limit)) continue;
      let sum = c.minutes;
      // Heaviest first, so that what is too dear is seen soon.
      for (const p of open.sort((x, y) => weightOf(y) - weightOf(x))) {
        const share = weightOf(p) / weightOf(set);
        bound -= share * QUICKEST_MINUTES;
        const cost = share * best(p, there, (Math.min(found, limit) - bound) / share);
        sum += cost;
        bound += cost;
        if (bound >= Math.min(found, limit)) {
          sum = Infinity;
          break;
        }
      }
      if (sum < found) found = sum;
    }
    if (found < limit) memo.set(key, found);
    return found;
  };
  const greedyMinutes = greedy(all, start);
  return {
    greedyMinutes,
    bestMinutes: Math.min(greedyMinutes, best(all, start, greedyMinutes + 1e-9)),
    suspects: new Set(cases.map((c) => c.repair)).size,
    whole,
  };
}

const comesOutAs = (oracle: Oracle, test: RankedTest, c: Hypothesis): Outcome => outcomeOf(test.observe, oracle.predict(test, c));

function entropyOf(set: readonly number[], cases: readonly Hypothesis[], weights: readonly number[]): number {
  const byRepair = new Map<number, number>();
  let total = 0;
  for (const i of set) {
    byRepair.set(cases[i]!.repair, (byRepair.get(cases[i]!.repair) ?? 0) + weights[i]!);
    total += weights[i]!;
  }
  let bits = 0;
  for (const w of byRepair.values()) bits -= (w / total) * Math.log2(w / total);
  return bits;
}
