/** The longest time without a crossing of the middle. */
export interface Pause {
  /** Its first sample. */
  readonly at: number;
  readonly seconds: number;
}

/** A level between `low` and `high` counts as crossed once the signal is past it by this share of the swing. */
const PAST = 0.1;

/** The longest stretch of samples [from, to) in which a signal that goes between two levels stays at one of them. Undefined where it never leaves one. A gap ends a stretch. */
export function longestPause(
  samples: Float32Array,
  rateHz: number,
  { low, high }: { readonly low: number; readonly high: number },
  from = 0,
  to = samples.length,
): Pause | undefined {
  const middle = (low + high) / 2;
  const past = PAST * (high - low);
  let [state, since, crossings] = [0, from, 0];
  let longest: Pause | undefined;
  const end = (i: number): void => {
    const seconds = (i - since) / rateHz;
    if (longest === undefined || seconds > longest.seconds) longest = { at: since, seconds };
  };
  for (let i = from; i < to; i++) {
    const v = samples[i]!;
    const next = Number.isNaN(v) ? 0 : v > middle + past ? 1 : v < middle - past ? -1 : state;
    if (next === state) continue;
    if (state !== 0) {
      end(i);
      if (next !== 0) crossings++;
    }
    [state, since] = [next, i];
  }
  if (state !== 0) end(to);
  return crossings === 0 ? undefined : longest;
}

/** Amplitude of one frequency in samples [from, to), in their unit; gaps count as nothing. Source: Goertzel 1958. */
export function amplitudeAt(samples: Float32Array, rateHz: number, hertz: number, from = 0, to = samples.length): number {
  // Whole periods only: a part of one would leak the mean into it.
  const periods = Math.floor(((to - from) * hertz) / rateHz);
  if (periods < 1) return 0;
  const count = Math.min(to - from, Math.round((periods * rateHz) / hertz));
  let sum = 0;
  for (let i = from; i < from + count; i++) sum += Number.isNaN(samples[i]!) ? 0 : samples[i]!;
  const mean = sum / count;
  const turn = 2 * Math.cos((2 * Math.PI * hertz) / rateHz);
  let [before, last] = [0, 0];
  for (let i = from; i < from + count; i++) {
    const v = samples[i]!;
    const now = (Number.isNaN(v) ? 0 : v - mean) + turn * last - before;
    [before, last] = [last, now];
  }
  return (2 / count) * Math.sqrt(Math.max(0, last * last + before * before - turn * last * before));
}
