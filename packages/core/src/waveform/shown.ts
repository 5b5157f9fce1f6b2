/** How a channel is shown: turned over, with another zero, without what is fast. What is kept stays as it was. */
export interface Shown {
  readonly isInverted: boolean;
  /** Taken off, in the file's unit, after turning over. */
  readonly zero: number;
  /** Corner of a low-pass, Hz; undefined for none. */
  readonly lowPassHz: number | undefined;
}

export const AS_IT_IS: Shown = { isInverted: false, zero: 0, lowPassHz: undefined };

/** Samples as they are shown; the same array where nothing is changed. */
export function shownSamples(samples: Float32Array, rateHz: number, { isInverted, zero, lowPassHz }: Shown): Float32Array {
  const filtered = lowPassHz === undefined ? samples : lowPass(samples, rateHz, lowPassHz);
  if (!isInverted && zero === 0) return filtered;
  const sign = isInverted ? -1 : 1;
  return filtered.map((v) => sign * v - zero);
}

/**
 * A low-pass that delays nothing: one pole forwards, the same backwards, half the amplitude at its corner. The pole's decay is that of an RC,
 * e^(−2π·f/rate). A gap is passed over, and it begins anew behind it. Throws RangeError for a corner that is not above 0.
 */
export function lowPass(samples: Float32Array, rateHz: number, cornerHz: number): Float32Array {
  if (!(cornerHz > 0)) throw new RangeError(`a low-pass has a corner above 0 Hz, not ${cornerHz}`);
  const keep = Math.exp((-2 * Math.PI * cornerHz) / rateHz);
  const made = new Float32Array(samples.length);
  run(samples, made, keep, 0, 1);
  run(made, made, keep, samples.length - 1, -1);
  return made;
}

function run(from: Float32Array, into: Float32Array, keep: number, start: number, step: 1 | -1): void {
  let held = NaN;
  for (let i = start; i >= 0 && i < from.length; i += step) {
    const v = from[i]!;
    held = Number.isNaN(held) || Number.isNaN(v) ? v : keep * held + (1 - keep) * v;
    into[i] = held;
  }
}

/** Share of the swing by which a signal has to pass the middle before that is an edge. */
const HYSTERESIS = 0.1;

/** The first sample behind (in time) the nearest edge after a sample (1) or before it (−1), through the middle of two levels; undefined where there is none. */
export function nextEdge(samples: Float32Array, from: number, step: 1 | -1, low: number, high: number): number | undefined {
  const [middle, band] = [(low + high) / 2, HYSTERESIS * (high - low)];
  if (!(band > 0)) return undefined;
  let was: boolean | undefined;
  // Backwards from just behind an edge is to the one before it.
  const start = step === 1 ? from : from - 1;
  let crossed = start;
  for (let i = start; i >= 0 && i < samples.length; i += step) {
    const v = samples[i]!;
    if (Number.isNaN(v)) continue;
    const is = v > middle + band ? true : v < middle - band ? false : undefined;
    if (v > middle !== samples[crossed]! > middle) crossed = i;
    if (is === undefined) continue;
    if (was !== undefined && is !== was) return step === 1 ? crossed : crossed + 1;
    was = is;
    crossed = i;
  }
  return undefined;
}
