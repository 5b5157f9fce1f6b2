/**
 * Solves the small dense system M·y = r by elimination with row pivoting. `m` (size k·k, row after row) and `r` (size k) are overwritten; r becomes y. Returns the
 * smallest pivot over the largest entry of its row before elimination: the nearer to 0, the more figures are lost; 0 when there is no answer.
 */
export function solveDense(k: number, m: Float64Array, r: Float64Array): number {
  let least = Infinity;
  for (let c = 0; c < k; c++) {
    const top = pivotRow(k, m, c);
    const pivot = m[top * k + c]!;
    if (!(Math.abs(pivot) > 0) || !Number.isFinite(pivot)) return 0;
    least = Math.min(least, Math.abs(pivot));
    if (top !== c) {
      for (let j = 0; j < k; j++) [m[c * k + j], m[top * k + j]] = [m[top * k + j]!, m[c * k + j]!];
      [r[c], r[top]] = [r[top]!, r[c]!];
    }
    for (let i = c + 1; i < k; i++) {
      const share = m[i * k + c]! / pivot;
      if (share === 0) continue;
      for (let j = c; j < k; j++) m[i * k + j]! -= share * m[c * k + j]!;
      r[i]! -= share * r[c]!;
    }
  }
  for (let c = k - 1; c >= 0; c--) {
    let sum = r[c]!;
    for (let j = c + 1; j < k; j++) sum -= m[c * k + j]! * r[j]!;
    r[c] = sum / m[c * k + c]!;
  }
  return least;
}

/**
 * Inverts a small dense matrix in place (size k·k, row after row), Gauss and Jordan with row pivoting. Returns the smallest pivot over the largest entry of its row at that moment; 0 when there
 * is no inverse.
 */
export function invert(k: number, m: Float64Array): number {
  const rows = Int32Array.from({ length: k }, (_, i) => i);
  let least = Infinity;
  for (let c = 0; c < k; c++) {
    const top = pivotRow(k, m, c);
    const pivot = m[top * k + c]!;
    if (!(Math.abs(pivot) > 0) || !Number.isFinite(pivot)) return 0;
    let largest = 0;
    for (let j = 0; j < k; j++) {
      largest = Math.max(largest, Math.abs(m[top * k + j]!));
      if (top !== c) [m[c * k + j], m[top * k + j]] = [m[top * k + j]!, m[c * k + j]!];
    }
    if (top !== c) [rows[c], rows[top]] = [rows[top]!, rows[c]!];
    least = Math.min(least, Math.abs(pivot) / largest);
    m[c * k + c] = 1;
    for (let j = 0; j < k; j++) m[c * k + j]! /= pivot;
    for (let i = 0; i < k; i++) {
      const share = m[i * k + c]!;
      if (i === c || share === 0) continue;
      m[i * k + c] = 0;
      for (let j = 0; j < k; j++) m[i * k + j]! -= share * m[c * k + j]!;
    }
  }
  // Rows that were exchanged are columns of the inverse.
  const row = new Float64Array(k);
  for (let i = 0; i < k; i++) {
    for (let j = 0; j < k; j++) row[rows[j]!] = m[i * k + j]!;
    m.set(row, i * k);
  }
  return least;
}

/** The row from c on that has the largest entry in column c. */
function pivotRow(k: number, m: Float64Array, c: number): number {
  let top = c;
  for (let i = c + 1; i < k; i++) if (Math.abs(m[i * k + c]!) > Math.abs(m[top * k + c]!)) top = i;
  return top;
}
