import { crossingsOf, measure } from "../measure.ts";
import { KICK_SHARE } from "../judge.ts";

/** Pulses of one duty and rate in a row, or a time without any. Times in s from the first sample. */
export type PwmStretch =
  | {
      readonly kind: "pulses";
      readonly startS: number;
      readonly endS: number;
      readonly pulses: number;
      readonly duty: number;
      readonly hertz: number;
    }
  | { readonly kind: "stands"; readonly startS: number; readonly endS: number; readonly isHigh: boolean };

export interface PwmRead {
  /** Most usual levels, in the samples' unit. */
  readonly low: number;
  readonly high: number;
  /** In order, the whole recording from its first edge on; empty where nothing pulses. */
  readonly stretches: readonly PwmStretch[];
}

/** A duty is the same within this share, a period within this share of itself, besides what the sampling leaves open. */
const SAME_DUTY = 0.01;
const SAME_PERIOD = 0.03;
/** A period of so many times the usual one is a time without pulses. */
const PAUSE_TIMES = 1.8;

/** Reads a line of pulses as what it commands: duty and rate, and when either changes. A swing below `leastSwing` (the samples' unit) is none. */
export function decodePwm(samples: Float32Array, rateHz: number, leastSwing: number): PwmRead {
  const { low, high, periodS } = measure(samples, rateHz, 0, samples.length, KICK_SHARE);
  if (high - low < leastSwing || periodS === undefined) return { low, high, stretches: [] };
  const { ups, downs } = crossingsOf(samples, 0, samples.length, low, high);
  const lengths = ups.slice(1).map((at, i) => at - ups[i]!);
  const usual = [...lengths].sort((p, q) => p - q)[lengths.length >> 1] ?? periodS * rateHz;
  const stretches: PwmStretch[] = [];
  const add = (from: number, to: number, highFor: number): void => {
    const last = stretches.at(-1);
    const [period, duty] = [(to - from) / rateHz, highFor / (to - from)];
    // An edge is placed to about a sample.
    const open = 1 / (to - from);
    if (
      last?.kind === "pulses" &&
      Math.abs(duty - last.duty) <= SAME_DUTY + open &&
      Math.abs(period * last.hertz - 1) <= SAME_PERIOD + open &&
      Math.abs(last.endS - from / rateHz) < 1 / rateHz
    ) {
      const pulses = last.pulses + 1;
      const mean = (old: number, next: number): number => old + (next - old) / pulses;
      stretches[stretches.length - 1] = {
        ...last,
        endS: to / rateHz,
        pulses,
        duty: mean(last.duty, duty),
        hertz: 1 / mean(1 / last.hertz, period),
      };
    } else stretches.push({ kind: "pulses", startS: from / rateHz, endS: to / rateHz, pulses: 1, duty, hertz: 1 / period });
  };
  const stands = (from: number, to: number, isHigh: boolean): void =>
    void (to > from && stretches.push({ kind: "stands", startS: from / rateHz, endS: to / rateHz, isHigh }));
  let d = 0;
  ups.forEach((up, i) => {
    const next = ups[i + 1] ?? samples.length;
    while (d < downs.length && downs[d]! <= up) d++;
    const down = downs[d];
    if (down === undefined || down >= next) return stands(up, next, true);
    if (next - up < PAUSE_TIMES * usual) {
      // What the end of the recording cuts off is no period.
      if (i + 1 < ups.length) add(up, next, down - up);
      return;
    }
    // The level that stays for longer is the one that it stands at.
    const isHigh = down - up > next - down;
    stands(isHigh ? up : down, isHigh ? down : next, isHigh);
  });
  return { low, high, stretches };
}
