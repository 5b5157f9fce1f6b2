/** A square sparse matrix by compressed columns. */
export interface Csc {
  readonly n: number;
  /** Size n + 1: where each column begins in `row` and `value`. */
  readonly start: Int32Array;
  /** Row of each entry, ascending inside a column. Size start[n]. */
  readonly row: Int32Array;
  /** Size start[n]. */
  readonly value: Float64Array;
}

/**
 * Where stamps go: a pattern made once, and for every stamped entry its index in `value`. Entries stamped on the same place share one.
 * `rows`, `columns`: one pair for each stamp, in the order in which they will be added; negative ones are left out (slot −1).
 */
export function patternOf(
  n: number,
  rows: ArrayLike<number>,
  columns: ArrayLike<number>,
): { readonly matrix: Csc; readonly slot: Int32Array } {
  const keys: number[] = [];
  for (let i = 0; i < rows.length; i++) if (rows[i]! >= 0 && columns[i]! >= 0) keys.push(columns[i]! * n + rows[i]!);
  const unique = [...new Set(keys)].sort((a, b) => a - b);
  const indexOf = new Map(unique.map((key, i) => [key, i]));
  const start = new Int32Array(n + 1);
  const row = new Int32Array(unique.length);
  unique.forEach((key, i) => {
    start[Math.floor(key / n) + 1]!++;
    row[i] = key % n;
  });
  for (let k = 0; k < n; k++) start[k + 1]! += start[k]!;
  const slot = Int32Array.from({ length: rows.length }, (_, i) =>
    rows[i]! >= 0 && columns[i]! >= 0 ? indexOf.get(columns[i]! * n + rows[i]!)! : -1,
  );
  return { matrix: { n, start, row, value: new Float64Array(unique.length) }, slot };
}

/** Throws RangeError when a matrix breaks its own rules; for tests and development. */
export function checkCsc({ n, start, row, value }: Csc): void {
  if (start.length !== n + 1 || start[0] !== 0) throw new RangeError(`column starts are wrong for n = ${n}`);
  for (let k = 0; k < n; k++) {
    if (start[k + 1]! < start[k]!) throw new RangeError(`column ${k} ends before it begins`);
    for (let p = start[k]!; p < start[k + 1]!; p++) {
      if (row[p]! < 0 || row[p]! >= n) throw new RangeError(`row ${row[p]} in column ${k} is outside`);
      if (p > start[k]! && row[p]! <= row[p - 1]!) throw new RangeError(`rows of column ${k} do not ascend`);
    }
  }
  if (value.length !== start[n] || row.length !== start[n]) throw new RangeError("lengths of rows and values differ");
}

/** y = A·x. */
export function multiply({ n, start, row, value }: Csc, x: Float64Array): Float64Array {
  const y = new Float64Array(n);
  for (let k = 0; k < n; k++) for (let p = start[k]!; p < start[k + 1]!; p++) y[row[p]!]! += value[p]! * x[k]!;
  return y;
}
