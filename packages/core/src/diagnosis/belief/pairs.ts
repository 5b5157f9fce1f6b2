import type { Evidence } from "../evidence/evidence.ts";
import type { Between } from "../evidence/likelihood.ts";
import type { Oracle } from "../predict/oracle.ts";
import type { Hypothesis } from "../hypotheses/space.ts";

/** Faults that explain most by themselves, and how many others are tried beside each of them. */
const FIRSTS = 5;
const SECONDS = 8;
/** Pairs whose severities are sought more finely, by which factors, and how many steps to either side. */
const REFINED = 8;
const STEPS = [1.35, 1.35, 1.07, 1.07, 1.015] as const;
const HALF_WAY = 5;
/** With more cases than this, on a circuit that is not small, only so few are tried of each: a pair costs a solution in every state. */
const MANY_CASES = 250;
const FEW = 3;
/** What a severity that was fitted costs, natural logarithm. */
const FITTED = -1.5;

/** A pair of faults with the natural logarithm of prior times likelihood. */
export interface Pair {
  readonly of: Hypothesis;
  readonly log: number;
}

export interface PairSearch {
  readonly oracle: Oracle;
  readonly evidence: readonly Evidence[];
  /** Single faults, likeliest first. */
  readonly leaders: readonly Hypothesis[];
  readonly bestAt: (of: Hypothesis) => Hypothesis;
  /** Whether a hypothesis explains a piece of evidence badly. */
  readonly isOff: (evidence: number, of: Hypothesis) => boolean;
  /** The same as a natural logarithm that falls without end, to feel the way to a severity by. */
  readonly slopeOf: (evidence: number, of: Hypothesis) => number;
  /** Natural logarithm of how well a hypothesis explains a piece of evidence, wrong readings allowed for. */
  readonly logOf: (evidence: number, of: Hypothesis, between: Between) => number;
}

/**
 * Two faults at once, for when one does not explain what was found: beside each of the likeliest the faults that explain what it leaves open, solved together. Returned with
 * the natural logarithm of prior times likelihood. de Kleer and Williams (1987) search the same way, from the likeliest on.
 */
export function pairsOf(search: PairSearch): readonly Pair[] {
  const { space } = search.oracle;
  const many = space.hypotheses.length > MANY_CASES && !space.isSmall;
  const { oracle, evidence, leaders, bestAt, isOff, logOf, slopeOf } = search;
  const sum = (c: Hypothesis): number => evidence.reduce((s, _, i) => s + logOf(i, c, "point"), 0);
  const near = (c: Hypothesis): number => evidence.reduce((s, _, i) => s + slopeOf(i, c), 0);
  const firsts = [...new Map(leaders.toReversed().map((c) => [c.repair, c])).values()].toReversed().slice(0, many ? FEW : FIRSTS);
  const tried = new Map<number, { readonly of: Hypothesis; readonly near: number }>();
  for (const first of firsts) {
    const open = evidence.flatMap((_, i) => (isOff(i, first) ? [i] : []));
    if (open.length === 0) continue;
    const others = new Map<string, { readonly cases: Hypothesis[]; best: number }>();
    for (const c of oracle.space.hypotheses) {
      if (c.logPrior === -Infinity || c.repair === first.repair || oracle.isDeferred(c)) continue;
      const log = c.logPrior + open.reduce((s, i) => s + logOf(i, c, "best"), 0);
      const known = others.get(c.fault.id) ?? { cases: [], best: -Infinity };
      known.cases.push(c);
      known.best = Math.max(known.best, log);
      others.set(c.fault.id, known);
    }
    const seconds = [...others.values()].sort((p, q) => q.best - p.best).slice(0, many ? FEW : SECONDS);
    for (const { cases } of seconds) {
      const pairs = cases.map((c) => oracle.pairOf(bestAt(first), c)).map((of) => ({ of, near: near(of) }));
      const best = pairs.reduce((p, q) => (q.near > p.near ? q : p));
      tried.set(best.of.index, best);
    }
  }
  const ranked = [...tried.values()].sort((p, q) => q.near - p.near);
  return ranked.map(({ of }, i) => {
    const best = i < (many ? FEW : REFINED) ? refined(oracle, of, near) : of;
    const fitted = [best, best.second!].filter((c) => c.fault.severities.length > 1).length;
    return { of: best, log: best.logPrior + sum(best) + FITTED * fitted };
  });
}

/** Moves one severity and then the other to where both together fit best, in ever smaller steps. */
function refined(oracle: Oracle, start: Hypothesis, near: (of: Hypothesis) => number): Hypothesis {
  let [best, fit] = [start, near(start)];
  for (const step of STEPS)
    for (const which of ["second", "first"] as const) {
      const first = best.alone ?? best;
      const second = best.second!;
      const moved = which === "second" ? second : first;
      if (moved.fault.severities.length < 2 || moved.severity <= 0) continue;
      for (let k = -HALF_WAY; k <= HALF_WAY; k++) {
        const at = oracle.at(moved, Number((moved.severity * step ** k).toPrecision(4)));
        const now = which === "second" ? oracle.pairOf(first, at) : oracle.pairOf(at, second);
        const there = near(now);
        if (there > fit) [best, fit] = [now, there];
      }
    }
  return best;
}
