import type { Netlist } from "./netlist.ts";
import { type Shape, shapeOf } from "./shape.ts";
import { factor, type Factors, multiply, refactor, solveFactored } from "./sparse/index.ts";

/**
 * The equations of a netlist with every element brought to one of two linear forms. Pattern and elimination order are made once; the numbers
 * are written for each round (structure, numbers and answer are three things with three lifetimes).
 *
 * Norton form: i = siemens·v + amps, for what has a finite slope. Branch form: v = ohms·i + volts with the current as an unknown of
 * its own, for ideal sources and inductors.
 */
export interface System extends Shape {
  readonly netlist: Netlist;
  readonly shape: Shape;
  /** By element index: slope in Norton form, S; resistance in branch form, Ω. */
  readonly slope: Float64Array;
  /** By element index: A in Norton form, V in branch form. */
  readonly offset: Float64Array;
  /** By unknown: conductance that ties a node to node 0 which nothing but blocked junctions and open contacts holds, S. */
  readonly tie: Float64Array;
  /** By coupling index: −M over the step's time factor, Ω. */
  readonly mutual: Float64Array;
  /** Solves with the numbers as they stand. The answer is good until the next call. */
  readonly solve: () => { readonly kind: "solved"; readonly x: Float64Array } | { readonly kind: "singular"; readonly unknown: number };
  /** Solves with the slopes of the last call of `solve`, whose factors must still be held, and the offsets as they stand now. */
  readonly solveAgain: () => Float64Array;
  /** Solves further right-hand sides (size n, overwritten) with the factors of the last call of `solve`; undefined when it had none. */
  readonly factored: () => ((b: Float64Array) => void) | undefined;
  /** Gives its factors away, for a system of the same structure to begin with; it has none afterwards. */
  readonly handOver: () => Factors | undefined;
  /** Brings the last answer nearer to its equations by one round of iterative refinement; writes it. */
  readonly polish: () => void;
  /** The user's name of an unknown. */
  readonly nameOf: (unknown: number) => string;
}

/** Insulation that holds a node where nothing else does, S, and the same as a share of the thickest conductor there. */
const TIE_SIEMENS = 1e-9;
const TIE_SHARE = 1e-12;

/**
 * `dynamic`: capacitors join their ends, as they do while things change; at rest they carry nothing. `like`: a system of a netlist of the same shape, whose shape
 * is taken over; `begin`: factors that it handed over.
 */
export function createSystem(netlist: Netlist, dynamic: boolean, like?: System, begin?: Factors): System {
  const shape = like?.shape ?? shapeOf(netlist, dynamic);
  const { size, nodeOf, live, branchOf, elementOfBranch, pattern, order, into, rightFirst, rightSecond } = shape;
  const count = netlist.elements.length;
  const couplings = netlist.couplings ?? [];
  const ties = 5 * count + 2 * couplings.length;
  const slope = new Float64Array(count);
  const offset = new Float64Array(count);
  const mutual = new Float64Array(couplings.length);
  const tie = new Float64Array(size);
  const work = new Float64Array(size);
  const scratch = new Float64Array(size);
  let factors: Factors | undefined = begin;
  // What has no place in the equations (node 0) is written to one place behind their end, so that nothing asks.
  const entries = pattern.matrix.value.length;
  const value = new Float64Array(entries + 1);
  const matrix = { ...pattern.matrix, value: value.subarray(0, entries) };
  const right = new Float64Array(size + 1);
  const b = right.subarray(0, size);
  const factoredValue = new Float64Array(entries);
  /** The right-hand side of the last answer. */
  const wanted = new Float64Array(size);
  let everFactored = false;
  let tied = false;

  function solve(): ReturnType<System["solve"]> {
    // A node that only blocked parts hold has lost its last figure against the thick copper next to it: it is tied, and all is done again.
    for (let round = 0; ; round++) {
      const result = attempt();
      if (result.kind === "solved" || result.unknown >= nodeOf.length || tie[result.unknown]! > 0 || round > nodeOf.length) return result;
      let largest = 0;
      for (let p = matrix.start[result.unknown]!; p < matrix.start[result.unknown + 1]!; p++)
        largest = Math.max(largest, Math.abs(value[p]!));
      tied = true;
      tie[result.unknown] = Math.max(TIE_SIEMENS, TIE_SHARE * largest);
    }
  }

  function attempt(): ReturnType<System["solve"]> {
    value.fill(0);
    right.fill(0);
    for (let i = 0; i < count; i++) {
      if (live[i] === 0) continue;
      const at = 5 * i;
      const g = slope[i]!;
      const c = offset[i]!;
      const own = branchOf[i]!;
      if (own >= 0) {
        value[into[at]!]! += 1;
        value[into[at + 1]!]! -= 1;
        value[into[at + 2]!]! += 1;
        value[into[at + 3]!]! -= 1;
        value[into[at + 4]!]! -= g;
        right[own] = c;
      } else {
        value[into[at]!]! += g;
        value[into[at + 1]!]! += g;
        value[into[at + 2]!]! -= g;
        value[into[at + 3]!]! -= g;
        right[rightFirst[i]!]! -= c;
        right[rightSecond[i]!]! += c;
      }
    }
    for (let m = 0; m < couplings.length; m++) {
      value[into[5 * count + 2 * m]!]! += mutual[m]!;
      value[into[5 * count + 2 * m + 1]!]! += mutual[m]!;
    }
    if (tied) for (let n = 0; n < nodeOf.length; n++) value[into[ties + n]!]! += tie[n]!;
    wanted.set(b);
    // The same numbers as last time have the same factors.
    let same = factors !== undefined && everFactored;
    for (let p = 0; same && p < entries; p++) same = value[p] === factoredValue[p];
    if (same) {
      solveFactored(factors!, b, work);
      return { kind: "solved", x: b };
    }
    factoredValue.set(matrix.value);
    everFactored = true;
    // Same pattern, new values: the pivots of last time serve again unless one has become too small.
    if (factors === undefined || !refactor(matrix, factors, scratch)) {
      const result = factor(matrix, order);
      factors = result.kind === "factored" ? result.factors : undefined;
      if (result.kind === "singular") return { kind: "singular", unknown: result.column };
    }
    solveFactored(factors!, b, work);
    return { kind: "solved", x: b };
  }
  function solveAgain(): Float64Array {
    right.fill(0);
    for (let i = 0; i < count; i++) {
      const c = offset[i]!;
      if (live[i] === 0 || c === 0) continue;
      const own = branchOf[i]!;
      if (own >= 0) right[own] = c;
      else {
        right[rightFirst[i]!]! -= c;
        right[rightSecond[i]!]! += c;
      }
    }
    solveFactored(factors!, b, work);
    return b;
  }
  const handOver = (): Factors | undefined => {
    const given = factors;
    factors = undefined;
    return given;
  };
  function polish(): void {
    if (factors === undefined) return;
    const product = multiply(matrix, b);
    for (let i = 0; i < size; i++) wanted[i] = wanted[i]! - product[i]!;
    solveFactored(factors, wanted, work);
    for (let i = 0; i < size; i++) b[i]! += wanted[i]!;
  }
  const factored = (): ((b: Float64Array) => void) | undefined => {
    const held = factors;
    return held === undefined ? undefined : (right) => solveFactored(held, right, work);
  };
  const nameOf = (unknown: number): string =>
    unknown < nodeOf.length ? netlist.nodes[nodeOf[unknown]!]! : netlist.elements[elementOfBranch[unknown - nodeOf.length]!]!.id;
  return { netlist, shape, ...shape, slope, offset, mutual, tie, solve, solveAgain, factored, handOver, polish, nameOf };
}
