import { isScale } from "./kind.ts";
import { kindOf, type Observable } from "./kinds/index.ts";
import { SWINGS_WITHIN } from "./likelihood.ts";
import { normal } from "./normal.ts";
import type { Predicted } from "./predicted.ts";

declare const outcome: unique symbol;
/**
 * What one test may come out as, wide enough that two outcomes can mostly be told apart by one reading. A number only so that it can be counted by; nothing is read off it: two outcomes
 * of one test are the same when they are equal.
 */
export type Outcome = number & { readonly [outcome]: true };

/** Nothing is known of what it will show. */
const UNTOLD = -1 as Outcome;
const OVER_RANGE = 1e5 as Outcome;
/** It swings around a middle, told to so many steps. */
const swinging = (middle: number): Outcome => (1e6 + Math.round(middle / (2 * SWINGS_WITHIN))) as Outcome;
/** A step on the scale of a meter. */
const onScale = (step: number): Outcome => step as Outcome;
/** The word of that number among those that a test may be answered with. */
export const wordOutcome = (index: number): Outcome => index as Outcome;
/** Nothing to be seen along a loom, or damage on the wires of a repair. */
export const loomLookOutcome = (repair: number | undefined): Outcome => (repair ?? -1) as Outcome;

/** Standard deviations of a reading that one outcome spans: with sharp borders, and with those that a meter blurs. */
const SHARP_SIGMAS = 4;
const SOFT_SIGMAS = 2;

/** Where a predicted value stands on its scale; undefined beyond its end and where words are given. */
function stepsOf(o: Observable, value: number): number | undefined {
  const { read } = kindOf(o);
  return isScale(read) ? read.steps(value) : undefined;
}

/** Outcomes that a predicted value may be read as, each with its chance. */
export function outcomesOf(o: Observable, p: Predicted): readonly (readonly [outcome: Outcome, share: number])[] {
  const at = Number.isNaN(p.value) || p.oscillating === true ? undefined : stepsOf(o, p.value);
  if (at === undefined) return [[outcomeOf(o, p), 1]];
  const first = Math.floor(at / SOFT_SIGMAS) - 1;
  return [0, 1, 2].map((k) => {
    const low = (first + k) * SOFT_SIGMAS - at;
    const [below, above] = [k === 0 ? 0 : normal(low), k === 2 ? 1 : normal(low + SOFT_SIGMAS)];
    return [onScale(first + k), above - below] as const;
  });
}

/** The outcome that a predicted value falls into; of words the likeliest. */
export function outcomeOf(o: Observable, p: Predicted): Outcome {
  if (Number.isNaN(p.value)) return UNTOLD;
  if (p.oscillating === true) return swinging(p.value);
  const { read } = kindOf(o);
  if (!isScale(read)) return wordOutcome(read.likeliest(p.value));
  const at = read.steps(p.value);
  return at === undefined ? OVER_RANGE : onScale(Math.round(at / SHARP_SIGMAS));
}
