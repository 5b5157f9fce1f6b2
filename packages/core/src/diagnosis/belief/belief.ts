import type { Evidence } from "../evidence/evidence.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { likelihood, type Between } from "../evidence/likelihood.ts";
import type { Predicted } from "../evidence/predicted.ts";
import type { Oracle } from "../predict/oracle.ts";
import { pairsOf } from "./pairs.ts";
import { UNLISTED, type Hypothesis } from "../hypotheses/space.ts";
import { refine } from "./refine.ts";

/** Chance that a whole reading is wrong: a slipped lead, a misread digit, a customer's memory. */
const GROSS = { technician: 0.012, customer: 0.06, scan: 0.012 } as const;
/** A look is as good as the eye, which the prediction knows; what is left is a wrong entry. */
const GROSS_LOOK = 0.003;
const grossOf = ({ observe, source }: Evidence): number => (observe.kind === "look" ? GROSS_LOOK : GROSS[source]);
/** Natural logarithm of how much less likely than the best a hypothesis may be before it is no longer computed. */
const DEAD = -13;
/** Graded cases whose severity is sought more finely; with many cases once something was measured. */
const MOST_REFINED = 40;
/** A hypothesis is split when its own severities differ by this much in how they fit, natural logarithm. */
const WORTH_REFINING = 0.7;

/** A reading that a hypothesis explains so many times worse than one that says nothing does not fit it. */
const BADLY = 0.15;

/** How sure it is that the complaint was there while a reading was taken. */
export interface Presence {
  /** Share of the time that the fault is there: 1 for one that always is. */
  readonly share: number;
}

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

/** Likelihoods that were computed, by the evidence itself: it is immutable. */
const memo = new WeakMap<Evidence, WeakMap<Oracle, Map<number, number>>>();
const KINDS: Readonly<Record<Between, number>> = { point: 0, spread: 1, best: 2 };

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

/** What tells of one wire and not of its neighbour on the same nets. */
const isOwn = ({ observe }: Evidence): boolean => kindOf(observe).isOwn;

/** What is there before anything is measured: words about parts, and what the modules say. */
export const isOfComplaint = ({ observe, result, source }: Evidence): boolean =>
  source === "scan" || (observe.kind === "part" && result.kind === "word");

/** Hypotheses that were deferred are solved after so many findings, so many at once and so often, when they may be this near the best, natural logarithm. */
const DEFERRED_EVIDENCE = 3;
const DEFERRED_AT_ONCE = 16;
const DEFERRED_ROUNDS = 4;
const NEAR = 1.5;

function weigh(oracle: Oracle, evidence: readonly Evidence[], presence: Presence): Belief {
  const { hypotheses, repairs } = oracle.space;
  const known = evidence.map((e) => memoOf(oracle, e));
  // Damage shows whether the trouble does or not.
  const there = evidence.map((e) =>
    presence.share >= 1 || e.observe.kind === "look" ? 1 : e.present === undefined ? presence.share : e.present ? 0.97 : 0.04,
  );
  const whenAway = evidence.map((e, i) => (there[i]! < 1 ? likelihood(e.observe, e.result, oracle.predict(e, undefined)) : 1));
  const ratioAt = (i: number, p: Predicted, between: Between): number => {
    const { observe, result } = evidence[i]!;
    return there[i]! * likelihood(observe, result, p, between) + (1 - there[i]!) * whenAway[i]!;
  };
  const ratio = (i: number, c: Hypothesis, between: Between): number => {
    const key = 3 * c.index + KINDS[between];
    let r = known[i]!.get(key);
    if (r === undefined) {
      const e = evidence[i]!;
      r = likelihood(e.observe, e.result, oracle.predict(e, c, between !== "point"), between);
      if (!oracle.isDeferred(c)) known[i]!.set(key, r);
    }
    return there[i]! * r + (1 - there[i]!) * whenAway[i]!;
  };
  // What a scan found beside the complaint, and no fault near it explains, is another matter.
  const aside = evidence.map((e, i) => e.source === "scan" && !hypotheses.some((c) => ratio(i, c, "spread") > 1));
  /** As a natural logarithm, wrong readings allowed for. */
  const grossly = (i: number, ratio: number): number => {
    const gross = grossOf(evidence[i]!);
    return Math.log((1 - gross) * ratio + gross);
  };
  const logOf = (i: number, c: Hypothesis, between: Between): number => {
    if (aside[i] === true) return 0;
    return grossly(i, ratio(i, c, between));
  };

  // First by what each case could explain at its best, so that none is dropped for a severity that lies between two.
  const other = Math.log(UNLISTED);
  let alive: readonly Hypothesis[] = hypotheses;
  const best = Float64Array.from(hypotheses, (c) => c.logPrior);
  const spread = Float64Array.from(hypotheses, (c) => c.logPrior);
  evidence.forEach((_, i) => {
    let top = other;
    for (const c of alive) {
      best[c.index]! += logOf(i, c, "best");
      spread[c.index]! += logOf(i, c, "spread");
      top = Math.max(top, spread[c.index]!);
    }
    // Of what was deferred it is not known how much more it would explain.
    alive = alive.filter((c) => best[c.index]! > top + DEAD || oracle.isDeferred(c));
  });

  // Then the graded ones at finer severities, where it matters.
  const logs = new Float64Array(hypotheses.length).fill(-Infinity);
  const at = new Map<number, Hypothesis>();
  for (const c of alive) logs[c.index] = spread[c.index]!;
  const graded = alive.filter((c) => c.fault.severities.length > 1 && c.severity > 0 && best[c.index]! - spread[c.index]! > WORTH_REFINING);
  const alike = new Map<number, Hypothesis[]>();
  for (const c of graded.toSorted((p, q) => best[q.index]! - best[p.index]!)) {
    const first = oracle.space.representative[c.index]!;
    alike.set(first, [...(alike.get(first) ?? []), c]);
  }
  // Those that no instrument can tell apart are refined as one; what was looked at, moved or clamped is each one's own.
  [...alike.values()]
    .slice(0, (oracle.space.isLarge || oracle.space.isWide) && evidence.every(isOfComplaint) ? 0 : MOST_REFINED)
    .forEach((group) => {
      const shared = evidence.flatMap((e, i) => (aside[i] === true || (group.length > 1 && isOwn(e)) ? [] : [i]));
      const fine = refine(
        oracle,
        shared.map((i) => evidence[i]!),
        group[0]!,
        (k, p) => grossly(shared[k]!, ratioAt(shared[k]!, p, "point")),
      );
      for (const c of group) {
        const fitted = oracle.at(c, fine.best.severity);
        logs[c.index] = c.logPrior + fine.log;
        evidence.forEach((_, i) => (logs[c.index]! += shared.includes(i) ? 0 : logOf(i, fitted, "point")));
        at.set(c.index, fitted);
      }
    });
  const top = Math.max(other, ...alive.map((c) => logs[c.index]!));
  alive = alive.filter((c) => logs[c.index]! > top + DEAD || oracle.isDeferred(c));

  const bestAt = (c: Hypothesis): Hypothesis => at.get(c.index) ?? c;
  const between = (c: Hypothesis): Between => (at.has(c.index) || c.second !== undefined ? "point" : "spread");
  const leader = alive.reduce<Hypothesis | undefined>((p, q) => (p === undefined || logs[q.index]! > logs[p.index]! ? q : p), undefined);
  const isOff = (i: number, c: Hypothesis): boolean => aside[i] !== true && ratio(i, bestAt(c), between(c)) < BADLY;
  const misfits = leader === undefined || evidence.some((_, i) => isOff(i, leader));
  const pairs = misfits
    ? pairsOf({
        oracle,
        evidence,
        leaders: alive.toSorted((p, q) => logs[q.index]! - logs[p.index]!),
        bestAt,
        isOff,
        logOf,
        slopeOf: (i, c) => Math.log(Math.max(Number.MIN_VALUE, ratio(i, c, "point"))),
      })
    : [];
  const pairLogs = new Map(pairs.map((p) => [p.of.index, p.log]));
  const summit = Math.max(top, ...pairLogs.values());
  const weights = new Float64Array(hypotheses.length);
  for (const c of alive) weights[c.index] = Math.exp(logs[c.index]! - summit);
  alive = [...alive, ...pairs.filter((p) => p.log > summit + DEAD).map((p) => p.of)];
  const rest = Math.exp(other - summit);
  let total = rest;
  for (const w of weights) total += w;
  for (const log of pairLogs.values()) total += Math.exp(log - summit);
  const posteriors = weights.map((w) => w / total);
  const posterior = (c: Hypothesis): number =>
    c.second === undefined ? posteriors[c.index]! : Math.exp((pairLogs.get(c.index) ?? -Infinity) - summit) / total;
  const byRepair = new Float64Array(repairs.length);
  // Where two wires touch both have to be mended, so that what is left may sum to more than 1 over the repairs.
  for (const c of alive) for (const r of oracle.space.repairsOf(c)) byRepair[r]! += posterior(c);
  const doubt = evidence.map((e, i) => {
    if (aside[i] === true) return 0;
    const gross = grossOf(e);
    return alive.reduce((sum, c) => sum + posterior(c) * (gross / ((1 - gross) * ratio(i, bestAt(c), between(c)) + gross)), rest / total);
  });
  const without = (i: number, repair: number): number => {
    const gross = grossOf(evidence[i]!);
    let [mine, all] = [0, rest / total];
    for (const c of alive) {
      const w = posterior(c) / ((1 - gross) * ratio(i, bestAt(c), between(c)) + gross);
      all += w;
      if (oracle.space.repairsOf(c).includes(repair)) mine += w;
    }
    return mine / all;
  };
  return {
    posteriors,
    without,
    posterior,
    repairs: byRepair,
    unlisted: rest / total,
    doubt,
    explains: (i, c) => Math.log(Math.max(1e-12, ratio(i, bestAt(c), between(c)))),
    alive,
    bestAt,
  };
}

function memoOf(oracle: Oracle, e: Evidence): Map<number, number> {
  const byOracle = memo.get(e) ?? new WeakMap<Oracle, Map<number, number>>();
  memo.set(e, byOracle);
  const known = byOracle.get(oracle) ?? new Map<number, number>();
  byOracle.set(oracle, known);
  return known;
}
