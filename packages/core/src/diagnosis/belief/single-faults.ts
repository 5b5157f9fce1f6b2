import type { Evidence } from "../evidence/evidence.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import type { Between } from "../evidence/likelihood.ts";
import { UNLISTED, type Hypothesis } from "../hypotheses/space.ts";
import type { Oracle } from "../predict/oracle.ts";
import { promise, refine, type Fits } from "./refine.ts";
import type { Weigher } from "./weigher.ts";

/** Natural logarithm of how much less likely than the best a hypothesis may be before it is no longer computed. */
export const DEAD = -13;
/** Groups of graded hypotheses whose severity is sought more finely in any case, the most promising first; with many once something was measured. */
const MOST_REFINED = 40;
/** More of them, where they may hold more than this much less than the best, natural logarithm; and how many at most. */
const LITTLE = 2;
const MOST_REFINED_AT_ALL = 120;
/** Of so many it is told how much they promise. */
const MOST_LOOKED_AHEAD = 400;
/** A hypothesis is split when its own severities differ by this much in how they fit, natural logarithm. */
const WORTH_REFINING = 0.7;

/** Single faults weighed: prior times likelihood as natural logarithms, by hypothesis index. */
export interface SingleFaults {
  /** −Infinity for what is no longer computed. */
  readonly logs: Float64Array;
  readonly alive: readonly Hypothesis[];
  /** The best of them, or that it is none of the catalogue. */
  readonly top: number;
  /** A hypothesis at the severity that fits best. */
  readonly bestAt: (of: Hypothesis) => Hypothesis;
  /** How its neighbouring severities count from now on. */
  readonly between: (of: Hypothesis) => Between;
}

/** That it is none of the catalogue, natural logarithm. */
export const NONE_OF_THEM = Math.log(UNLISTED);

/** What is there before anything is measured: words about parts, and what the modules say. */
export const isOfComplaint = ({ observe, result, source }: Evidence): boolean =>
  source === "scan" || (observe.kind === "part" && result.kind === "word");

/** Weighs every hypothesis of the space by itself; graded ones that matter at finer severities. */
export function weighSingleFaults(oracle: Oracle, evidence: readonly Evidence[], weigher: Weigher): SingleFaults {
  const { hypotheses } = oracle.space;
  const { alive, best, spread } = prune(oracle, evidence, weigher);
  const logs = new Float64Array(hypotheses.length).fill(-Infinity);
  for (const c of alive) logs[c.index] = spread[c.index]!;
  const at = new Map<number, Hypothesis>();
  const graded = alive.filter((c) => c.fault.severities.length > 1 && c.severity > 0 && best[c.index]! - spread[c.index]! > WORTH_REFINING);
  const waits = (oracle.space.isLarge || oracle.space.isWide) && evidence.every(isOfComplaint);
  if (!waits) refineWhatMatters(oracle, evidence, weigher, groupsOf(oracle, graded, best), logs, at);
  const top = Math.max(NONE_OF_THEM, ...alive.map((c) => logs[c.index]!));
  return {
    logs,
    alive: alive.filter((c) => logs[c.index]! > top + DEAD || oracle.isDeferred(c)),
    top,
    bestAt: (c) => at.get(c.index) ?? c,
    between: (c) => (at.has(c.index) || c.second !== undefined ? "point" : "spread"),
  };
}

/** First by what each could explain at its best, so that none is dropped for a severity that lies between two. */
function prune(
  oracle: Oracle,
  evidence: readonly Evidence[],
  { logOf, unsaidLog }: Weigher,
): { readonly alive: readonly Hypothesis[]; readonly best: Float64Array; readonly spread: Float64Array } {
  const { hypotheses } = oracle.space;
  let alive: readonly Hypothesis[] = hypotheses.filter((c) => c.logPrior > -Infinity);
  const best = Float64Array.from(hypotheses, (c) => (c.logPrior > -Infinity ? c.logPrior + unsaidLog(c) : c.logPrior));
  const spread = Float64Array.from(best);
  evidence.forEach((_, i) => {
    let top = NONE_OF_THEM;
    for (const c of alive) {
      best[c.index]! += logOf(i, c, "best");
      spread[c.index]! += logOf(i, c, "spread");
      top = Math.max(top, spread[c.index]!);
    }
    // Of what was deferred it is not known how much more it would explain.
    alive = alive.filter((c) => best[c.index]! > top + DEAD || oracle.isDeferred(c));
  });
  return { alive, best, spread };
}

/** Those that no instrument can tell apart together, the best first. */
function groupsOf(oracle: Oracle, graded: readonly Hypothesis[], best: Float64Array): readonly (readonly Hypothesis[])[] {
  const alike = new Map<number, Hypothesis[]>();
  for (const c of graded.toSorted((p, q) => best[q.index]! - best[p.index]!)) {
    const first = oracle.space.representative[c.index]!;
    alike.set(first, [...(alike.get(first) ?? []), c]);
  }
  return [...alike.values()];
}

/** Refines the groups that may explain most, until what is left could not hold much of the belief. Writes `logs` and `at`. */
function refineWhatMatters(
  oracle: Oracle,
  evidence: readonly Evidence[],
  weigher: Weigher,
  groups: readonly (readonly Hypothesis[])[],
  logs: Float64Array,
  at: Map<number, Hypothesis>,
): void {
  const heaviest = (group: readonly Hypothesis[]): Hypothesis => group.reduce((p, c) => (c.logPrior > p.logPrior ? c : p));
  const ahead = groups
    .slice(0, MOST_LOOKED_AHEAD)
    .map((group) => {
      const [shared, fits] = sharedBy(evidence, weigher, group);
      return { group, promise: heaviest(group).logPrior + promise(oracle, shared, group[0]!, fits) };
    })
    .sort((p, q) => q.promise - p.promise);
  let top = Math.max(...logs);
  for (const [i, { group, promise: most }] of ahead.entries()) {
    if (i >= MOST_REFINED_AT_ALL || (i >= MOST_REFINED && most < top - LITTLE)) break;
    refineGroup(oracle, evidence, weigher, group, logs, at);
    for (const c of group) top = Math.max(top, logs[c.index]!);
  }
}

/** Evidence by which a group is refined as one, and how well it is fitted. */
function sharedBy(
  evidence: readonly Evidence[],
  { isAside, logAt, known }: Weigher,
  group: readonly Hypothesis[],
): readonly [shared: readonly Evidence[], fits: Fits, indices: readonly number[]] {
  const shared = evidence.flatMap((e, i) => (isAside(i) || (group.length > 1 && kindOf(e.observe).isOwn) ? [] : [i]));
  return [shared.map((i) => evidence[i]!), { logAt: (k, p) => logAt(shared[k]!, p), known: (k) => known(shared[k]!) }, shared];
}

/** Refines a group as one; what was looked at, moved or clamped is each one's own. Writes `logs` and `at`. */
function refineGroup(
  oracle: Oracle,
  evidence: readonly Evidence[],
  weigher: Weigher,
  group: readonly Hypothesis[],
  logs: Float64Array,
  at: Map<number, Hypothesis>,
): void {
  const { logOf, unsaidLog } = weigher;
  const [found, fits, shared] = sharedBy(evidence, weigher, group);
  const fine = refine(oracle, found, group[0]!, fits);
  for (const c of group) {
    const fitted = oracle.at(c, fine.best.severity);
    logs[c.index] = c.logPrior + unsaidLog(c) + fine.log;
    evidence.forEach((_, i) => (logs[c.index]! += shared.includes(i) ? 0 : logOf(i, fitted, "point")));
    at.set(c.index, fitted);
  }
}
