import type { VehicleState } from "../circuit/index.ts";
import type { Belief } from "./belief.ts";
import { actsFor, INSTRUMENTS, isSafe, otherUses, readingsAt, type Asking, type Candidate } from "./candidates.ts";
import { minutesOf } from "./cost.ts";
import { observableKey, type Evidence } from "./evidence.ts";
import type { Oracle, Test } from "./oracle.ts";
import { classOf, wordShares } from "./outcome.ts";
import type { Case } from "./pool.ts";
import { segmentsOf } from "./sight-of-fault.ts";
import { stateKey } from "../circuit/index.ts";

export interface Ranked extends Candidate {
  /** It changes something on the vehicle, or takes more than leads and a look. */
  readonly isAct: boolean;
  /** What it is expected to tell about which thing is to be mended, bits. */
  readonly bits: number;
  readonly minutes: number;
}

/** Cases that together hold this much of the belief decide what is worth measuring. */
const COVERED = 0.999;
const MOST_CASES = 600;
const MOST_CASES_ANEW = 60;
/** Below this a test tells nothing worth the walk, bits. */
export const LEAST_BITS = 0.02;
/** When what lies at hand tells less than this a minute, more is tried: plugs, lamps, looks. Bits. */
export const POOR_BITS_PER_MINUTE = 0.8;

/** Up to so many cases other switches are tried in thought as well. */
const FEW_CASES = 250;

/** Where the hands and the vehicle are. */
export interface Standing {
  readonly state: VehicleState;
  readonly reached: ReadonlySet<string>;
}

export const testKey = (t: Test): string => `${stateKey(t.state)}|${observableKey(t.observe)}`;

/** How far it is looked for a test: leads and eyes where the vehicle stands; further where those tell little; or everything at once. */
export type Reach = "at hand" | "as needed" | "everything";

/** All safe tests worth doing, best information per minute first. */
export function rankTests(
  oracle: Oracle,
  belief: Belief,
  evidence: readonly Evidence[],
  asking: Asking,
  standing: Standing,
  reach: Reach = "as needed",
): readonly Ranked[] {
  const heavy = heaviest(belief);
  const times = new Map<string, number>();
  evidence.forEach((e, i) => {
    // What is doubted may be done once more, and so may what was measured while the trouble was away.
    if (e.present === false) return;
    const again = belief.doubt[i]! > 0.5;
    times.set(testKey(e), (times.get(testKey(e)) ?? 0) + (again ? 1 : 2));
  });
  // A new state costs a solution for each case: only the heaviest are asked there.
  const few = heavy.slice(0, MOST_CASES_ANEW);
  const rank = (list: readonly Candidate[], asked: readonly Case[], isAct = false): Ranked[] =>
    list.flatMap((c) => {
      if ((times.get(testKey(c)) ?? 0) >= 2 || !isSafe(oracle, c)) return [];
      const bits = gainOf(oracle, belief, asked, c);
      return bits < LEAST_BITS ? [] : [{ ...c, isAct, bits, minutes: minutesOf(oracle.pool.harness, c, standing.state, standing.reached) }];
    });
  const states = new Map([asking.state, standing.state].map((s) => [stateKey(s), s]));
  const others = reach !== "at hand" && heavy.length <= FEW_CASES ? otherUses(oracle, asking) : [];
  const plain = rank(
    [...states.values()].flatMap((s) => readingsAt(oracle, s, asking)),
    heavy,
  );
  plain.push(...rank(others, few));
  const rate = (r: Ranked): number => r.bits / r.minutes;
  const byRate = (list: Ranked[]): Ranked[] => list.sort((p, q) => rate(q) - rate(p));
  byRate(plain);
  const enough = plain[0] !== undefined && rate(plain[0]) > POOR_BITS_PER_MINUTE;
  if (reach === "at hand" || (enough && reach !== "everything")) return plain;
  return byRate([...plain, ...rank(actsFor(oracle, belief, asking), few, true)]);
}

/** Every test that tells something at the beginning of a case, acts included, with all instruments. */
export function everyTest(
  oracle: Oracle,
  belief: Belief,
  evidence: readonly Evidence[],
  state: VehicleState,
  focus: readonly string[],
): readonly Ranked[] {
  const asking: Asking = { state, focus, instruments: new Set(INSTRUMENTS), presence: 1 };
  return rankTests(oracle, belief, evidence, asking, { state, reached: new Set() }, "everything");
}

/** The cases that carry the belief, heaviest first. */
function heaviest(belief: Belief): readonly Case[] {
  const sorted = [...belief.alive].sort((p, q) => belief.share(q) - belief.share(p));
  const found: Case[] = [];
  let sum = 0;
  for (const c of sorted) {
    found.push(c);
    sum += belief.share(c);
    if (sum > COVERED || found.length >= MOST_CASES) break;
  }
  return found;
}

/** Mutual information of the outcome and what is to be mended, bits. */
export function gainOf(oracle: Oracle, belief: Belief, cases: readonly Case[], test: Test): number {
  const joint = new Map<number, Map<number, number>>();
  const byRepair = new Map<number, number>();
  let total = 0;
  const put = (outcome: number, repair: number, weight: number): void => {
    if (weight <= 0) return;
    const row = joint.get(outcome) ?? new Map<number, number>();
    joint.set(outcome, row);
    row.set(repair, (row.get(repair) ?? 0) + weight);
    byRepair.set(repair, (byRepair.get(repair) ?? 0) + weight);
    total += weight;
  };
  const soft = ["look", "swap", "wiggle", "code", "answers"].includes(test.observe.kind);
  for (const c of cases) {
    const weight = belief.share(c);
    const p = oracle.predict(test, belief.bestAt(c));
    // Whoever looks along a loom and finds damage sees which wires it is.
    if (test.observe.kind === "look" && segmentsOf(oracle.pool.harness).has(test.observe.at)) {
      put(-1, c.repair, weight * (1 - p.value));
      put(c.repair, c.repair, weight * p.value);
    } else if (soft && !Number.isNaN(p.value))
      Object.values(wordShares(test.observe, p)).forEach((share, i) => put(i, c.repair, weight * share));
    else put(classOf(test.observe, p), c.repair, weight);
  }
  if (total === 0) return 0;
  let bits = 0;
  for (const row of joint.values()) {
    let out = 0;
    for (const w of row.values()) out += w;
    for (const [repair, w] of row) bits += (w / total) * Math.log2((w * total) / (out * byRepair.get(repair)!));
  }
  return Math.max(0, bits);
}
