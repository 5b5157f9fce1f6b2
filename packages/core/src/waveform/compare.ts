import { formatAmps, formatSeconds, formatVolts } from "../quantity/index.ts";
import { type Alignment, delayByEdges, delayByShape } from "./align.ts";
import { type Measures, measure } from "./measure.ts";
import { KICK_SHARE } from "./judge.ts";

/** How one recording differs from another one that it is laid over. */
export interface Comparison {
  /** By how much the second one is later, s; 0 where neither has edges. */
  readonly delayS: number;
  /** Root mean square of the difference once both are laid over each other, as a share of the larger swing: 0 for the same. */
  readonly difference: number;
  /** What differs, in words, the largest first; empty where nothing does. */
  readonly words: readonly string[];
}

/** Differences of levels below this share of the swing are none, and below so many V or A. */
const SAME_SHARE = 0.03;
const SAME = 0.05;
/** Of duty, and of the time of an edge or a delay as a share of the period, and how much longer an edge must take. */
const SAME_DUTY = 0.01;
const SAME_TIME = 0.002;
const SLOWER = 1.5;
/** From here on an amplitude is told in times. */
const MANY_TIMES = 1.5;
/** Times that an edge takes are told from so many samples on. */
const LEAST_SAMPLES = 2;
/** Samples that a difference is taken of at most. */
const MOST_TAKEN = 200_000;

/** How two recordings are laid over each other. */
export interface Laying {
  readonly align: Alignment;
  /** Brings the second one's levels to the first one's, so that only shape and time differ. */
  readonly isScaled: boolean;
}
export const EDGE_ON_EDGE: Laying = { align: "edges", isScaled: false };

/**
 * Lays the second of two recordings of one rate over the first and tells how it differs. Delay: the median of the times from each rising edge of the first to the nearest one of the second; edges further away
 * than half a period are not told apart. Throws RangeError for recordings without a sample.
 */
export function compareTraces(
  first: Float32Array,
  second: Float32Array,
  rateHz: number,
  unit: "V" | "A" | "" = "V",
  laying: Laying = EDGE_ON_EDGE,
): Comparison {
  const { a, b, m, n, delay, count } = laid(first, second, rateHz, laying);
  const seen = laying.isScaled ? measure(b, rateHz, 0, count, KICK_SHARE) : n;
  const swing = Math.max(m.high - m.low, seen.high - seen.low);
  return {
    delayS: delay / rateHz,
    difference: differenceOf(a, b, Math.round(delay)) / Math.max(SAME, swing),
    words: wordsOf(m, seen, delay, rateHz, unit),
  };
}

/** What is left of the second once the first is taken from it, laid over each other, on the first one's clock; gaps where either has none. Same unit as both. */
export function differenceTrace(first: Float32Array, second: Float32Array, rateHz: number, laying: Laying = EDGE_ON_EDGE): Float32Array {
  const { a, b, delay } = laid(first, second, rateHz, laying);
  const by = Math.round(delay);
  return Float32Array.from(a, (v, i) => (b[i + by] ?? NaN) - v);
}

function laid(first: Float32Array, second: Float32Array, rateHz: number, { align, isScaled }: Laying) {
  const count = Math.min(first.length, second.length);
  const [a, other] = [first.subarray(0, count), second.subarray(0, count)];
  const [m, n] = [measure(a, rateHz, 0, count, KICK_SHARE), measure(other, rateHz, 0, count, KICK_SHARE)];
  const delay = align === "time" ? 0 : align === "edges" ? delayByEdges(a, other, m, n) : delayByShape(a, other);
  const isFlat = n.high - n.low < SAME;
  const gain = isFlat ? 1 : (m.high - m.low) / (n.high - n.low);
  const b = isScaled ? other.map((v) => m.low + (v - n.low) * gain) : other;
  return { a, b, m, n, delay, count };
}

function differenceOf(a: Float32Array, b: Float32Array, delay: number): number {
  const [from, to] = [Math.max(0, -delay), Math.min(a.length, b.length - delay)];
  const step = Math.max(1, Math.floor((to - from) / MOST_TAKEN));
  let [sum, taken] = [0, 0];
  for (let i = from; i < to; i += step) {
    const by = b[i + delay]! - a[i]!;
    if (Number.isNaN(by)) continue;
    sum += by * by;
    taken++;
  }
  return taken === 0 ? 0 : Math.sqrt(sum / taken);
}

function wordsOf(m: Measures, n: Measures, delay: number, rateHz: number, unit: "V" | "A" | ""): readonly string[] {
  const show = unit === "V" ? formatVolts : unit === "A" ? formatAmps : (v: number) => String(Number(v.toPrecision(3)));
  const swing = Math.max(m.high - m.low, 1e-9);
  const found: { readonly size: number; readonly words: string }[] = [];
  const level = (name: string, by: number): void => {
    if (Math.abs(by) > Math.max(SAME, SAME_SHARE * swing))
      found.push({ size: Math.abs(by) / swing, words: `${name} ${show(Math.abs(by))} ${by > 0 ? "higher" : "lower"}` });
  };
  const isPulsing = m.edges >= 2 && m.duty !== undefined;
  if (!isPulsing) {
    level("level", n.mean - m.mean);
    return found.map((f) => f.words);
  }
  const amplitude = (n.high - n.low) / swing;
  if (n.edges < 2 && amplitude < SAME_SHARE) return ["no pulses"];
  level("low level", n.low - m.low);
  level("high level", n.high - m.high);
  if (Math.abs(amplitude - 1) > SAME_SHARE)
    found.push({
      size: Math.abs(amplitude - 1),
      words:
        amplitude > MANY_TIMES
          ? `amplitude ${Number(amplitude.toPrecision(2))} times as large`
          : `amplitude ${Math.round(100 * amplitude)} %`,
    });
  const duty = (n.duty ?? 0) - m.duty!;
  if (Math.abs(duty) > SAME_DUTY)
    found.push({
      size: Math.abs(duty),
      words: `high for ${Math.round(100 * (n.duty ?? 0))} % of the time in place of ${Math.round(100 * m.duty!)} %`,
    });
  const period = m.periodS ?? Infinity;
  for (const [name, mine, theirs] of [
    ["rises", n.riseS, m.riseS],
    ["falls", n.fallS, m.fallS],
  ] as const)
    if (mine !== undefined && theirs !== undefined && mine > SLOWER * theirs && mine - theirs > LEAST_SAMPLES / rateHz)
      found.push({ size: (mine - theirs) / period, words: `${name} ${formatSeconds(mine - theirs)} slower` });
  const later = delay / rateHz;
  if (Math.abs(later) > SAME_TIME * period && Math.abs(delay) > LEAST_SAMPLES)
    found.push({ size: Math.abs(later) / period, words: `${formatSeconds(Math.abs(later))} ${later > 0 ? "later" : "earlier"}` });
  return found.sort((p, q) => q.size - p.size).map((f) => f.words);
}

/** A recording put on another one's clock, by straight lines; gaps where it has nothing. Times in s from the first sample of either. */
export function onClock(samples: Float32Array, rateHz: number, toRateHz: number, count: number): Float32Array {
  return Float32Array.from({ length: count }, (_, i) => {
    const at = (i * rateHz) / toRateHz;
    const k = Math.floor(at);
    if (k >= samples.length) return NaN;
    const [v, w] = [samples[k]!, samples[Math.min(samples.length - 1, k + 1)]!];
    return v + (w - v) * (at - k);
  });
}
