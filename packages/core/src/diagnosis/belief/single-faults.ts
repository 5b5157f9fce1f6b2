import type { Evidence } from "../evidence/evidence.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import type { Between } from "../evidence/likelihood.ts";
import { UNLISTED, type Hypothesis } from "../hypotheses/space.ts";
import type { Oracle } from "../predict/oracle.ts";
import { refine } from "./refine.ts";
import type { Weigher } from "./weigher.ts";

/** Natural logarithm of how much less likely than the best a hypothesis may be before it is no longer computed. */
export const DEAD = -13;
/** Graded hypotheses whose severity is sought more finely; with many once something was measured. */
const MOST_REFINED = 40;
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
  if (!waits)
    for (const group of groupsOf(oracle, graded, best).slice(0, MOST_REFINED)) refineGroup(oracle, evidence, weigher, group, logs, at);
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

/** Refines a group as one; what was looked at, moved or clamped is each one's own. Writes `logs` and `at`. */
function refineGroup(
  oracle: Oracle,
  evidence: readonly Evidence[],
  { isAside, logAt, logOf, unsaidLog, known }: Weigher,
  group: readonly Hypothesis[],
  logs: Float64Array,
  at: Map<number, Hypothesis>,
): void {
  const shared = evidence.flatMap((e, i) => (isAside(i) || (group.length > 1 && kindOf(e.observe).isOwn) ? [] : [i]));
  const fine = refine(
    oracle,
    shared.map((i) => evidence[i]!),
    group[0]!,
    {
      logAt: (k, p) => logAt(shared[k]!, p),
      known: (k) => known(shared[k]!),
    },
  );
  for (const c of group) {
    const fitted = oracle.at(c, fine.best.severity);
    logs[c.index] = c.logPrior + unsaidLog(c) + fine.log;
    evidence.forEach((_, i) => (logs[c.index]! += shared.includes(i) ? 0 : logOf(i, fitted, "point")));
    at.set(c.index, fitted);
  }
}
