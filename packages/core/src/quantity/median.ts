/** The middle of some numbers, or the mean of the two in the middle. NaN for none. */
export function medianOf(values: readonly number[]): number {
  const sorted = [...values].sort((p, q) => p - q);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
