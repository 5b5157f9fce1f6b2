import type { Run } from "./technician.ts";

/** How often what was given so much was right. */
export interface Calibration {
  /** From 50 % on: borders as shares, how many answers fell between them, their mean probability and how many were right. */
  readonly bins: readonly {
    readonly from: number;
    readonly to: number;
    readonly count: number;
    readonly given: number;
    readonly right: number;
  }[];
  /** Mean distance between what was given and what was right over all these answers, weighted by their number. */
  readonly expectedError: number;
}

const BORDERS = [0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1.0001] as const;

/** Calibration over every answer of every run: that of the likeliest repair, from the complaint on. */
export function calibrationOf(runs: readonly Run[]): Calibration {
  const all = runs.flatMap((r) => r.answers);
  const bins = BORDERS.slice(1).map((to, i) => {
    const from = BORDERS[i]!;
    const here = all.filter((a) => a.probability >= from && a.probability < to);
    const mean = (of: (a: (typeof here)[number]) => number): number =>
      here.length === 0 ? NaN : here.reduce((s, a) => s + of(a), 0) / here.length;
    return { from, to: Math.min(1, to), count: here.length, given: mean((a) => a.probability), right: mean((a) => Number(a.right)) };
  });
  const counted = bins.filter((b) => b.count > 0);
  const total = counted.reduce((s, b) => s + b.count, 0);
  return { bins, expectedError: total === 0 ? 0 : counted.reduce((s, b) => s + (b.count / total) * Math.abs(b.given - b.right), 0) };
}
