/** What an instrument may be off: a share of the reading and a fixed part. */
export interface Accuracy {
  readonly share: number;
  readonly fixed: number;
}

/** Counts of a usual meter: its display ends at 5999. */
const COUNTS = 6000;
const METER_SHARE = 0.005;
const METER_COUNTS = 2;

/** Size of one count at a reading: ranges of 600 mV, 6, 60, 600 V and the like, times a lowest range. */
export function countOf(value: number, lowest: number): number {
  let range = lowest;
  while (Math.abs(value) >= range && range < lowest * 1e8) range *= 10;
  return range / COUNTS;
}

/** Volts: ±(0.5 % + 2 counts), ranges from 600 mV. */
export const meterVolts = (volts: number): Accuracy => ({ share: METER_SHARE, fixed: METER_COUNTS * countOf(volts, 0.6) });
/** Ohms: ±(1 % + 3 counts), ranges from 600 Ω; and the leads, 0.1–0.3 Ω unless they are nulled. Two leads are no use below about 0.5 Ω. */
export const meterOhms = (ohms: number, nulled: boolean): Accuracy => ({
  share: 0.01,
  fixed: 3 * countOf(ohms, 600) + (nulled ? 0.05 : 0.3),
});
/** Clamp for direct current: ±2 % and an offset that must be zeroed, A. */
export const clampAmps = (zeroed: boolean): Accuracy => ({ share: 0.02, fixed: zeroed ? 0.03 : 0.5 });
/** Scope: ±3 % and a two-hundredth of its range, V. */
export const scopeVolts = (rangeVolts: number): Accuracy => ({ share: 0.03, fixed: rangeVolts / 200 });

/** Largest error at a reading, in the reading's unit. */
export const errorOf = ({ share, fixed }: Accuracy, value: number): number => share * Math.abs(value) + fixed;
