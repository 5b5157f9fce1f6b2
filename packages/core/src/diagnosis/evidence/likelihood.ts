import { OHMS_RANGE } from "../../instruments/index.ts";
import type { Result } from "./evidence.ts";
import { isScale, type Scale } from "./kind.ts";
import { kindOf, type Observable } from "./kinds/index.ts";
import { normal } from "./normal.ts";
import type { Predicted } from "./predicted.ts";
import { EVEN, VOLTS } from "./scales.ts";

/** The middle of a reading that swings is known to so many volts. */
export const SWINGS_WITHIN = 0.7;

/** The scale of what is measured; where words are given none is used but for a mistaken entry, which is taken as volts. */
const scaleOf = (o: Observable): Scale => {
  const { read } = kindOf(o);
  return isScale(read) ? read : VOLTS;
};

/** One standard deviation of a reading around what the model says, in the unit of `scaled`. Only for what is measured. */
export const sigmaOf = (o: Observable, value: number): number => scaleOf(o).sigma(value);

/** A value on the scale on which readings are compared: ohms by decades, everything else as it is. */
export const scaled = (o: Observable, value: number): number => scaleOf(o).scaled(value);

/**
 * How severities around the one that was computed count: not at all ("point"), spread over what lies between its neighbours ("spread"), or the one among them that fits
 * best, whatever the other readings say ("best"), which is never too low.
 */
export type Between = "point" | "spread" | "best";

/** What the next lower and the next higher severity show: twice as far off as half-way. */
const neighboursIn = ({ value, low, high }: Predicted): readonly [number, number] => [2 * low - value, 2 * high - value];
/** Places between them at which a word is tried. */
const WORD_STEPS = [0, 0.05, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 0.9, 0.95, 1] as const;

/** How well a reading that swings fits one that stands still: hardly, unless it may swing at a degree between two that do not. */
const STANDS_STILL = 0.02;
const BETWEEN_DEGREES = 0.3;

/** How much better than a reading that says nothing one fits that is so many widths of a swing off. */
const normalRatio = (o: Observable, off: number): number =>
  Math.exp((-off * off) / 2) / (SWINGS_WITHIN * Math.sqrt(2 * Math.PI)) / scaleOf(o).broad;

function mayOscillateBetween(p: Predicted, { low, high }: Extract<Result, { kind: "swings" }>, between: Between): boolean {
  if (between === "point" || p.low === p.high) return false;
  const [from, to] = neighboursIn(p);
  return high >= Math.min(from, to) && low <= Math.max(from, to);
}

/** How well it fits that something was read where nothing should be readable: as good as not. */
const SHOWN_BY_THE_MUTE = 0.005;

/** How much better than a reading that says nothing a prediction explains a result: 1 where it neither speaks for nor against. */
export function likelihood(o: Observable, result: Result, p: Predicted, between: Between = "spread"): number {
  if (p.isMute === true) return result.kind === "over" ? 1 : SHOWN_BY_THE_MUTE;
  if (Number.isNaN(p.value)) return 1;
  switch (result.kind) {
    case "word":
      return ofWord(o, result.word, p, between);
    case "swings": {
      if (p.oscillating !== true) return mayOscillateBetween(p, result, between) ? BETWEEN_DEGREES : STANDS_STILL;
      const middle = normalRatio(
        o,
        ((result.low + result.high) / 2 - (p.between === undefined ? p.value : (p.between[0] + p.between[1]) / 2)) / SWINGS_WITHIN,
      );
      return p.between === undefined
        ? middle
        : middle * normalRatio(o, (result.high - result.low - (p.between[1] - p.between[0])) / SWINGS_WITHIN);
    }
    case "over":
    case "value":
      return p.oscillating === true ? 0.1 : ofReading(o, result, p, between);
  }
}

function ofWord(o: Observable, word: string, p: Predicted, between: Between): number {
  const at = (value: number): number => {
    const shares = wordShares(o, { ...p, value });
    return shares[word]! * Object.keys(shares).length;
  };
  if (between !== "best" || p.low === p.high) return at(p.value);
  const [from, to] = neighboursIn(p);
  return Math.max(...WORD_STEPS.map((share) => at(from + share * (to - from))), at(p.value));
}

function ofReading(o: Observable, result: Extract<Result, { kind: "over" | "value" }>, p: Predicted, between: Between): number {
  const scale = scaleOf(o);
  if (result.kind === "over" || (scale.unit === "Ω" && p.value >= OHMS_RANGE)) {
    const [seen, said] = [result.kind === "over", p.value >= OHMS_RANGE / 2];
    return seen === said ? 10 : 0.02;
  }
  const [from, to] = between === "best" ? neighboursIn(p) : [p.low, p.high];
  const [x, low, high] = [scale.scaled(result.value), scale.scaled(from), scale.scaled(to)];
  const off = result.mayBeOff ?? 0;
  const instrument = off === 0 ? 0 : scale.scaled(result.value + off) - x;
  const sigma = Math.hypot(scale.sigma(p.value), (result.resolution ?? 0) / 2, instrument / EVEN);
  const width = Math.abs(high - low);
  const middle = between === "best" ? Math.min(Math.max(low, high), Math.max(Math.min(low, high), x)) : scale.scaled(p.value);
  const density =
    between !== "spread" || width < sigma
      ? Math.exp(-(((x - middle) / sigma) ** 2) / 2) / (sigma * Math.sqrt(2 * Math.PI))
      : Math.abs(normal((x - Math.min(low, high)) / sigma) - normal((x - Math.max(low, high)) / sigma)) / width;
  return density / scale.broad;
}

/** Chance of each word that a test may be answered with; none for what is measured. */
export function wordShares(o: Observable, p: Predicted): Readonly<Record<string, number>> {
  const { read } = kindOf(o);
  return isScale(read) ? {} : read.shares(p);
}
