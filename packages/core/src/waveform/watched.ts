import { medianOf } from "../quantity/index.ts";

/** Samples that the middle is taken of at most. */
const MEDIAN_OF = 20_000;

/**
 * A channel as readings that somebody watches: one for every so many ms, and of those in between the one that is farthest from the middle of all, so that no dip is lost.
 * ms from the first sample, whole, rising; at most `most`. Gaps are left out.
 */
export function watchedSamples(samples: Float32Array, rateHz: number, most: number): readonly (readonly [ms: number, value: number])[] {
  const step = Math.max(1, Math.floor(samples.length / MEDIAN_OF));
  const some: number[] = [];
  for (let i = 0; i < samples.length; i += step) if (!Number.isNaN(samples[i]!)) some.push(samples[i]!);
  if (some.length === 0) return [];
  const middle = medianOf(some);
  const everyMs = Math.max(1, Math.ceil((1000 * samples.length) / rateHz / most));
  const made: [number, number][] = [];
  const binSize = (everyMs * rateHz) / 1000;
  for (let k = 0; k * binSize < samples.length; k++) {
    const [from, to] = [
      Math.round(k * binSize),
      Math.min(samples.length, Math.max(Math.round(k * binSize) + 1, Math.round((k + 1) * binSize))),
    ];
    let farthest = NaN;
    for (let i = from; i < to; i++)
      if (!(Math.abs(samples[i]! - middle) <= Math.abs(farthest - middle)) && !Number.isNaN(samples[i]!)) farthest = samples[i]!;
    if (!Number.isNaN(farthest)) made.push([k * everyMs, farthest]);
  }
  return made;
}
