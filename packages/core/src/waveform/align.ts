import { crossingsOf, type Measures } from "./measure.ts";

/** How one recording is laid over another: rising edge on rising edge, where both are most alike, or as they stand. */
export const ALIGNMENTS = ["edges", "shape", "time"] as const;
export type Alignment = (typeof ALIGNMENTS)[number];

/** By how many samples the second is later: the median of the times from each rising edge of the first to the nearest one of the second. 0 where either has none. */
export function delayByEdges(a: Float32Array, b: Float32Array, m: Measures, n: Measures): number {
  if (m.edges < 1 || n.edges < 1) return 0;
  const [p, q] = [crossingsOf(a, 0, a.length, m.low, m.high).ups, crossingsOf(b, 0, b.length, n.low, n.high).ups];
  if (p.length === 0 || q.length === 0) return 0;
  let k = 0;
  const delays = p.map((at) => {
    while (k + 1 < q.length && Math.abs(q[k + 1]! - at) <= Math.abs(q[k]! - at)) k++;
    return q[k]! - at;
  });
  return delays.sort((x, y) => x - y)[delays.length >> 1]!;
}

/** Points that all delays are tried with at first, and those that the best one is made finer with. */
const COARSE_POINTS = 2048;
const FINE_POINTS = 16_384;
/** Peaks of likeness this near the best are as good: of a signal that repeats itself the least delay is meant. */
const AS_GOOD = 0.01;
/** Delays that leave less than this share of the first to be laid over are not tried. */
const LEAST_OVERLAP = 0.5;

/** By how many samples the second is later where both are most alike (Pearson's correlation of what overlaps, gaps left out), for recordings of one rate. 0 where one of them stands still. */
export function delayByShape(a: Float32Array, b: Float32Array): number {
  const count = Math.min(a.length, b.length);
  const step = Math.max(1, Math.floor(count / COARSE_POINTS));
  const most = Math.floor((count * (1 - LEAST_OVERLAP)) / step);
  const [p, q] = [thinned(a, step, count), thinned(b, step, count)];
  const tried = Array.from({ length: 2 * most + 1 }, (_, k) => ({ delay: k - most, r: likeness(p, q, k - most, 1) }));
  const peaks = tried.filter(({ r }, k) => r > 0 && r >= (tried[k - 1]?.r ?? -1) && r >= (tried[k + 1]?.r ?? -1));
  if (peaks.length === 0) return 0;
  const best = Math.max(...peaks.map((t) => t.r));
  const coarse = peaks.filter((t) => t.r >= best - AS_GOOD).reduce((x, y) => (Math.abs(y.delay) < Math.abs(x.delay) ? y : x)).delay * step;
  // Around it sample by sample.
  const fine = Math.max(1, Math.floor(count / FINE_POINTS));
  let [found, highest] = [coarse, -Infinity];
  for (let delay = coarse - 2 * step; delay <= coarse + 2 * step; delay++) {
    const r = likeness(a, b, delay, fine);
    if (r > highest) [found, highest] = [delay, r];
  }
  return found;
}

/** The mean of each so many samples, NaN for those with a gap. */
function thinned(samples: Float32Array, step: number, count: number): Float32Array {
  return Float32Array.from({ length: Math.floor(count / step) }, (_, k) => {
    let sum = 0;
    for (let i = k * step; i < (k + 1) * step; i++) sum += samples[i]!;
    return sum / step;
  });
}

/** Pearson's correlation of the first with the second moved by `delay`, every `step`-th sample; 0 where one of them stands still. */
function likeness(a: Float32Array, b: Float32Array, delay: number, step: number): number {
  const [from, to] = [Math.max(0, -delay), Math.min(a.length, b.length - delay)];
  let [n, sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0, 0];
  for (let i = from; i < to; i += step) {
    const [x, y] = [a[i]!, b[i + delay]!];
    if (Number.isNaN(x) || Number.isNaN(y)) continue;
    n++;
    sa += x;
    sb += y;
    saa += x * x;
    sbb += y * y;
    sab += x * y;
  }
  const [va, vb] = [n * saa - sa * sa, n * sbb - sb * sb];
  return va <= 0 || vb <= 0 ? 0 : (n * sab - sa * sb) / Math.sqrt(va * vb);
}
