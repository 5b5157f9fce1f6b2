import { clampAmps, errorOf, meterOhms, meterVolts, OHMS_RANGE, scopeVolts } from "../../instruments/index.ts";
import type { Scale } from "./kind.ts";

/** How far a drawn length, a contact or the battery may be off: a fixed part and a share of the reading. V. */
const MODEL_VOLTS = 0.02;
const MODEL_SHARE = 0.012;
/** The same for what a clamp reads, as a share. */
const MODEL_AMPS_SHARE = 0.04;
/** Readings that say nothing are spread over this many V, decades of Ω, or A. */
const BROAD = { volts: 20, decades: 9, amps: 60 } as const;
/** A band of error is even; its standard deviation is its half-width over √3. */
export const EVEN = 1.7;
/** The lowest resistance that differs from none, Ω. */
const LEAST_OHMS = 0.1;

const asItIs = (value: number): number => value;

export const VOLTS: Scale = {
  unit: "V",
  scaled: asItIs,
  sigma: (value) => Math.hypot(errorOf(meterVolts(value), value) / EVEN, MODEL_VOLTS + MODEL_SHARE * Math.abs(value)),
  broad: 1 / BROAD.volts,
  // ∫ dv/σ(v), σ = a + b·|v|.
  steps: (value) => {
    const [a, b] = [MODEL_VOLTS + 0.004, MODEL_SHARE + 0.003];
    return (Math.sign(value) * Math.log1p((Math.abs(value) * b) / a)) / b;
  },
  unsteady: "swings",
};

/** A scope on pulses has the range of their high level, whichever level is read, V. */
const SCOPE_RANGE = 20;

/** A level by scope: 3 % and a two-hundredth of its range, beside what the model may be off. */
export const SCOPE_VOLTS: Scale = {
  unit: "V",
  scaled: asItIs,
  sigma: (value) =>
    Math.hypot(errorOf(scopeVolts(Math.max(SCOPE_RANGE, Math.abs(value))), value) / EVEN, MODEL_VOLTS + MODEL_SHARE * Math.abs(value)),
  broad: 1 / BROAD.volts,
  // ∫ dv/σ(v), σ = a + b·|v|.
  steps: (value) => {
    const [a, b] = [MODEL_VOLTS + 0.045, MODEL_SHARE + 0.011];
    return (Math.sign(value) * Math.log1p((Math.abs(value) * b) / a)) / b;
  },
  unsteady: "swings",
};

export const AMPS: Scale = {
  unit: "A",
  scaled: asItIs,
  sigma: (value) => Math.hypot(errorOf(clampAmps(true), value) / EVEN, MODEL_AMPS_SHARE * Math.abs(value)),
  broad: 1 / BROAD.amps,
  steps: (value) => (4 * Math.sign(value) * Math.log1p(Math.abs(value) * 2)) / 0.15,
  unsteady: "swings",
};

/** Ohms are compared by decades. */
const byDecades = (value: number): number => Math.log(Math.min(OHMS_RANGE, Math.max(LEAST_OHMS, value)));

export const OHMS: Scale = {
  unit: "Ω",
  scaled: byDecades,
  // A fifth, and the leads' tenths of an ohm.
  sigma: (value) => 0.2 + errorOf(meterOhms(value, true), value) / Math.max(LEAST_OHMS, value) / EVEN,
  broad: 1 / (BROAD.decades * Math.LN10),
  steps: (value) => (value >= OHMS_RANGE / 2 ? undefined : byDecades(value) / 0.25),
  unsteady: "void: live",
};

/** A duty that is told to within so much, %. */
const DUTY_SIGMA = 2;

/** Share of the time, %. A line without pulses is high all the time or none of it, which tells the same. */
export const PER_CENT: Scale = {
  unit: "%",
  scaled: (value) => (value >= 99.5 ? 0 : value),
  sigma: () => DUTY_SIGMA,
  broad: 1 / 100,
  steps: (value) => (value >= 99.5 ? 0 : value) / DUTY_SIGMA,
  unsteady: "swings",
};
