import type { Evidence } from "./evidence.ts";
import { likelihood, type Between } from "./outcome.ts";
import type { Oracle } from "./oracle.ts";
import { pairsOf } from "./pairs.ts";
import { UNLISTED, type Case } from "./pool.ts";

/** Chance that a whole reading is wrong: a slipped lead, a misread digit, a customer's memory. */
const GROSS = { technician: 0.012, customer: 0.06, scan: 0.012 } as const;
/** Natural logarithm of how much less likely than the best a case may be before it is no longer computed. */
const DEAD = -13;
/** Graded cases whose severity is sought more finely, and into how many each is split, twice over; with many cases once something was measured. */
const MOST_REFINED = 40;
const PARTS = 5;
/** A case is split when its own severities differ by this much in how they fit, natural logarithm. */
const WORTH_REFINING = 0.7;

/** A reading that a case explains so many times worse than one that says nothing does not fit it. */
const BADLY = 0.15;

/** How sure it is that the complaint was there while a reading was taken. */
export interface Presence {
  /** Share of the time that the fault is there: 1 for one that always is. */
  readonly share: number;
}

export interface Belief {
  /** Probability of single faults by case index; with pairs and `unlisted` they sum to 1. Size cases. */
  readonly cases: Float64Array;
  /** By repair index. */
  readonly repairs: Float64Array;
  /** That it is none of the catalogue. */
  readonly unlisted: number;
  /** By evidence: chance that it was a wrong reading. */
  readonly doubt: readonly number[];
  /** How much better a case explains one piece of evidence than a reading that says nothing would, natural logarithm. */
  readonly explains: (evidence: number, of: Case) => number;
  /** Probability of a case, a pair of faults among them. */
  readonly share: (of: Case) => number;
  /** Probability of a repair if one piece of evidence had not been found. */
  readonly without: (evidence: number, repair: number) => number;
  /** Cases that are still weighed; pairs of faults where no single one explains what was found. */
  readonly alive: readonly Case[];
  /** A case at the severity that fits best. */
  readonly bestAt: (of: Case) => Case;
}

/** Likelihoods that were computed, by the evidence itself: it is immutable. */
const memo = new WeakMap<Evidence, WeakMap<Oracle, Map<number, number>>>();
const KINDS: Readonly<Record<Between, number>> = { point: 0, spread: 1, best: 2 };

/** Weighs every case of the pool against all evidence at once: the same evidence gives the same belief in whatever order it came, but for what is too unlikely to be counted. */
export function believe(oracle: Oracle, evidence: readonly Evidence[], presence: Presence = { share: 1 }): Belief {
  // What shakes the whole circuit is solved once nothing simpler explains what was found, likeliest first.
  if (!evidence.every(isOfComplaint)) oracle.settleAll();
  for (let round = 0; ; round++) {
    const belief = weigh(oracle, evidence, presence);
    const putOff = belief.alive.filter((c) => oracle.isPutOff(c));
    const share = putOff.reduce((sum, c) => sum + belief.share(c), 0);
    if (share < PUT_OFF_SHARE || evidence.length < PUT_OFF_EVIDENCE || round === PUT_OFF_ROUNDS) return belief;
    putOff
      .toSorted((p, q) => belief.share(q) - belief.share(p))
      .slice(0, PUT_OFF_AT_ONCE)
      .forEach((c) => oracle.settle(c));
  }
}

/** What is there before anything is measured: words about parts, and what the modules say. */
const isOfComplaint = ({ observe, result, source }: Evidence): boolean =>
  source === "scan" || (observe.kind === "part" && result.kind === "word");

/** Cases that were put off are solved when they hold this much of the belief after so many findings, so many at once and so often. */
const PUT_OFF_SHARE = 0.4;
const PUT_OFF_EVIDENCE = 3;
const PUT_OFF_AT_ONCE = 16;
const PUT_OFF_ROUNDS = 4;

function weigh(oracle: Oracle, evidence: readonly Evidence[], presence: Presence): Belief {
  const { cases, repairs } = oracle.pool;
  const known = evidence.map((e) => memoOf(oracle, e));
  const there = evidence.map((e) => (presence.share >= 1 ? 1 : e.present === undefined ? presence.share : e.present ? 0.97 : 0.04));
  const whenAway = evidence.map((e, i) => (there[i]! < 1 ? likelihood(e.observe, e.result, oracle.predict(e, undefined)) : 1));
  const ratio = (i: number, c: Case, between: Between): number => {
    const key = 3 * c.index + KINDS[between];
    let r = known[i]!.get(key);
    if (r === undefined) {
      const e = evidence[i]!;
      r = likelihood(e.observe, e.result, oracle.predict(e, c, between !== "point"), between);
      if (!oracle.isPutOff(c)) known[i]!.set(key, r);
    }
    return there[i]! * r + (1 - there[i]!) * whenAway[i]!;
  };
  // What a scan found beside the complaint, and no fault near it explains, is another matter.
  const aside = evidence.map((e, i) => e.source === "scan" && !cases.some((c) => ratio(i, c, "spread") > 1));
  const logOf = (i: number, c: Case, between: Between): number => {
    if (aside[i] === true) return 0;
    const gross = GROSS[evidence[i]!.source];
    return Math.log((1 - gross) * ratio(i, c, between) + gross);
  };
  const all = (c: Case, between: Between): number => evidence.reduce((sum, _, i) => sum + logOf(i, c, between), 0);

  // First by what each case could explain at its best, so that none is dropped for a severity that lies between two.
  const other = Math.log(UNLISTED);
  let alive: readonly Case[] = cases;
  const best = Float64Array.from(cases, (c) => c.logPrior);
  const spread = Float64Array.from(cases, (c) => c.logPrior);
  evidence.forEach((_, i) => {
    let top = other;
    for (const c of alive) {
      best[c.index]! += logOf(i, c, "best");
      spread[c.index]! += logOf(i, c, "spread");
      top = Math.max(top, spread[c.index]!);
    }
    alive = alive.filter((c) => best[c.index]! > top + DEAD);
  });

  // Then the graded ones at finer severities, where it matters.
  const logs = new Float64Array(cases.length).fill(-Infinity);
  const at = new Map<number, Case>();
  for (const c of alive) logs[c.index] = spread[c.index]!;
  const graded = alive.filter((c) => c.fault.severities.length > 1 && c.severity > 0 && best[c.index]! - spread[c.index]! > WORTH_REFINING);
  graded
    .toSorted((p, q) => best[q.index]! - best[p.index]!)
    .slice(0, (oracle.pool.isLarge || oracle.pool.isWide) && evidence.every(isOfComplaint) ? 0 : MOST_REFINED)
    .forEach((c) => {
      const fine = refine(oracle, c, (x) => all(x, "point"));
      logs[c.index] = c.logPrior + fine.log;
      at.set(c.index, fine.best);
    });
  const top = Math.max(other, ...alive.map((c) => logs[c.index]!));
  alive = alive.filter((c) => logs[c.index]! > top + DEAD);

  const bestAt = (c: Case): Case => at.get(c.index) ?? c;
  const between = (c: Case): Between => (at.has(c.index) || c.second !== undefined ? "point" : "spread");
  const leader = alive.reduce<Case | undefined>((p, q) => (p === undefined || logs[q.index]! > logs[p.index]! ? q : p), undefined);
  const isOff = (i: number, c: Case): boolean => aside[i] !== true && ratio(i, bestAt(c), between(c)) < BADLY;
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
  const weights = new Float64Array(cases.length);
  for (const c of alive) weights[c.index] = Math.exp(logs[c.index]! - summit);
  alive = [...alive, ...pairs.filter((p) => p.log > summit + DEAD).map((p) => p.of)];
  const rest = Math.exp(other - summit);
  let total = rest;
  for (const w of weights) total += w;
  for (const log of pairLogs.values()) total += Math.exp(log - summit);
  const posterior = weights.map((w) => w / total);
  const share = (c: Case): number =>
    c.second === undefined ? posterior[c.index]! : Math.exp((pairLogs.get(c.index) ?? -Infinity) - summit) / total;
  const byRepair = new Float64Array(repairs.length);
  // Where two wires touch both have to be mended, so that what is left may sum to more than 1 over the repairs.
  for (const c of alive) for (const r of oracle.pool.repairsOf(c)) byRepair[r]! += share(c);
  const doubt = evidence.map((e, i) => {
    if (aside[i] === true) return 0;
    const gross = GROSS[e.source];
    return alive.reduce((sum, c) => sum + share(c) * (gross / ((1 - gross) * ratio(i, bestAt(c), between(c)) + gross)), rest / total);
  });
  const without = (i: number, repair: number): number => {
    const gross = GROSS[evidence[i]!.source];
    let [mine, all] = [0, rest / total];
    for (const c of alive) {
      const w = share(c) / ((1 - gross) * ratio(i, bestAt(c), between(c)) + gross);
      all += w;
      if (oracle.pool.repairsOf(c).includes(repair)) mine += w;
    }
    return mine / all;
  };
  return {
    cases: posterior,
    without,
    share,
    repairs: byRepair,
    unlisted: rest / total,
    doubt,
    explains: (i, c) => Math.log(Math.max(1e-12, ratio(i, bestAt(c), between(c)))),
    alive,
    bestAt,
  };
}

/** The mean likelihood over the severities around a case, as a logarithm, and the severity that fits best: split once over its whole stretch and once more around the best. */
function refine(oracle: Oracle, c: Case, fit: (at: Case) => number): { readonly log: number; readonly best: Case } {
  const [low, high] = stretchOf(c);
  const points: { readonly at: Case; readonly log: number; readonly width: number }[] = [];
  const split = (from: number, to: number, share: number): void => {
    for (let k = 0; k < PARTS; k++) {
      const at = oracle.at(c, Number((from * (to / from) ** ((k + 0.5) / PARTS)).toPrecision(4)));
      points.push({ at, log: fit(at), width: share / PARTS });
    }
  };
  split(low, high, 1);
  const index = points.reduce((p, q, i) => (q.log > points[p]!.log ? i : p), 0);
  const [coarse] = points.splice(index, 1) as [(typeof points)[number]];
  const step = (high / low) ** (1 / PARTS);
  split(low * step ** index, low * step ** (index + 1), coarse.width);
  const best = points.reduce((p, q) => (q.log > p.log ? q : p), coarse);
  const sum = points.reduce((s, p) => s + p.width * Math.exp(p.log - best.log), 0);
  return { log: best.log + Math.log(sum), best: best.at };
}

/** From half-way to the next lower severity to half-way to the next higher, as ratios; the ends reach as far out as in. */
function stretchOf({ fault: { severities }, severity }: Case): readonly [low: number, high: number] {
  const sorted = [...severities].filter((s) => s > 0).sort((p, q) => p - q);
  const i = sorted.indexOf(severity);
  const [below, above] = [sorted[i - 1], sorted[i + 1]];
  const down = below === undefined ? Math.sqrt((above ?? severity * 2) / severity) : Math.sqrt(severity / below);
  const up = above === undefined ? down : Math.sqrt(above / severity);
  return [severity / down, severity * up];
}

function memoOf(oracle: Oracle, e: Evidence): Map<number, number> {
  const byOracle = memo.get(e) ?? new WeakMap<Oracle, Map<number, number>>();
  memo.set(e, byOracle);
  const known = byOracle.get(oracle) ?? new Map<number, number>();
  byOracle.set(oracle, known);
  return known;
}
