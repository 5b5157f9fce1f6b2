/** Boltzmann constant over elementary charge (CODATA 2014), V/K, and the temperature of the junctions, 27 °C. */
export const THERMAL_VOLTS = (1.38064852e-23 / 1.6021766208e-19) * 300.15;
/** Conductance beside every junction, S, so that a blocked one leaves no node without a path. */
export const JUNCTION_LEAK = 1e-12;
/** Largest exponent taken, so that nothing overflows on the way. */
const STEEPEST = 200;

/** Current and slope of a junction at a voltage. `scale`: emission factor times thermal voltage, V. */
export function junctionAt(volts: number, saturationAmps: number, scale: number): { readonly amps: number; readonly siemens: number } {
  const e = Math.exp(Math.min(STEEPEST, volts / scale));
  return { amps: saturationAmps * (e - 1) + JUNCTION_LEAK * volts, siemens: (saturationAmps * e) / scale + JUNCTION_LEAK };
}

/**
 * The voltage at which a junction is linearised next: a step up the steep part of the curve is taken in current instead of voltage, so
 * that Newton's method does not run away (Nagel, SPICE2, 1975, section 4).
 */
export function limitedJunction(next: number, before: number, saturationAmps: number, scale: number): number {
  const knee = scale * Math.log(scale / (Math.SQRT2 * saturationAmps));
  if (next <= knee || Math.abs(next - before) <= 2 * scale) return next;
  if (before <= 0) return Math.min(next, Math.max(knee, scale * Math.log(Math.max(1, next / scale))));
  const step = (next - before) / scale;
  return step > -1 ? before + scale * Math.log1p(step) : knee;
}
