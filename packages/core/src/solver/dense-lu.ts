/**
 * Solves A·x = b by LU with partial pivoting. `a` is n×n by rows and is overwritten, `b` (size n) becomes x.
 * Returns −1, or the index of the column in which no usable pivot was left.
 */
export function solveDense(a: Float64Array, b: Float64Array, n: number): number {
  let largest = 0;
  for (let i = 0; i < n * n; i++) largest = Math.max(largest, Math.abs(a[i]!));
  const tiny = largest * 1e-15;
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(a[i * n + k]!) > Math.abs(a[pivot * n + k]!)) pivot = i;
    if (!(Math.abs(a[pivot * n + k]!) > tiny)) return k;
    if (pivot !== k) {
      for (let j = k; j < n; j++) {
        const held = a[k * n + j]!;
        a[k * n + j] = a[pivot * n + j]!;
        a[pivot * n + j] = held;
      }
      const held = b[k]!;
      b[k] = b[pivot]!;
      b[pivot] = held;
    }
    for (let i = k + 1; i < n; i++) {
      const factor = a[i * n + k]! / a[k * n + k]!;
      if (factor === 0) continue;
      for (let j = k + 1; j < n; j++) a[i * n + j]! -= factor * a[k * n + j]!;
      b[i]! -= factor * b[k]!;
    }
  }
  for (let k = n - 1; k >= 0; k--) {
    let sum = b[k]!;
    for (let j = k + 1; j < n; j++) sum -= a[k * n + j]! * b[j]!;
    b[k] = sum / a[k * n + k]!;
  }
  return -1;
}
