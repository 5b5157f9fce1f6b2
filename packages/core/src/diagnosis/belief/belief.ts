import type { Evidence } from "../evidence/evidence.ts";
import type { Hypothesis } from "../hypotheses/space.ts";
import type { Oracle } from "../predict/oracle.ts";
import { pairsOf, type Pair } from "./pairs.ts";
import { DEAD, isOfComplaint, NONE_OF_THEM, weighSingleFaults, type SingleFaults } from "./single-faults.ts";
import { createWeigher, grossOf, type Presence, type Weigher } from "./weigher.ts";

/** Above this chance of having been wrong a piece of evidence is called doubtful. */
export const DOUBTFUL = 0.5;
/** While it is none of the catalogue with more than this chance, nothing fits. */
export const NOTHING_FITS = 0.3;
/** A reading that a hypothesis explains so many times worse than one that says nothing does not fit it. */
const BADLY = 0.15;

export interface Belief {
  /** Probability of single faults by hypothesis index; with pairs and `unlisted` they sum to 1. Size hypotheses. */
  readonly posteriors: Float64Array;
  /** By repair index. */
  readonly repairs: Float64Array;
  /** That it is none of the catalogue. */
  readonly unlisted: number;
  /** By evidence: chance that it was a wrong reading. */
  readonly doubt: readonly number[];
  /** How much better a hypothesis explains one piece of evidence than a reading that says nothing would, natural logarithm. */
  readonly explains: (evidence: number, of: Hypothesis) => number;
  /** Probability of a hypothesis, a pair of faults among them. */
  readonly posterior: (of: Hypothesis) => number;
  /** Probability of a repair if one piece of evidence had not been found. */
  readonly without: (evidence: number, repair: number) => number;
  /** Hypotheses that are still weighed; pairs of faults where no single one explains what was found. */
  readonly alive: readonly Hypothesis[];
  /** A hypothesis at the severity that fits best. */
  readonly bestAt: (of: Hypothesis) => Hypothesis;
}

/** Hypotheses that were deferred are solved after so many findings, so many at once and so often, when they may be this near the best, natural logarithm. */
const DEFERRED_EVIDENCE = 3;
const DEFERRED_AT_ONCE = 16;
const DEFERRED_ROUNDS = 4;
const NEAR = 1.5;

/** Weighs every case of the space against all evidence at once: the same evidence gives the same belief in whatever order it came, but for what is too unlikely to be counted. */
export function believe(oracle: Oracle, evidence: readonly Evidence[], presence: Presence = { share: 1 }): Belief {
  // What shakes the whole circuit is solved once it may explain what was found as well as anything that was.
  if (!evidence.every(isOfComplaint)) oracle.solveAllDeferred();
  for (let round = 0; ; round++) {
    const belief = weigh(oracle, evidence, presence);
    const waiting = evidence.length < DEFERRED_EVIDENCE || round === DEFERRED_ROUNDS ? [] : promising(oracle, evidence, belief);
    if (waiting.length === 0) return belief;
    waiting.slice(0, DEFERRED_AT_ONCE).forEach((c) => oracle.solveDeferred(c));
  }
}

/** Hypotheses that were deferred and would be near the best if they explained as well as that what was not computed for them; the best first. */
function promising(oracle: Oracle, evidence: readonly Evidence[], belief: Belief): readonly Hypothesis[] {
  const known = belief.alive.filter((c) => !oracle.isDeferred(c));
  const leader = known.reduce<Hypothesis | undefined>(
    (p, q) => (p === undefined || belief.posterior(q) > belief.posterior(p) ? q : p),
    undefined,
  );
  const fit = (i: number, c: Hypothesis | undefined): number =>
    c === undefined ? 0 : Math.max(Math.log(grossOf(evidence[i]!)), belief.explains(i, c));
  const sum = (c: Hypothesis): number =>
    c.logPrior +
    evidence.reduce(
      (s, e, i) => s + (c !== leader && Number.isNaN(oracle.predict(e, c).value) ? Math.max(0, fit(i, leader)) : fit(i, c)),
      0,
    );
  const best = leader === undefined ? -Infinity : sum(leader);
  return belief.alive
    .filter((c) => oracle.isDeferred(c))
    .map((of) => ({ of, log: sum(of) }))
    .filter(({ log }) => log > best - NEAR)
    .sort((p, q) => q.log - p.log)
    .map(({ of }) => of);
}

function weigh(oracle: Oracle, evidence: readonly Evidence[], presence: Presence): Belief {
  const weigher = createWeigher(oracle, evidence, presence);
  const singles = weighSingleFaults(oracle, evidence, weigher);
  return beliefFrom(oracle, evidence, weigher, singles, pairsWanted(oracle, evidence, weigher, singles));
}

/** Two faults at once, where the best single one does not explain all of the evidence. */
function pairsWanted(oracle: Oracle, evidence: readonly Evidence[], weigher: Weigher, singles: SingleFaults): readonly Pair[] {
  const { alive, logs, bestAt, between } = singles;
  const { ratio, logOf, isAside } = weigher;
  const leader = alive.reduce<Hypothesis | undefined>((p, q) => (p === undefined || logs[q.index]! > logs[p.index]! ? q : p), undefined);
  const isOff = (i: number, c: Hypothesis): boolean => !isAside(i) && ratio(i, bestAt(c), between(c)) < BADLY;
  if (leader !== undefined && !evidence.some((_, i) => isOff(i, leader))) return [];
  return pairsOf({
    oracle,
    evidence,
    leaders: alive.toSorted((p, q) => logs[q.index]! - logs[p.index]!),
    bestAt,
    isOff,
    logOf,
    slopeOf: (i, c) => Math.log(Math.max(Number.MIN_VALUE, ratio(i, c, "point"))),
  });
}

/** Weights → probabilities, and what they say of repairs and of the evidence itself. */
function beliefFrom(
  oracle: Oracle,
  evidence: readonly Evidence[],
  { ratio, isAside }: Weigher,
  { logs, alive: singles, top, bestAt, between }: SingleFaults,
  pairs: readonly Pair[],
): Belief {
  const { hypotheses, repairs, repairsOf } = oracle.space;
  const pairLogs = new Map(pairs.map((p) => [p.of.index, p.log]));
  const summit = Math.max(top, ...pairLogs.values());
  const weights = new Float64Array(hypotheses.length);
  for (const c of singles) weights[c.index] = Math.exp(logs[c.index]! - summit);
  const alive = [...singles, ...pairs.filter((p) => p.log > summit + DEAD).map((p) => p.of)];
  const rest = Math.exp(NONE_OF_THEM - summit);
  let total = rest;
  for (const w of weights) total += w;
  for (const log of pairLogs.values()) total += Math.exp(log - summit);
  const posteriors = weights.map((w) => w / total);
  const posterior = (c: Hypothesis): number =>
    c.second === undefined ? posteriors[c.index]! : Math.exp((pairLogs.get(c.index) ?? -Infinity) - summit) / total;
  const byRepair = new Float64Array(repairs.length);
  // Where two wires touch both have to be mended, so that what is left may sum to more than 1 over the repairs.
  for (const c of alive) for (const r of repairsOf(c)) byRepair[r]! += posterior(c);
  /** How well it is explained if the reading may be wrong. */
  const allowed = (i: number, c: Hypothesis): number => {
    const gross = grossOf(evidence[i]!);
    return (1 - gross) * ratio(i, bestAt(c), between(c)) + gross;
  };
  const doubtOf = (e: Evidence, i: number): number =>
    isAside(i) ? 0 : alive.reduce((sum, c) => sum + posterior(c) * (grossOf(e) / allowed(i, c)), rest / total);
  const without = (i: number, repair: number): number => {
    let [mine, all] = [0, rest / total];
    for (const c of alive) {
      const w = posterior(c) / allowed(i, c);
      all += w;
      if (repairsOf(c).includes(repair)) mine += w;
    }
    return mine / all;
  };
  return {
    posteriors,
    without,
    posterior,
    repairs: byRepair,
    unlisted: rest / total,
    doubt: evidence.map(doubtOf),
    // What was set aside speaks neither for nor against anything.
    explains: (i, c) => (isAside(i) ? 0 : Math.log(Math.max(1e-12, ratio(i, bestAt(c), between(c))))),
    alive,
    bestAt,
  };
}
