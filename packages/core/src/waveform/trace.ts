/** One channel of a trace: equally spaced samples in its unit. */
export interface Channel {
  readonly name: string;
  /** "V", "A" or whatever the file said; "" where it said nothing. */
  readonly unit: string;
  /** `trace.count` long. NaN where the file had a gap. */
  readonly samples: Float32Array;
}

/** What a scope or logger recorded: channels on one clock. */
export interface Trace {
  /** Time of the first sample, s. */
  readonly startS: number;
  /** Samples a second of each channel. */
  readonly rateHz: number;
  /** Samples of each channel. */
  readonly count: number;
  readonly channels: readonly Channel[];
}

/** Channels that a trace has at most. */
export const MOST_CHANNELS = 8;

/** Time of a sample, s. */
export const timeOf = ({ startS, rateHz }: Pick<Trace, "startS" | "rateHz">, index: number): number => startS + index / rateHz;

/** The sample at a time or the nearest before it, held within the trace. */
export const indexAt = ({ startS, rateHz, count }: Pick<Trace, "startS" | "rateHz" | "count">, timeS: number): number =>
  Math.min(count - 1, Math.max(0, Math.floor((timeS - startS) * rateHz + 1e-6)));
