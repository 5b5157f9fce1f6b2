import { lastUsed } from "../quantity/index.ts";
import { invert, solveDense } from "./dense.ts";
import { isNear, linearise, newton, type NewtonResult, type Still, type Workspace } from "./newton.ts";
import { limitOf } from "./port.ts";
import { type Stores, writeStores } from "./stores.ts";
import { createStrides } from "./strides.ts";
import { createSystem, type System } from "./system.ts";

/** Positions of the contacts, and step lengths with each, for which equations are kept. */
const MOST_POSITIONS = 32;
const MOST_PACES = 48;
/** A position of the contacts that comes for fewer steps is not worth it. */
const WORTH_KEEPING = 4;
/** Rounds of Newton's method before the whole system is asked. */
const MAX_ROUNDS = 40;
/** Below this share of 1 a pivot has lost too many figures. */
const LOOSE = 1e-13;
/** What differs from its tangent by less than this share of what it sees is on it. */
const NOTHING = 1e-13;

/**
 * The circuit at one position of its contacts, factored once: bent elements on the tangents where they stood, stores as in the longest step. What departs from this, does so at ports: the ends of
 * bent elements and capacitors (voltage, drawn current) and the branches of inductors (current, added voltage).
 */
interface Position {
  readonly system: System;
  /** Offsets of the bent elements on these tangents, A. */
  readonly rest: Float64Array;
  /** What is seen at a port (row) of 1 A or 1 V at another (column): at bent ones of bent ones, at bent ones of stores, at stores of bent ones, at stores of stores. */
  readonly nn: Float64Array;
  readonly ns: Float64Array;
  readonly sn: Float64Array;
  readonly ss: Float64Array;
  readonly paces: Map<number, Pace | undefined>;
}

/** A position for steps of one length: stores taken out. */
interface Pace {
  /** By how much each store departs from the longest step, and pairs on one core from each other. */
  readonly departs: Float64Array;
  readonly pairs: Float64Array;
  /** (1 + ss·departs)⁻¹, and that times sn. */
  readonly inner: Float64Array;
  readonly follows: Float64Array;
  /** What bent elements see of each other through circuit and stores, Ω. */
  readonly mutual: Float64Array;
}

/**
 * Solves the steps of a transient. Between two moves of a contact its equations differ by a few bent elements, by what a step's length makes of the stores, and by the right-hand side: the rest is
 * factored once, stores are taken out once for each length, and Newton's method goes on among the bent elements alone (Schur complements). The answers are those of `newton`, which is asked
 * as long as a position is new and wherever this finds none. `longestS`: the longest step.
 */
export function createStepSolver(
  system: System,
  work: Workspace,
  stores: Stores,
  still: Still,
  longestS: number,
): {
  /** One step; the numbers of the system must stand. `pace`: what the step's length makes of the stores, 1/s. */
  readonly solve: (pace: number) => NewtonResult;
  /** To be told when contacts have moved. */
  readonly moved: () => void;
} {
  const { netlist, nonlinearAt, first, second, branchOf, size } = system;
  const [k, s] = [nonlinearAt.length, stores.at.length];
  const strides = createStrides(k);
  const room = (n: number): Float64Array => new Float64Array(n);
  const [v0, v, g, c, flow, began] = [room(k), room(k), room(k), room(k), room(k), room(k)];
  const [seen, offset, held, held0, drawn] = [room(s), room(s), room(s), room(s), room(s)];
  const m = room(k * k);
  const active = new Int32Array(k);
  const isAtPort = new Uint8Array(netlist.elements.length);
  for (const i of [...nonlinearAt, ...stores.at]) isAtPort[i] = 1;
  const across = (at: Float64Array, i: number): number => (first[i]! < 0 ? 0 : at[first[i]!]!) - (second[i]! < 0 ? 0 : at[second[i]!]!);
  const at = (of: Float64Array, i: number): number => (branchOf[i]! < 0 ? across(of, i) : of[branchOf[i]!]!);
  const positions = new Map<string, { times: number; position: Position | undefined }>();
  let here: { times: number; position: Position | undefined };
  const moved = (): void => {
    here = lastUsed(positions, work.closed.join(""), MOST_POSITIONS, () => ({ times: 0, position: undefined }));
  };
  moved();

  function prepare(): Position | undefined {
    const own = createSystem(netlist, true, system);
    for (const i of nonlinearAt) linearise(system, work, i);
    own.slope.set(system.slope);
    own.offset.set(system.offset);
    own.tie.set(system.tie);
    writeStores(own, stores, longestS, true);
    for (const i of stores.at) own.offset[i] = 0;
    if (own.solve().kind !== "solved") return undefined;
    const solve = own.factored();
    if (solve === undefined) return undefined;
    const answers = (of: Int32Array | readonly number[]): readonly Float64Array[] =>
      Array.from(of, (i) => {
        const column = room(size);
        if (branchOf[i]! >= 0) column[branchOf[i]!] = 1;
        else {
          if (first[i]! >= 0) column[first[i]!]! += 1;
          if (second[i]! >= 0) column[second[i]!]! -= 1;
        }
        solve(column);
        return column;
      });
    const [bent, stored] = [answers(nonlinearAt), answers(stores.at)];
    const block = (rows: Int32Array | readonly number[], columns: readonly Float64Array[]): Float64Array =>
      Float64Array.from(Array.from(rows, (i) => columns.map((column) => at(column, i))).flat());
    return {
      system: own,
      rest: Float64Array.from(nonlinearAt, (i) => own.offset[i]!),
      nn: block(nonlinearAt, bent),
      ns: block(nonlinearAt, stored),
      sn: block(stores.at, bent),
      ss: block(stores.at, stored),
      paces: new Map(),
    };
  }

  /** Takes the stores out, as they stand in the system now. */
  function paceOf({ system: own, nn, ns, sn, ss }: Position): Pace | undefined {
    const departs = Float64Array.from(stores.at, (i) => {
      // A branch's own resistance stands with a minus in its row.
      const by = system.slope[i]! - own.slope[i]!;
      return branchOf[i]! < 0 ? by : -by;
    });
    const pairs = Float64Array.from(stores.pairs, ({ index }) => system.mutual[index]! - own.mutual[index]!);
    const whole = room(s * s);
    for (let p = 0; p < s; p++) whole[p * s + p] = departs[p]!;
    stores.pairs.forEach(({ first: p, second: q }, n) => (whole[p * s + q] = whole[q * s + p] = pairs[n]!));
    const inner = product(ss, whole, s, s, s);
    for (let p = 0; p < s; p++) inner[p * s + p]! += 1;
    if (!(invert(s, inner) > LOOSE)) return undefined;
    const follows = product(inner, sn, s, s, k);
    const mutual = Float64Array.from(nn);
    const through = product(ns, product(whole, follows, s, s, k), k, s, k);
    for (let p = 0; p < mutual.length; p++) mutual[p]! -= through[p]!;
    return { departs, pairs, inner, follows, mutual };
  }

  /** One round: every bent element on its tangent at its own voltage, all of them solved together. Writes v and flow; false where figures are lost. */
  function together({ system: own, rest }: Position, mutual: Float64Array): boolean {
    let n = 0;
    for (let p = 0; p < k; p++) {
      const i = nonlinearAt[p]!;
      linearise(system, work, i);
      g[p] = system.slope[i]! - own.slope[i]!;
      c[p] = system.offset[i]! - rest[p]!;
      flow[p] = 0;
      const sees = mutual[p * k + p]!;
      if (Math.abs(g[p]! * sees) + Math.abs(c[p]! * sees) > NOTHING) active[n++] = p;
    }
    const right = v;
    for (let r = 0; r < n; r++) {
      const p = active[r]!;
      let sum = v0[p]!;
      for (let t = 0; t < n; t++) {
        const q = active[t]!;
        const z = mutual[p * k + q]!;
        m[r * n + t] = z * g[q]! + (r === t ? 1 : 0);
        sum -= z * c[q]!;
      }
      right[r] = sum;
    }
    if (n > 0 && !(solveDense(n, m, right) > LOOSE)) return false;
    for (let r = 0; r < n; r++) flow[active[r]!] = g[active[r]!]! * right[r]! + c[active[r]!]!;
    for (let p = 0; p < k; p++) {
      let sum = v0[p]!;
      for (let r = 0; r < n; r++) sum -= mutual[p * k + active[r]!]! * flow[active[r]!]!;
      v[p] = sum;
    }
    return true;
  }

  /** Writes what stores draw beside the longest step's, at what is seen at them. */
  function drawBy({ departs, pairs }: Pace, at: Float64Array): void {
    for (let p = 0; p < s; p++) drawn[p] = offset[p]! + departs[p]! * at[p]!;
    for (let n = 0; n < pairs.length; n++) {
      const { first: p, second: q } = stores.pairs[n]!;
      drawn[p]! += pairs[n]! * at[q]!;
      drawn[q]! += pairs[n]! * at[p]!;
    }
  }

  function among(position: Position, pace: Pace): NewtonResult | undefined {
    const { system: own, rest, ns, ss } = position;
    for (let i = 0; i < isAtPort.length; i++) if (isAtPort[i] === 0) own.offset[i] = system.offset[i]!;
    for (let p = 0; p < k; p++) own.offset[nonlinearAt[p]!] = rest[p]!;
    for (let p = 0; p < s; p++) own.offset[stores.at[p]!] = 0;
    const x = own.solveAgain();
    // Stores first, as if no bent element left its tangent.
    for (let p = 0; p < s; p++) {
      const i = stores.at[p]!;
      seen[p] = at(x, i);
      offset[p] = branchOf[i]! < 0 ? system.offset[i]! : -system.offset[i]!;
    }
    subtract(seen, ss, offset, s, s);
    multiply(held0, pace.inner, seen, s, s);
    drawBy(pace, held0);
    for (let p = 0; p < k; p++) v0[p] = across(x, nonlinearAt[p]!);
    subtract(v0, ns, drawn, k, s);
    strides.begin();
    for (let round = 0; round < MAX_ROUNDS; round++) {
      if (!together(position, pace.mutual)) return undefined;
      let settled = true;
      for (let p = 0; p < k; p++) {
        const i = nonlinearAt[p]!;
        const e = netlist.elements[i]!;
        const before = work.linearised[i]!;
        const now = v[p]!;
        if (!Number.isFinite(now)) return undefined;
        if (!isNear(now, before, system.slope[i]!, still)) settled = false;
        work.linearised[i] = e.kind === "curve" && e.sharp === true ? before + strides.take(p, now - before) : limitOf(e)(now, before);
      }
      if (!settled) continue;
      held.set(held0);
      subtract(held, pace.follows, flow, s, k);
      drawBy(pace, held);
      for (let p = 0; p < k; p++) own.offset[nonlinearAt[p]!] = rest[p]! + flow[p]!;
      for (let p = 0; p < s; p++) {
        const i = stores.at[p]!;
        own.offset[i] = branchOf[i]! < 0 ? drawn[p]! : -drawn[p]!;
      }
      return { kind: "solved", x: own.solveAgain() };
    }
    return undefined;
  }

  return {
    moved,
    solve: (length) => {
      if (k === 0) return newton(system, work, still);
      if (++here.times === WORTH_KEEPING) here.position = prepare();
      const { position } = here;
      const pace = position === undefined ? undefined : lastUsed(position.paces, length, MOST_PACES, () => paceOf(position));
      if (position !== undefined && pace !== undefined) {
        for (let p = 0; p < k; p++) began[p] = work.linearised[nonlinearAt[p]!]!;
        const found = among(position, pace);
        if (found !== undefined) return found;
        for (let p = 0; p < k; p++) work.linearised[nonlinearAt[p]!] = began[p]!;
      }
      return newton(system, work, still);
    },
  };
}

/** to = a·x; a has so many rows and columns, row after row. */
function multiply(to: Float64Array, a: Float64Array, x: Float64Array, rows: number, columns: number): void {
  for (let i = 0; i < rows; i++) {
    let sum = 0;
    for (let j = 0; j < columns; j++) sum += a[i * columns + j]! * x[j]!;
    to[i] = sum;
  }
}

/** to −= a·x. */
function subtract(to: Float64Array, a: Float64Array, x: Float64Array, rows: number, columns: number): void {
  for (let i = 0; i < rows; i++) {
    let sum = 0;
    for (let j = 0; j < columns; j++) sum += a[i * columns + j]! * x[j]!;
    to[i]! -= sum;
  }
}

/** a·b, of rows × inner and inner × columns, row after row. */
function product(a: Float64Array, b: Float64Array, rows: number, inner: number, columns: number): Float64Array {
  const made = new Float64Array(rows * columns);
  for (let i = 0; i < rows; i++)
    for (let t = 0; t < inner; t++) {
      const share = a[i * inner + t]!;
      if (share !== 0) for (let j = 0; j < columns; j++) made[i * columns + j]! += share * b[t * columns + j]!;
    }
  return made;
}
