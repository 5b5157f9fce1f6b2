import type { VehicleState } from "../../circuit/index.ts";
import type { Belief } from "../belief/belief.ts";
import { INSTRUMENTS, isSafe, type TestSetting, type CandidateTest, type VehicleSetup } from "../effort/candidate-test.ts";
import { actsFor, dropsAcross, levelsAt, ohmsAcross, otherUses, readingsAt } from "./candidates.ts";
import { lookupOf } from "../../harness/index.ts";
import { lastUsed } from "../../quantity/index.ts";
import { minutesOf } from "../effort/cost.ts";
import { damagedIn, mayTryFuse } from "../proof/enough.ts";
import { observableKey, type Evidence } from "../evidence/evidence.ts";
import { isScale } from "../evidence/kind.ts";
import { kindOf, type Observable } from "../evidence/kinds/index.ts";
import { isOff } from "../predict/moved-by.ts";
import type { Oracle, Test } from "../predict/oracle.ts";
import { wordShares } from "../evidence/likelihood.ts";
import { loomLookOutcome, outcomeOf, outcomesOf, wordOutcome, type Outcome } from "../evidence/outcome.ts";
import { leadGuard } from "./lead-guard.ts";
import { exactly, type Predicted } from "../evidence/predicted.ts";
import { othersFound, standsAt } from "../evidence/wire-colour.ts";
import type { Hypothesis } from "../hypotheses/space.ts";
import { segmentsOf } from "../predict/look-chance.ts";
import { stateKey } from "../../circuit/index.ts";

export interface RankedTest extends CandidateTest {
  /** It changes something on the vehicle, or takes more than leads and a look. */
  readonly isAct: boolean;
  /** What it is expected to tell about which thing is to be mended, bits. */
  readonly bits: number;
  readonly minutes: number;
}

/** Hypotheses that together hold this much of the belief decide what is worth measuring. */
const COVERED = 0.999;
const MOST_CASES = 600;
const MOST_CASES_ANEW = 60;
/** Below this a test tells nothing worth the walk, bits. */
export const LEAST_BITS = 0.04;
/** When what lies at hand tells less than this a minute, more is tried: plugs, lamps, looks. Bits. */
export const POOR_BITS_PER_MINUTE = 0.8;

/** Belief in what would put voltage between the leads of an ohmmeter, at most. */
const MOST_LIVE = 0.02;

/** What every test takes beside the work of the hands: reading what to do, and telling what came out. Minutes. */
const HANDLING_MINUTES = 1.2;
/** What a test is worth. */
export const worthOf = (bits: number, minutes: number): number => bits / (minutes + HANDLING_MINUTES);
/** Up to so many cases other switches are tried in thought as well. */
const FEW_CASES = 250;

/** Tests whose worth is taken exactly in any case. */
const LEAST_WEIGHED = 12;

/** Whatever is looked at looks the same in every state. */
export const testKey = (t: Test): string => `${t.observe.kind === "look" ? "" : stateKey(t.state)}|${observableKey(t.observe)}`;

/** How far it is looked for a test: leads and eyes where the vehicle stands; further where those tell little; or everything at once. */
export type SearchDepth = "at hand" | "as needed" | "everything";

/** All safe tests worth doing, best information per minute first. `confirms`: a repair that is to be told from all others, whichever of those it may be. */
export function rankTests(
  oracle: Oracle,
  belief: Belief,
  evidence: readonly Evidence[],
  setting: TestSetting,
  setup: VehicleSetup,
  reach: SearchDepth = "as needed",
  confirms?: number,
): readonly RankedTest[] {
  const heavy = heaviest(belief, MOST_CASES);
  const times = new Map<string, number>();
  evidence.forEach((e, i) => {
    // What is doubted may be done once more, and so may what was measured while the trouble was away.
    if (e.present === false && e.observe.kind !== "look") return;
    const again = belief.doubt[i]! > 0.5;
    times.set(testKey(e), (times.get(testKey(e)) ?? 0) + (again ? 1 : 2));
  });
  // Where damage was seen nobody looks again, nor along the loom in which it is.
  const damaged = new Set(damagedIn(evidence).flatMap((at) => [at, ...(lookupOf(oracle.space.harness).wires.get(at)?.segments ?? [])]));
  // Another fuse only after a lamp in its place, and not onto what looks like a short.
  const isRashFuse = (id: string): boolean =>
    lookupOf(oracle.space.harness).parts.get(id)?.kind === "fuse" && !mayTryFuse(oracle, belief, evidence, setting.state, id);
  // Where another wire was found than is drawn nobody measures by the drawing.
  const otherWires = othersFound(oracle.space.harness, evidence);
  const blowsLead = leadGuard(oracle, belief, setting.state);
  // Ohms prove nothing where there is voltage, and a suspect may be what puts it there.
  const isLive = (c: CandidateTest, asked: readonly Hypothesis[]): boolean =>
    oracle.predict(c, undefined).oscillating === true ||
    asked.reduce((sum, h) => sum + (oracle.predict(c, belief.bestAt(h)).oscillating === true ? belief.posterior(h) : 0), 0) > MOST_LIVE;
  // A new state costs a solution for each case: only the heaviest are asked there.
  const few = heavy.slice(0, MOST_CASES_ANEW);
  const rate = (r: RankedTest): number => worthOf(r.bits, r.minutes);
  const byRate = (list: RankedTest[]): RankedTest[] => list.sort((p, q) => rate(q) - rate(p));
  const rank = (list: readonly CandidateTest[], asked: readonly Hypothesis[], isAct = false): RankedTest[] => {
    const rough = [...new Map(list.map((c) => [testKey(c), c])).values()].flatMap((c): RankedTest[] => {
      if ((times.get(testKey(c)) ?? 0) >= 2 || !isSafe(oracle, c)) return [];
      if (c.observe.kind === "ohms" && isLive(c, asked)) return [];
      if (blowsLead(c) || standsAt(oracle.space.harness, otherWires, c.observe)) return [];
      if (c.observe.kind === "look" && damaged.has(c.observe.at)) return [];
      if (c.observe.kind === "fuse" && isRashFuse(c.observe.at)) return [];
      const bits = expectedBits(oracle, belief, asked, c, confirms);
      return bits < LEAST_BITS ? [] : [{ ...c, isAct, bits, minutes: minutesOf(oracle.space.harness, c, setup.state, setup.accessible) }];
    });
    // Sharp borders between outcomes promise too much: the best are weighed again with the spread that a meter has, until nothing that is left could be better.
    let top = 0;
    const weighed = byRate(rough).map((r, i) => {
      if (i >= LEAST_WEIGHED && rate(r) <= top) return r;
      const exact = { ...r, bits: expectedBits(oracle, belief, asked, r, confirms, true) };
      top = Math.max(top, rate(exact));
      return exact;
    });
    return weighed.filter((r) => r.bits >= LEAST_BITS);
  };
  // A lead that was put on for one test does not stay for the next.
  const standing: VehicleState = { ...setup.state, bridged: setting.state.bridged };
  const states = new Map([setting.state, standing].map((s) => [stateKey(s), s]));
  const others = reach !== "at hand" && heavy.length <= FEW_CASES ? otherUses(oracle, belief, setting) : [];
  const readings = [...states.values()].flatMap((s) => [
    ...readingsAt(oracle, belief, s, setting),
    ...dropsAcross(oracle, belief, s, setting),
    ...levelsAt(oracle, belief, s, setting),
  ]);
  // Who hears whom costs solutions of its own for every case: on a whole vehicle only the heaviest are asked.
  const isCostly = (c: CandidateTest): boolean => oracle.space.isLarge && c.kind === "ask modules";
  const plain = rank(
    readings.filter((c) => !isCostly(c)),
    heavy,
  );
  plain.push(...rank(readings.filter(isCostly), few));
  plain.push(...rank([...others, ...ohmsAcross(oracle, belief, setting)], few));
  byRate(plain);
  const enough = plain[0] !== undefined && rate(plain[0]) > POOR_BITS_PER_MINUTE;
  if (reach === "at hand" || (enough && reach !== "everything")) return plain;
  return byRate([...plain, ...rank(actsFor(oracle, belief, setting, setup, offReadings(oracle, evidence, setting.state)), few, true)]);
}

/** What a meter showed in a state that is not as on a sound vehicle, the last first, and not more than is worth watching while something is unplugged. */
function offReadings(oracle: Oracle, evidence: readonly Evidence[], state: VehicleState): readonly Observable[] {
  const key = stateKey(state);
  const off = evidence.filter(
    (e) => (e.observe.kind === "amps" || e.observe.kind === "volts") && stateKey(e.state) === key && isOff(oracle, e),
  );
  return [...new Map(off.toReversed().map((e) => [testKey(e), e.observe])).values()].slice(0, MOST_WATCHED);
}
const MOST_WATCHED = 2;

/** Every test that tells something at the beginning of a case, acts included, with all instruments. */
export function everyTest(
  oracle: Oracle,
  belief: Belief,
  evidence: readonly Evidence[],
  state: VehicleState,
  focus: readonly string[],
): readonly RankedTest[] {
  const setting: TestSetting = { state, focus, instruments: new Set(INSTRUMENTS), presence: 1 };
  return rankTests(oracle, belief, evidence, setting, { state, accessible: new Set() }, "everything");
}

/** The hypotheses that carry the belief, heaviest first; `most`: as many as are worth solving in a state of their own. */
export function heaviest(belief: Belief, most = MOST_CASES_ANEW): readonly Hypothesis[] {
  const sorted = [...belief.alive].sort((p, q) => belief.posterior(q) - belief.posterior(p));
  const found: Hypothesis[] = [];
  let sum = 0;
  for (const c of sorted) {
    found.push(c);
    sum += belief.posterior(c);
    if (sum > COVERED || found.length >= most) break;
  }
  return found;
}

/** Mutual information of the outcome and what is to be mended, bits; of the outcome and whether it is one certain repair with `only`. */
export function expectedBits(
  oracle: Oracle,
  belief: Belief,
  cases: readonly Hypothesis[],
  test: Test,
  only?: number,
  isSoft = false,
): number {
  const joint = new Map<Outcome, Map<number, number>>();
  const byRepair = new Map<number, number>();
  let total = 0;
  const put = (outcome: Outcome, repair: number, weight: number): void => {
    if (weight <= 0) return;
    const row = joint.get(outcome) ?? new Map<number, number>();
    joint.set(outcome, row);
    row.set(repair, (row.get(repair) ?? 0) + weight);
    byRepair.set(repair, (byRepair.get(repair) ?? 0) + weight);
    total += weight;
  };
  const spread = spreadsOf(oracle, test, isSoft);
  for (const c of cases) {
    const weight = belief.posterior(c);
    const mended = only === undefined ? c.repair : oracle.space.repairsOf(c).includes(only) ? 1 : 0;
    spread(belief.bestAt(c), (outcome, share) => put(outcome, mended, weight * share));
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

/** By what was computed and by test: the outcome of each hypothesis of the space, or the chance that something is so. */
const outcomesKept = new WeakMap<object, Map<string, Int32Array | Float64Array>>();
/** Tests whose outcomes are kept. */
const MOST_TESTS = 800;
const NOT_YET = -(2 ** 31);

/** As `spreadOf`, with what a case shows kept beside what was computed: it does not change with what was found. */
function spreadsOf(oracle: Oracle, test: Test, isSoft: boolean): (of: Hypothesis, put: (outcome: Outcome, share: number) => void) => void {
  const { state, observe } = test;
  const { read } = kindOf(observe);
  const anew = (of: Hypothesis, put: (outcome: Outcome, share: number) => void): void => spreadOf(oracle, test, of, isSoft, put);
  if (isSoft && isScale(read)) return anew;
  const isChance = !isScale(read) && read.isChance;
  const size = oracle.space.hypotheses.length;
  const byTest = outcomesKept.get(oracle.computed) ?? new Map<string, Int32Array | Float64Array>();
  outcomesKept.set(oracle.computed, byTest);
  const key = `${stateKey(state)} ${JSON.stringify([state.temperatureC, observe])}`;
  const known = lastUsed(byTest, key, MOST_TESTS, () => (isChance ? new Float64Array(size) : new Int32Array(size)).fill(NOT_YET));
  return (of, put) => {
    // What was made while thinking is numbered behind the space.
    if (of.index >= size) return anew(of, put);
    if (known[of.index] === NOT_YET) {
      const p = oracle.predict(test, of);
      if (oracle.isDeferred(of)) return spreadPredicted(oracle, observe, of, p, isSoft, put);
      known[of.index] = isChance ? p.value : outcomeOf(observe, p);
    }
    if (isChance) spreadPredicted(oracle, observe, of, exactly(known[of.index]!), isSoft, put);
    else put(known[of.index]! as Outcome, 1);
  };
}

/** What a test comes out as in one case, each outcome with its chance. `isSoft`: with the spread that a meter has; else with sharp borders. */
export function spreadOf(
  oracle: Oracle,
  test: Test,
  of: Hypothesis,
  isSoft: boolean,
  put: (outcome: Outcome, share: number) => void,
): void {
  spreadPredicted(oracle, test.observe, of, oracle.predict(test, of), isSoft, put);
}

function spreadPredicted(
  oracle: Oracle,
  observe: Observable,
  of: Hypothesis,
  p: Predicted,
  isSoft: boolean,
  put: (outcome: Outcome, share: number) => void,
): void {
  const { read } = kindOf(observe);
  // Whoever looks along a loom and finds damage sees which wires it is.
  if (observe.kind === "look" && segmentsOf(oracle.space.harness).has(observe.at)) {
    put(loomLookOutcome(undefined), 1 - p.value);
    put(loomLookOutcome(of.repair), p.value);
  } else if (!isScale(read) && read.isChance && !Number.isNaN(p.value))
    Object.values(wordShares(observe, p)).forEach((share, i) => put(wordOutcome(i), share));
  else if (isSoft) for (const [outcome, share] of outcomesOf(observe, p)) put(outcome, share);
  else put(outcomeOf(observe, p), 1);
}
