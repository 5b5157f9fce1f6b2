import type { Evidence } from "./evidence.ts";
import type { Between } from "./outcome.ts";
import type { Oracle } from "./oracle.ts";
import type { Case } from "./pool.ts";

/** Faults that explain most by themselves, and how many others are tried beside each of them. */
const FIRSTS = 5;
const SECONDS = 8;
/** Pairs whose severities are sought more finely. */
const REFINED = 6;
/** Steps between two severities of the catalogue. */
const STEPS = 6;
/** What a severity that was fitted costs, natural logarithm. */
const FITTED = -1.5;

export interface PairSearch {
  readonly oracle: Oracle;
  readonly evidence: readonly Evidence[];
  /** Single faults, likeliest first. */
  readonly leaders: readonly Case[];
  readonly bestAt: (of: Case) => Case;
  /** Whether a case explains a piece of evidence badly. */
  readonly isOff: (evidence: number, of: Case) => boolean;
  /** Natural logarithm of how well a case explains a piece of evidence. */
  readonly logOf: (evidence: number, of: Case, between: Between) => number;
}

/**
 * Two faults at once, for when one does not explain what was found: beside each of the likeliest the faults that explain what it leaves open, solved together. Returned with
 * the natural logarithm of prior times likelihood. de Kleer and Williams (1987) search the same way, from the likeliest on.
 */
export function pairsOf(search: PairSearch): readonly { readonly of: Case; readonly log: number }[] {
  const { oracle, evidence, leaders, bestAt, isOff, logOf } = search;
  const sum = (c: Case): number => evidence.reduce((s, _, i) => s + logOf(i, c, "point"), 0);
  const scored = (of: Case): { readonly of: Case; readonly log: number } => ({
    of,
    log: of.logPrior + sum(of) + FITTED * [of, of.second!].filter((c) => c.fault.severities.length > 1).length,
  });
  const firsts = [...new Map(leaders.toReversed().map((c) => [c.repair, c])).values()].toReversed().slice(0, FIRSTS);
  const tried = new Map<number, { readonly of: Case; readonly log: number }>();
  for (const first of firsts) {
    const open = evidence.flatMap((_, i) => (isOff(i, first) ? [i] : []));
    if (open.length === 0) continue;
    const others = new Map<string, { readonly cases: Case[]; best: number }>();
    for (const c of oracle.pool.cases) {
      if (c.repair === first.repair || oracle.isPutOff(c)) continue;
      const log = c.logPrior + open.reduce((s, i) => s + logOf(i, c, "best"), 0);
      const known = others.get(c.fault.id) ?? { cases: [], best: -Infinity };
      known.cases.push(c);
      known.best = Math.max(known.best, log);
      others.set(c.fault.id, known);
    }
    const seconds = [...others.values()].sort((p, q) => q.best - p.best).slice(0, SECONDS);
    for (const { cases } of seconds) {
      const best = cases.map((c) => scored(oracle.pairOf(bestAt(first), c))).reduce((p, q) => (q.log > p.log ? q : p));
      tried.set(best.of.index, best);
    }
  }
  const ranked = [...tried.values()].sort((p, q) => q.log - p.log);
  return [...ranked.slice(0, REFINED).map((p) => refined(oracle, p, scored)), ...ranked.slice(REFINED)];
}

/** Moves one severity and then the other to where both together fit best. */
function refined(
  oracle: Oracle,
  start: { readonly of: Case; readonly log: number },
  scored: (of: Case) => { readonly of: Case; readonly log: number },
): { readonly of: Case; readonly log: number } {
  let best = start;
  for (let round = 0; round < 2; round++)
    for (const which of ["second", "first"] as const) {
      const first = best.of.alone ?? best.of;
      const { second } = best.of;
      const moved = which === "second" ? second! : first;
      if (moved.fault.severities.length < 2 || moved.severity <= 0) continue;
      const step = 3 ** (1 / STEPS);
      for (let k = -STEPS; k <= STEPS; k++) {
        const at = oracle.at(moved, Number((moved.severity * step ** k).toPrecision(4)));
        const now = scored(which === "second" ? oracle.pairOf(first, at) : oracle.pairOf(at, second!));
        if (now.log > best.log) best = now;
      }
    }
  return best;
}
