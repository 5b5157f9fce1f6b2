import type { Csc } from "./csc.ts";

/**
 * P·A·Q = L·U with unit lower L, by columns. `lRow` and `uRow` name rows by the position of their pivot; the entries of a column of U stand in the
 * order in which they are eliminated. Arrays grow; only the first `lStart[n]` and `uStart[n]` entries are used.
 */
export interface Factors {
  readonly n: number;
  /** Size n: position → column of A. */
  readonly order: Int32Array;
  /** Size n: row of A → position of its pivot. */
  readonly positionOfRow: Int32Array;
  readonly lStart: Int32Array;
  lRow: Int32Array;
  lValue: Float64Array;
  readonly uStart: Int32Array;
  uRow: Int32Array;
  uValue: Float64Array;
  /** Size n: the pivots. */
  readonly diagonal: Float64Array;
}

export type FactorResult =
  | { readonly kind: "factored"; readonly factors: Factors }
  /** No usable pivot is left in this column of A. */
  | { readonly kind: "singular"; readonly column: number };

/** A pivot on the diagonal is taken when it has at least this share of the largest; it keeps the order's sparsity. */
const DIAGONAL_SHARE = 1e-3;
/** A pivot below this share of its column's largest entry before elimination counts as zero. */
const TINY = 1e-13;

/** A refactored pivot may be at most this many times smaller than what it divides. */
const MOST_GROWTH = 1e6;

/**
 * Factors a matrix of the same pattern with the pivots and the structure of factors that are at hand; `f` is overwritten, `x` (size n) is zero before and
 * after. False when a pivot has become too small for that: `f` is then of no use, and `factor` must choose pivots anew.
 */
export function refactor(a: Csc, f: Factors, x: Float64Array): boolean {
  const { n, order, positionOfRow, lStart, lRow, lValue, uStart, uRow, uValue, diagonal } = f;
  for (let k = 0; k < n; k++) {
    const column = order[k]!;
    for (let p = a.start[column]!; p < a.start[column + 1]!; p++) x[positionOfRow[a.row[p]!]!] = a.value[p]!;
    for (let p = uStart[k]!; p < uStart[k + 1]!; p++) {
      const j = uRow[p]!;
      const v = x[j]!;
      x[j] = 0;
      uValue[p] = v;
      if (v !== 0) for (let q = lStart[j]!; q < lStart[j + 1]!; q++) x[lRow[q]!]! -= lValue[q]! * v;
    }
    const pivot = x[k]!;
    x[k] = 0;
    diagonal[k] = pivot;
    let most = 0;
    for (let q = lStart[k]!; q < lStart[k + 1]!; q++) {
      const v = x[lRow[q]!]!;
      x[lRow[q]!] = 0;
      lValue[q] = v / pivot;
      if (Math.abs(v) > most) most = Math.abs(v);
    }
    if (!(Math.abs(pivot) * MOST_GROWTH >= most) || pivot === 0) {
      x.fill(0);
      return false;
    }
  }
  return true;
}

/**
 * Left-looking factorisation: each column of L·U is the sparse solution of a triangular system with the columns before it (Gilbert & Peierls,
 * SIAM J. Sci. Stat. Comput. 9, 1988), with threshold pivoting that prefers the diagonal.
 */
export function factor(a: Csc, order: Int32Array): FactorResult {
  const { n } = a;
  const guess = 4 * a.start[n]! + n;
  const f: Factors = {
    n,
    order,
    positionOfRow: new Int32Array(n).fill(-1),
    lStart: new Int32Array(n + 1),
    lRow: new Int32Array(guess),
    lValue: new Float64Array(guess),
    uStart: new Int32Array(n + 1),
    uRow: new Int32Array(guess),
    uValue: new Float64Array(guess),
    diagonal: new Float64Array(n),
  };
  const x = new Float64Array(n); // by row of A; zero between columns
  const mark = new Int32Array(n).fill(-1); // column in which a row was last reached
  const stack = new Int32Array(n);
  const child = new Int32Array(n);
  const reached = new Int32Array(n); // rows with entries, in topological order from `top`
  let [lEnd, uEnd] = [0, 0];
  for (let k = 0; k < n; k++) {
    const column = order[k]!;
    if (lEnd + n > f.lRow.length) [f.lRow, f.lValue] = grown(f.lRow, f.lValue, n);
    if (uEnd + n > f.uRow.length) [f.uRow, f.uValue] = grown(f.uRow, f.uValue, n);
    let top = n;
    let largestBefore = 0;
    for (let p = a.start[column]!; p < a.start[column + 1]!; p++) {
      if (mark[a.row[p]!] !== k) top = reachFrom(a.row[p]!, k, f, mark, stack, child, reached, top);
      x[a.row[p]!] = a.value[p]!;
      largestBefore = Math.max(largestBefore, Math.abs(a.value[p]!));
    }
    // Eliminate in topological order.
    for (let t = top; t < n; t++) {
      const row = reached[t]!;
      const j = f.positionOfRow[row]!;
      if (j < 0) continue;
      const v = x[row]!;
      f.uRow[uEnd] = j;
      f.uValue[uEnd++] = v;
      for (let p = f.lStart[j]!; p < f.lStart[j + 1]!; p++) x[f.lRow[p]!]! -= f.lValue[p]! * v;
    }
    let pivotRow = -1;
    let most = 0;
    for (let t = top; t < n; t++) {
      const row = reached[t]!;
      if (f.positionOfRow[row]! < 0 && Math.abs(x[row]!) > most) {
        most = Math.abs(x[row]!);
        pivotRow = row;
      }
    }
    if (pivotRow < 0 || !(most > TINY * largestBefore)) return { kind: "singular", column };
    if (mark[column] === k && f.positionOfRow[column]! < 0 && Math.abs(x[column]!) >= DIAGONAL_SHARE * most) pivotRow = column;
    const pivot = x[pivotRow]!;
    f.diagonal[k] = pivot;
    f.positionOfRow[pivotRow] = k;
    for (let t = top; t < n; t++) {
      const row = reached[t]!;
      if (f.positionOfRow[row]! < 0) {
        f.lRow[lEnd] = row;
        f.lValue[lEnd++] = x[row]! / pivot;
      }
      x[row] = 0;
    }
    f.lStart[k + 1] = lEnd;
    f.uStart[k + 1] = uEnd;
  }
  for (let p = 0; p < lEnd; p++) f.lRow[p] = f.positionOfRow[f.lRow[p]!]!;
  return { kind: "factored", factors: f };
}

/** Depth-first through the columns of L that a row feeds; writes the rows found to reached[top…] and returns the new top. */
function reachFrom(
  from: number,
  k: number,
  f: Factors,
  mark: Int32Array,
  stack: Int32Array,
  child: Int32Array,
  reached: Int32Array,
  top: number,
): number {
  let depth = 0;
  stack[0] = from;
  mark[from] = k;
  child[0] = f.positionOfRow[from]! < 0 ? 0 : f.lStart[f.positionOfRow[from]!]!;
  while (depth >= 0) {
    const row = stack[depth]!;
    const j = f.positionOfRow[row]!;
    const end = j < 0 ? 0 : f.lStart[j + 1]!;
    let next = -1;
    if (j >= 0)
      while (child[depth]! < end) {
        const candidate = f.lRow[child[depth]!++]!;
        if (mark[candidate] !== k) {
          next = candidate;
          break;
        }
      }
    if (next < 0) {
      depth--;
      reached[--top] = row;
      continue;
    }
    mark[next] = k;
    stack[++depth] = next;
    child[depth] = f.positionOfRow[next]! < 0 ? 0 : f.lStart[f.positionOfRow[next]!]!;
  }
  return top;
}

function grown(row: Int32Array, value: Float64Array, least: number): [Int32Array, Float64Array] {
  const length = 2 * row.length + least;
  const [moreRows, moreValues] = [new Int32Array(length), new Float64Array(length)];
  moreRows.set(row);
  moreValues.set(value);
  return [moreRows, moreValues];
}

/** Solves A·x = b; b (size n, by row of A) becomes x (by column of A). `work`: size n. */
export function solveFactored(f: Factors, b: Float64Array, work: Float64Array): void {
  const { n, lStart, lRow, lValue, uStart, uRow, uValue, diagonal } = f;
  for (let i = 0; i < n; i++) work[f.positionOfRow[i]!] = b[i]!;
  for (let k = 0; k < n; k++) {
    const v = work[k]!;
    if (v !== 0) for (let p = lStart[k]!; p < lStart[k + 1]!; p++) work[lRow[p]!]! -= lValue[p]! * v;
  }
  for (let k = n - 1; k >= 0; k--) {
    const v = work[k]! / diagonal[k]!;
    work[k] = v;
    if (v !== 0) for (let p = uStart[k]!; p < uStart[k + 1]!; p++) work[uRow[p]!]! -= uValue[p]! * v;
  }
  for (let k = 0; k < n; k++) b[f.order[k]!] = work[k]!;
}
