import { predictedWords } from "../evidence/describe.ts";
import { isScale } from "../evidence/kind.ts";
import { kindOf } from "../evidence/kinds/index.ts";
import { loomLookOutcome, wordOutcome, type Outcome } from "../evidence/outcome.ts";
import { expectedBits, heaviest, spreadOf } from "../next-test/rank.ts";
import { segmentsOf } from "../predict/look-chance.ts";
import type { Test } from "../predict/oracle.ts";
import type { Harness } from "../../harness/index.ts";
import type { Hypothesis, Repair } from "../hypotheses/space.ts";
import { diagnose, type Diagnosis, type Question } from "./diagnose.ts";

/** One way in which a test may come out, and what would be left of the suspects then. */
export interface PossibleOutcome {
  /** What is read or seen. */
  readonly shows: string;
  /** 0 … 1. */
  readonly chance: number;
  /** Likeliest first, each with its share of what would be left, 0 … 1. */
  readonly left: readonly { readonly element: string; readonly share: number }[];
  /** Suspects beyond those that are named. */
  readonly more: number;
}

const MOST_OUTCOMES = 4;
const MOST_LEFT = 3;
/** Cases that are asked. */
const MOST_CASES = 300;
/** What is left with less than this is not counted among what is left. */
const LEAST_SHARE = 0.02;
/** An outcome that is less likely is not told. */
const LEAST_CHANCE = 0.01;

/** What a test can tell of what is to be mended, as things stand, bits; undefined where its places were not worked out. */
export function expectedBitsOf({ oracle, belief }: Diagnosis, test: Test): number | undefined {
  if (
    !kindOf(test.observe)
      .needs(test.observe)
      .every((p) => oracle.holds(p))
  )
    return undefined;
  return expectedBits(oracle, belief, heaviest(belief, MOST_CASES), test, undefined, true);
}

/** Why a test is worth doing: its likeliest outcomes with what would be left after each, as the question stands now. */
export function outcomesOfTest(q: Question, test: Test): readonly PossibleOutcome[] {
  const { oracle, belief } = diagnose(q);
  const cases = heaviest(belief, MOST_CASES);
  const found = new Map<Outcome, { chance: number; shows: string; most: number; readonly repairs: Map<number, number> }>();
  const shownAs = wordsOf(q.harness, test, oracle.space.repairs);
  let total = 0;
  for (const c of cases) {
    const best = belief.bestAt(c);
    const weight = belief.posterior(c);
    const predicted = predictedWords(test.observe, oracle.predict(test, best));
    spreadOf(oracle, test, best, false, (outcome, share) => {
      const w = weight * share;
      if (!(w > 0)) return;
      total += w;
      const at = found.get(outcome) ?? { chance: 0, shows: predicted, most: 0, repairs: new Map<number, number>() };
      found.set(outcome, at);
      at.chance += w;
      // A number is called by what the likeliest of its cases shows.
      if (w > at.most) {
        at.most = w;
        at.shows = shownAs(outcome, c) ?? predicted;
      }
      for (const r of oracle.space.repairsOf(c)) at.repairs.set(r, (at.repairs.get(r) ?? 0) + w);
    });
  }
  return [...found.values()]
    .filter((o) => o.chance > LEAST_CHANCE * total)
    .sort((p, r) => r.chance - p.chance)
    .slice(0, MOST_OUTCOMES)
    .map(({ chance, shows, repairs }) => {
      const left = [...repairs]
        .map(([r, w]) => ({ element: oracle.space.repairs[r]!.element, share: Math.min(1, w / chance) }))
        .filter((l) => l.share > LEAST_SHARE)
        .sort((p, r) => r.share - p.share);
      return { shows, chance: chance / total, left: left.slice(0, MOST_LEFT), more: Math.max(0, left.length - MOST_LEFT) };
    });
}

/** Calls an outcome by its word, or what a look along a loom finds by where it is; undefined for numbers. */
function wordsOf(
  harness: Harness,
  { observe }: Test,
  repairs: readonly Repair[],
): (outcome: Outcome, of: Hypothesis) => string | undefined {
  if (observe.kind === "look" && segmentsOf(harness).has(observe.at))
    return (outcome, of) => (outcome === loomLookOutcome(of.repair) ? `damage at ${repairs[of.repair]!.element}` : "no damage seen");
  const { read } = kindOf(observe);
  if (isScale(read)) return () => undefined;
  return (outcome) => read.words.find((_, i) => wordOutcome(i) === outcome);
}
