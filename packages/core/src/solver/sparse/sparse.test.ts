import { expect } from "chai";
import fc from "fast-check";
import { checkCsc, multiply, patternOf, type Csc } from "./csc.ts";
import { factor, solveFactored } from "./lu.ts";
import { minimumDegree } from "./order.ts";

/** A matrix from triplets, values added where they meet. */
function matrixOf(n: number, entries: readonly (readonly [number, number, number])[]): Csc {
  const { matrix, slot } = patternOf(
    n,
    entries.map((e) => e[0]),
    entries.map((e) => e[1]),
  );
  entries.forEach((e, i) => (matrix.value[slot[i]!]! += e[2]));
  checkCsc(matrix);
  return matrix;
}

/** Dense elimination with full row pivoting: another method, for comparison. */
function dense(a: Csc, b: Float64Array): number[] {
  const { n } = a;
  const m = Array.from({ length: n }, (_, i) => [...Array.from({ length: n }, () => 0), b[i]!]);
  for (let k = 0; k < n; k++) for (let p = a.start[k]!; p < a.start[k + 1]!; p++) m[a.row[p]!]![k] = a.value[p]!;
  for (let k = 0; k < n; k++) {
    const best = m.slice(k).reduce((top, r, i) => (Math.abs(r[k]!) > Math.abs(m[top]![k]!) ? k + i : top), k);
    [m[k], m[best]] = [m[best]!, m[k]!];
    for (let i = k + 1; i < n; i++) {
      const share = m[i]![k]! / m[k]![k]!;
      for (let j = k; j <= n; j++) m[i]![j]! -= share * m[k]![j]!;
    }
  }
  const x = new Array<number>(n).fill(0);
  for (let k = n - 1; k >= 0; k--) x[k] = (m[k]![n]! - x.reduce((sum, v, j) => (j > k ? sum + m[k]![j]! * v : sum), 0)) / m[k]![k]!;
  return x;
}

/** The scaled residual |A·x − b| / (|A|·|x| + |b|). */
function residual(a: Csc, x: Float64Array, b: Float64Array): number {
  const norm = (v: Iterable<number>): number => Math.max(0, ...[...v].map(Math.abs));
  const difference = multiply(a, x).map((v, i) => v - b[i]!);
  return norm(difference) / Math.max(Number.MIN_VALUE, norm(a.value) * norm(x) + norm(b));
}

const anyMatrix = fc.integer({ min: 1, max: 25 }).chain((n) =>
  fc.record({
    n: fc.constant(n),
    diagonal: fc.array(fc.double({ min: 0.5, max: 2, noNaN: true }), { minLength: n, maxLength: n }),
    others: fc.array(
      fc.tuple(
        fc.nat(n - 1),
        fc.nat(n - 1),
        fc.integer({ min: -1000, max: 1000 }).map((v) => v / 1000),
      ),
      { maxLength: 4 * n },
    ),
    b: fc.array(fc.integer({ min: -10, max: 10 }), { minLength: n, maxLength: n }),
    // A permutation of rows, so that the diagonal is not handed over on a plate.
    shift: fc.nat(n - 1),
  }),
);

describe("sparse LU", () => {
  it("agrees with dense elimination and has a small residual on random unsymmetric matrices", () => {
    let solved = 0;
    fc.assert(
      fc.property(anyMatrix, ({ n, diagonal, others, b, shift }) => {
        const a = matrixOf(n, [...diagonal.map((v, i) => [(i + shift) % n, i, v * 4] as const), ...others]);
        const result = factor(a, minimumDegree(a));
        if (result.kind === "singular") return;
        solved++;
        const x = Float64Array.from(b);
        solveFactored(result.factors, x, new Float64Array(n));
        expect(residual(a, x, Float64Array.from(b))).to.be.below(1e-9);
        const other = dense(a, Float64Array.from(b));
        const size = Math.max(1, ...other.map(Math.abs));
        if (size < 1e6) other.forEach((v, i) => expect(x[i]!).to.be.closeTo(v, 1e-6 * size));
      }),
      { numRuns: 400 },
    );
    expect(solved, "most are regular").to.be.above(300);
  });

  it("names the column that has no pivot", () => {
    const a = matrixOf(3, [
      [0, 0, 1],
      [1, 1, 1],
      [2, 0, 1],
    ]);
    expect(factor(a, Int32Array.of(0, 1, 2))).to.deep.equal({ kind: "singular", column: 2 });
    // Two equal rows: rank 2.
    const twins = matrixOf(3, [
      [0, 0, 1],
      [0, 1, 2],
      [1, 0, 1],
      [1, 1, 2],
      [2, 2, 5],
      [0, 2, 1],
      [1, 2, 1],
    ]);
    expect(factor(twins, minimumDegree(twins)).kind).to.equal("singular");
  });

  it("orders each column once and keeps an arrow's fill away", () => {
    const n = 60;
    const arrow = matrixOf(
      n,
      Array.from(
        { length: n },
        (_, i) =>
          [
            [i, i, 4],
            [0, i, 1],
            [i, 0, 1],
          ] as const,
      ).flat(),
    );
    const order = minimumDegree(arrow);
    expect([...order].sort((p, q) => p - q)).to.deep.equal(Array.from({ length: n }, (_, i) => i));
    const result = factor(arrow, order);
    if (result.kind !== "factored") throw new Error("singular");
    expect(result.factors.lStart[n], "L is as sparse as A").to.be.at.most(n);
    const natural = factor(
      arrow,
      Int32Array.from({ length: n }, (_, i) => i),
    );
    expect(natural.kind === "factored" && natural.factors.lStart[n], "and full in natural order").to.equal((n * (n - 1)) / 2);
  });

  it("stays lean on a grid of 900 nodes", () => {
    const side = 30;
    const entries: [number, number, number][] = [];
    for (let i = 0; i < side; i++)
      for (let j = 0; j < side; j++) {
        const here = i * side + j;
        entries.push([here, here, 4.01]);
        for (const other of [
          i > 0 ? here - side : -1,
          i < side - 1 ? here + side : -1,
          j > 0 ? here - 1 : -1,
          j < side - 1 ? here + 1 : -1,
        ])
          if (other >= 0) entries.push([here, other, -1]);
      }
    const a = matrixOf(side * side, entries);
    const result = factor(a, minimumDegree(a));
    if (result.kind !== "factored") throw new Error("singular");
    // Natural order fills the band: about side³ = 27,000. A good order stays near n·log₂n·(3…4).
    expect(result.factors.lStart[side * side]).to.be.below(16_000);
  });

  it("says what breaks a matrix", () => {
    const a = matrixOf(2, [
      [0, 0, 1],
      [1, 1, 1],
    ]);
    expect(() => checkCsc({ ...a, row: Int32Array.of(0, 7) })).to.throw(RangeError, "row 7");
    expect(() => checkCsc({ ...a, start: Int32Array.of(0, 2, 1) })).to.throw(RangeError);
  });
});
