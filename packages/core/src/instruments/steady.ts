import { countOf } from "./accuracy.ts";
import type { Leads } from "./leads.ts";

/** One reading of a meter that is watched: V, Ω or A; Infinity for over the range. */
export interface Sample {
  readonly atMs: number;
  readonly value: number;
}

/** What the last moments of a meter came to. */
export type Steadiness =
  /** Nothing yet, or not for long enough. */
  | { readonly kind: "waiting" }
  | { readonly kind: "steady"; readonly value: number }
  /** Ohms, volts or amps that will not stand still are a finding: between which values they go. */
  | { readonly kind: "unsteady"; readonly low: number; readonly high: number };

/** How long a reading has to stand still, ms. */
export const STEADY_MS = 700;
const LEAST_SAMPLES = 3;
/** Counts by which a steady reading may go up and down, and the share that goes with it. */
const COUNTS = 4;
const SHARE = 0.003;
const LOWEST = { volts: 0.6, ohms: 600, amps: 6 } as const;

/** By how much readings about a value may differ and still stand still. */
const bandAt = (value: number, quantity: Leads["quantity"]): number => COUNTS * countOf(value, LOWEST[quantity]) + SHARE * Math.abs(value);

/** Whether the readings of the last 0.7 s stand still. Samples in order of time. */
export function steadiness(samples: readonly Sample[], quantity: Leads["quantity"]): Steadiness {
  const last = samples.at(-1);
  if (last === undefined) return { kind: "waiting" };
  const from = samples.findLastIndex((s) => s.atMs <= last.atMs - STEADY_MS);
  if (from < 0) return { kind: "waiting" };
  const recent = samples.slice(from).map((s) => s.value);
  if (recent.length < LEAST_SAMPLES) return { kind: "waiting" };
  const [low, high] = [Math.min(...recent), Math.max(...recent)];
  if (low === high) return { kind: "steady", value: low };
  if (!Number.isFinite(high) || high - low > bandAt(high, quantity)) return { kind: "unsteady", low, high };
  const sorted = [...recent].sort((a, b) => a - b);
  return { kind: "steady", value: sorted[sorted.length >> 1]! };
}

/** Whether a steady value is another one than the meter stood at before. */
export const isAnother = (value: number, before: number, quantity: Leads["quantity"]): boolean =>
  value !== before &&
  (!Number.isFinite(value) ||
    !Number.isFinite(before) ||
    Math.abs(value - before) > bandAt(Math.max(Math.abs(value), Math.abs(before)), quantity));
