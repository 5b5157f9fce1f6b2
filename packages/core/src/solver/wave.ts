/** The course of a source over time, V or A over s. */
export type Wave =
  | {
      readonly kind: "pulse";
      readonly low: number;
      readonly high: number;
      readonly delayS: number;
      readonly riseS: number;
      readonly fallS: number;
      readonly widthS: number;
      readonly periodS: number;
    }
  | {
      readonly kind: "sine";
      readonly offset: number;
      readonly amplitude: number;
      readonly hertz: number;
      readonly delayS: number;
      readonly dampingPerS: number;
    }
  /** Corners in order of time. */
  | { readonly kind: "corners"; readonly points: readonly (readonly [timeS: number, value: number])[] };

/** Index of the first corner after a time; their number where there is none. */
function firstAfter(points: readonly (readonly [timeS: number, value: number])[], timeS: number): number {
  let [low, high] = [0, points.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (points[middle]![0] > timeS) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Value at a time of at least 0. */
export function waveAt(wave: Wave, timeS: number): number {
  switch (wave.kind) {
    case "pulse": {
      const since = timeS - wave.delayS;
      if (since < 0) return wave.low;
      const t = wave.periodS > 0 ? since % wave.periodS : since;
      if (t < wave.riseS) return wave.low + ((wave.high - wave.low) * t) / wave.riseS;
      if (t < wave.riseS + wave.widthS) return wave.high;
      const down = t - wave.riseS - wave.widthS;
      return down < wave.fallS ? wave.high + ((wave.low - wave.high) * down) / wave.fallS : wave.low;
    }
    case "sine": {
      const t = timeS - wave.delayS;
      return t < 0 ? wave.offset : wave.offset + wave.amplitude * Math.exp(-t * wave.dampingPerS) * Math.sin(2 * Math.PI * wave.hertz * t);
    }
    case "corners": {
      const after = firstAfter(wave.points, timeS);
      if (after === 0) return wave.points[0]![1];
      if (after === wave.points.length) return wave.points.at(-1)![1];
      const [t0, v0] = wave.points[after - 1]!;
      const [t1, v1] = wave.points[after]!;
      return v0 + ((v1 - v0) * (timeS - t0)) / (t1 - t0);
    }
  }
}

/** The next time after `timeS` at which the course has a corner; infinity when there is none. */
export function nextCorner(wave: Wave, timeS: number): number {
  // Corners closer than rounding to now are the one that was just reached.
  const later = timeS + 1e-12 * Math.max(1e-6, timeS);
  switch (wave.kind) {
    case "pulse": {
      const since = later - wave.delayS;
      if (since < 0) return wave.delayS;
      const corners = [0, wave.riseS, wave.riseS + wave.widthS, wave.riseS + wave.widthS + wave.fallS];
      if (!(wave.periodS > 0)) return wave.delayS + (corners.find((c) => c > since) ?? Infinity);
      const round = Math.floor(since / wave.periodS);
      const inside = since - round * wave.periodS;
      const next = corners.find((c) => c > inside) ?? wave.periodS;
      return wave.delayS + round * wave.periodS + Math.min(next, wave.periodS);
    }
    case "sine":
      return later < wave.delayS ? wave.delayS : Infinity;
    case "corners":
      return wave.points[firstAfter(wave.points, later)]?.[0] ?? Infinity;
  }
}
