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
  const count = rows.length;
  // Counting sort by column, then by row inside each column (row first, then a stable pass by column).
  const byRow = sortedBy(
    rows,
    n,
    Int32Array.from({ length: count }, (_, i) => i).filter((i) => rows[i]! >= 0 && columns[i]! >= 0),
  );
  const sorted = sortedBy(columns, n, byRow);
  const start = new Int32Array(n + 1);
  const row = new Int32Array(sorted.length);
  const slot = new Int32Array(count).fill(-1);
  let end = 0;
  let column = -1;
  for (const i of sorted) {
    const [r, c] = [rows[i]!, columns[i]!];
    if (c !== column || row[end - 1] !== r) {
      while (column < c) start[++column] = end;
      row[end++] = r;
    }
    slot[i] = end - 1;
  }
  while (column < n) start[++column] = end;
  return { matrix: { n, start, row: row.slice(0, end), value: new Float64Array(end) }, slot };
}

/** Indices in ascending order of their key (0…n − 1), equal keys in the order in which they came. */
function sortedBy(keys: ArrayLike<number>, n: number, indices: Int32Array): Int32Array {
  const next = new Int32Array(n + 1);
  for (const i of indices) next[keys[i]! + 1]!++;
  for (let k = 0; k < n; k++) next[k + 1]! += next[k]!;
  const sorted = new Int32Array(indices.length);
  for (const i of indices) sorted[next[keys[i]!]!++] = i;
  return sorted;
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
