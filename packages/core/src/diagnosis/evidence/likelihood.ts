import {
  clampAmps,
  errorOf,
  FULL_WORK,
  FULL_WORK_BLUR,
  LAMP_LOOKS,
  lampLook,
  type LampLook,
  meterOhms,
  meterVolts,
  NO_WORK,
  NO_WORK_BLUR,
  OHMS_RANGE,
} from "../../instruments/index.ts";
import { RESULT_WORDS, type Observable, type Result, type ResultWord } from "./evidence.ts";

/**
 * What a supposed fault makes a test show: V, Ω, A; a lamp's light or a part's work as share of what it should be; or the chance that something is so (answers, code,
 * look, swap, wiggle). `low` and `high`: the same half-way to the neighbouring severities. NaN: there is no telling.
 */
export interface Predicted {
  readonly value: number;
  readonly low: number;
  readonly high: number;
  /** Where a test lamp or meter would be void or the part chatters. */
  readonly oscillating?: boolean;
}

/** How far a drawn length, a contact or the battery may be off: a fixed part and a share of the reading. V. */
export const MODEL_VOLTS = 0.02;
export const MODEL_SHARE = 0.012;
/** Chance that a look, a word or a scan is mistaken. */
const MISTAKEN = 0.02;
/** Readings that say nothing are spread over this many V, decades of Ω, or A. */
const BROAD = { volts: 20, decades: 9, amps: 60 } as const;
/** The middle of a reading that swings is known to so many volts. */
export const SWINGS_WITHIN = 0.7;
/** Light of a lamp near the eye's border between two words may be called either; natural logarithm of the share. */
const EYE = 0.35;

/** One standard deviation of a reading around what the model says, in the unit of `scaled`. */
export function sigmaOf(o: Observable, value: number): number {
  switch (o.kind) {
    case "volts":
    case "live":
      return Math.hypot(errorOf(meterVolts(value), value) / 1.7, MODEL_VOLTS + MODEL_SHARE * Math.abs(value));
    case "amps":
      return Math.hypot(errorOf(clampAmps(true), value) / 1.7, 0.04 * Math.abs(value));
    case "ohms":
      // On a logarithmic scale: a fifth, and the leads' tenths of an ohm.
      return 0.2 + errorOf(meterOhms(value, true), value) / Math.max(0.1, value) / 1.7;
    default:
      return EYE;
  }
}

/** Ohms are compared by decades, everything else as it is. */
export const scaled = (o: Observable, value: number): number =>
  o.kind === "ohms" ? Math.log(Math.min(OHMS_RANGE, Math.max(0.1, value))) : value;

const broadOf = (o: Observable): number =>
  o.kind === "ohms" ? 1 / (BROAD.decades * Math.LN10) : o.kind === "amps" ? 1 / BROAD.amps : 1 / BROAD.volts;

/** The standard normal distribution function; Abramowitz and Stegun 7.1.26, error below 1.5e-7. */
export function normal(x: number): number {
  const t = 1 / (1 + 0.3275911 * (Math.abs(x) / Math.SQRT2));
  const tail = ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-(x * x) / 2);
  return x > 0 ? 1 - tail / 2 : tail / 2;
}

/**
 * How severities around the one that was computed count: not at all ("point"), spread over what lies between its neighbours ("spread"), or the one among them that fits
 * best, whatever the other readings say ("best"), which is never too low.
 */
export type Between = "point" | "spread" | "best";

/** What the next lower and the next higher severity show: twice as far off as half-way. */
const neighboursIn = ({ value, low, high }: Predicted): readonly [number, number] => [2 * low - value, 2 * high - value];
/** Places between them at which a word is tried. */
const WORD_STEPS = [0, 0.05, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 0.9, 0.95, 1] as const;

/** How much better than a reading that says nothing a prediction explains a result: 1 where it neither speaks for nor against. */
export function likelihood(o: Observable, result: Result, p: Predicted, between: Between = "spread"): number {
  if (Number.isNaN(p.value)) return 1;
  if (result.kind === "word") {
    const { word } = result;
    const at = (value: number): number => {
      const shares = wordShares(o, { ...p, value });
      return shares[word]! * Object.keys(shares).length;
    };
    if (between !== "best" || p.low === p.high) return at(p.value);
    const [from, to] = neighboursIn(p);
    return Math.max(...WORD_STEPS.map((share) => at(from + share * (to - from))), at(p.value));
  }
  if (result.kind === "swings") {
    if (p.oscillating !== true) return 0.02;
    const off = ((result.low + result.high) / 2 - p.value) / SWINGS_WITHIN;
    return Math.exp(-(off * off) / 2) / (SWINGS_WITHIN * Math.sqrt(2 * Math.PI)) / broadOf(o);
  }
  if (p.oscillating === true) return 0.1;
  if (result.kind === "over" || (o.kind === "ohms" && p.value >= OHMS_RANGE)) {
    const [seen, said] = [result.kind === "over", p.value >= OHMS_RANGE / 2];
    return seen === said ? 10 : 0.02;
  }
  const [x, low, high] = [
    scaled(o, result.value),
    ...(between === "best" ? neighboursIn(p) : [p.low, p.high]).map((v) => scaled(o, v)),
  ] as [number, number, number];
  const sigma = Math.hypot(sigmaOf(o, p.value), (result.resolution ?? 0) / 2);
  const width = Math.abs(high - low);
  const middle = between === "best" ? Math.min(Math.max(low, high), Math.max(Math.min(low, high), x)) : scaled(o, p.value);
  const density =
    between !== "spread" || width < sigma
      ? Math.exp(-(((x - middle) / sigma) ** 2) / 2) / (sigma * Math.sqrt(2 * Math.PI))
      : Math.abs(normal((x - Math.min(low, high)) / sigma) - normal((x - Math.max(low, high)) / sigma)) / width;
  return density / broadOf(o);
}

const logistic = (x: number): number => 1 / (1 + Math.exp(-x));

/** Chance of each word that a test may be answered with. */
export function wordShares(o: Observable, p: Predicted): Readonly<Record<string, number>> {
  const spread = (shares: Readonly<Record<string, number>>): Readonly<Record<string, number>> => {
    const n = Object.keys(shares).length;
    return Object.fromEntries(Object.entries(shares).map(([w, s]) => [w, (1 - MISTAKEN) * s + MISTAKEN / n]));
  };
  switch (o.kind) {
    case "part": {
      if (p.oscillating === true) return spread({ full: 0.05, weak: 0.15, none: 0.1, flickers: 0.7 });
      const over = (border: number, width: number): number => logistic((p.value - border) / width);
      const [some, full] = [over(NO_WORK, NO_WORK_BLUR), over(FULL_WORK, FULL_WORK_BLUR)];
      return spread({ full, weak: Math.max(0, some - full), none: 1 - some, flickers: 0 });
    }
    case "lamp": {
      const near = (f: number): LampLook => lampLook(p.value * Math.exp(f));
      const shares = Object.fromEntries(LAMP_LOOKS.map((l) => [l, 0]));
      for (const f of [-EYE, 0, 0, EYE]) shares[near(f)]! += 0.25;
      return spread(shares);
    }
    case "look": {
      const others = RESULT_WORDS.look.filter((w) => w !== "nothing");
      return { nothing: 1 - p.value, ...Object.fromEntries(others.map((w) => [w, p.value / others.length])) };
    }
    case "code": {
      // A fault that is there now keeps its code active; one that is away leaves it stored.
      return { active: 0.9 * p.value, pending: 0.03, stored: 0.06, permanent: 0.01, absent: 0.9 * (1 - p.value) };
    }
    default: {
      const [yes, no] = RESULT_WORDS[o.kind as "answers" | "swap" | "wiggle"] as readonly [ResultWord, ResultWord];
      return spread({ [yes]: p.value, [no]: 1 - p.value });
    }
  }
}
