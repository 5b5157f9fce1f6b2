/** The standard normal distribution function; Abramowitz and Stegun 7.1.26, error below 1.5e-7. */
export function normal(x: number): number {
  const t = 1 / (1 + 0.3275911 * (Math.abs(x) / Math.SQRT2));
  const tail = ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-(x * x) / 2);
  return x > 0 ? 1 - tail / 2 : tail / 2;
}
