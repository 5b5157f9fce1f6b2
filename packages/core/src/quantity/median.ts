/** The middle of some numbers, or the mean of the two in the middle. NaN for none. */
export function medianOf(values: readonly number[]): number {
  const sorted = [...values].sort((p, q) => p - q);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

/** MAD of a normal distribution to its standard deviation. */
const MAD_TO_SIGMA = 1.4826;

/** How far numbers lie about their median: a standard deviation that a few odd ones do not widen. NaN for none. */
export function spreadOf(values: readonly number[]): number {
  const median = medianOf(values);
  return MAD_TO_SIGMA * medianOf(values.map((v) => Math.abs(v - median)));
}
