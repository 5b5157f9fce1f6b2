import type { Element, Netlist } from "./netlist.ts";
import type { Workspace } from "./newton.ts";
import { createPortEquations, MOST_PORTS } from "./port-equations.ts";
import { type Curve, curveOf, isSharp, isStraight, limitOf, line, type Port } from "./port.ts";
import { createStrides } from "./strides.ts";
import { createSystem, type System } from "./system.ts";

/**
 * A circuit at rest in one state of its switches, factored there, for solving what differs from it at ports, pairs of nodes: x = x₀ − Σ zₚ·Jₚ with zₚ =
 * A⁻¹uₚ the answer to 1 A through port p and Jₚ(vₚ) what flows there over the circuit at rest. That leaves one equation for each port, v = v₀ − Z·J(v), which
 * Newton's method solves (Sherman–Morrison–Woodbury when J is straight; Sherman & Morrison 1950).
 */
export interface Linearization {
  /** Switch states by element index. */
  readonly closed: Uint8Array;
  /** The unknowns; those of the last `solveWith`. */
  readonly x: Float64Array;
  /** The unknowns at rest, unchanged. */
  readonly rested: Float64Array;
  /** The unknowns that 1 A into a node adds, V. */
  readonly responseTo: (node: number) => Float64Array;
  /** What nonlinear. */
  readonly nonlinear: readonly NonlinearElement[];
  /** The port at which an element differs from its tangent here; undefined where no port can say it. */
  readonly portAt: (index: number, now: Element | undefined, closed: boolean) => Port | undefined;
  /**
   * Solves with changes at ports and writes x. Bent elements that leave their tangents become ports as well, unless they are `taken` out. Undefined when it is not
   * good enough: a part comes loose, too many ports, no rest.
   */
  readonly solveWith: (changes: readonly Port[], taken: ReadonlySet<number>) => PortSolution | undefined;
  /** Resistance between a node and node 0 with the changes of an answer, Ω; bent elements along their tangents here. */
  readonly drivingPointOhms: (answer: PortSolution, node: number) => number;
  /** See Changed. */
  readonly addLoadedVolts: (
    answer: PortSolution,
    nodes: Int32Array,
    instrumentOhms: number,
    into: Float32Array,
    from: number,
    share: number,
  ) => void;
}

/** A bent element on its tangent. */
export interface NonlinearElement {
  readonly element: number;
  readonly a: number;
  readonly b: number;
  /** How far it is off its tangent when it moves by so many V, as the V that this makes across it. */
  readonly offBy: (moveVolts: number) => number;
}

export interface PortSolution {
  readonly columns: readonly Float64Array[];
  /** D·(1 + Z·D)⁻¹ of the changes, size changes², made when first asked for. */
  readonly inner: () => Float64Array;
  readonly changes: number;
}

/** Rounds of factoring anew before giving up. */
const MAX_ROUNDS = 60;
/** A bent element that is off its tangent by less than this, V, is left on it. */
const STRAIGHT_VOLTS = 1e-6;
/** Bent elements off their tangents from which on it is quicker to factor anew. */
const MOST_ACTIVE = 14;
/** Below this it has lost enough for rounds of correction, each of which must shrink what is missing. */
const ILL_CONDITIONED = 1e-3;
const MOST_CORRECTIONS = 5;
const CORRECTED_VOLTS = 1e-8;
const ROUNDING_VOLTS = 5e-4;
/** Numbers kept in columns that are at hand. */
const KEPT_NUMBERS = 2_000_000;

/** x −= j·column. */
function subtract(x: Float64Array, column: Float64Array, j: number): void {
  for (let i = 0; i < x.length; i++) x[i]! -= column[i]! * j;
}

/** into += share·x/(1 + load·(ohms − single·column²)), for one change. `at`: unknown by place; −1 for node 0. */
function addLoaded(
  x: Float64Array,
  column: Float64Array,
  single: number,
  at: Int32Array,
  ohms: Float64Array,
  load: number,
  into: Float32Array,
  from: number,
  share: number,
): void {
  for (let i = 0; i < at.length; i++) {
    const c = at[i]!;
    if (c < 0) continue;
    const z = column[c]!;
    const left = ohms[i]! - single * z * z;
    const v = share * x[c]!;
    into[from + i]! += left > 0 ? v / (1 + load * left) : v;
  }
}

/** From a system that has just been solved at its resting point, linearised there; it must not be solved again. Undefined when it had no factors. */
export function createLinearization(netlist: Netlist, system: System, work: Workspace, rested: Float64Array): Linearization | undefined {
  const factored = system.factored();
  if (factored === undefined) return undefined;
  const { first, second, bent, size, columnOf } = system;
  const elements = netlist.elements;
  const slope = Float64Array.from(system.slope);
  const offset = Float64Array.from(system.offset);
  const linearised = Float64Array.from(work.linearised);
  const x0 = Float64Array.from(rested);
  const x = Float64Array.from(rested);

  const columns = new Map<number, Float64Array>();
  const keptColumns = Math.max(16, Math.floor(KEPT_NUMBERS / Math.max(1, size)));
  /** 1 A drawn from node a and returned at node b. */
  const unit = (a: number, b: number): Float64Array => {
    const u = new Float64Array(size);
    if (columnOf[a]! >= 0) u[columnOf[a]!]! += 1;
    if (columnOf[b]! >= 0) u[columnOf[b]!]! -= 1;
    return u;
  };
  /** A⁻¹·u for 1 A drawn from node a and returned at node b. */
  const columnFor = (a: number, b: number): Float64Array => {
    const key = a * netlist.nodes.length + b;
    const known = columns.get(key);
    if (known !== undefined) return known;
    const z = unit(a, b);
    factored(z);
    if (columns.size >= keptColumns) columns.clear();
    columns.set(key, z);
    return z;
  };
  const across = (at: Float64Array, a: number, b: number): number =>
    (columnOf[a]! < 0 ? 0 : at[columnOf[a]!]!) - (columnOf[b]! < 0 ? 0 : at[columnOf[b]!]!);

  function portAt(index: number, now: Element | undefined, closed: boolean): Port | undefined {
    const was = elements[index]!;
    if (system.branchOf[index]! >= 0 || system.live[index] === 0) return undefined;
    const g = slope[index]!;
    const c = offset[index]!;
    if (now === undefined) return { a: was.a, b: was.b, extra: line(-g, -c), limit: (v) => v, straight: true, sharp: false };
    const curve = curveOf(now, closed);
    if (curve === undefined || now.a !== was.a || now.b !== was.b) return undefined;
    const extra = (v: number): { amps: number; siemens: number } => {
      const { amps, siemens } = curve(v);
      return { amps: amps - g * v - c, siemens: siemens - g };
    };
    return { a: was.a, b: was.b, extra, limit: limitOf(now), straight: isStraight(now), sharp: isSharp(now) };
  }

  /** Bent elements by their place in `bent`: their curves, and their ports once they have left their tangents. */
  const curves = Array.from(bent, (i): Curve => curveOf(elements[i]!, false)!);
  const portsOffTangent = new Map<number, Port>();
  const portOffTangent = (i: number): Port => {
    const known = portsOffTangent.get(i) ?? portAt(i, elements[i], false)!;
    portsOffTangent.set(i, known);
    return known;
  };
  /** Ohms here between the ends of each bent element, to weigh how far it is off its tangent; made when first asked for. */
  const ohmsAcross = new Float64Array(elements.length).fill(-1);
  const ohmsAcrossOf = (i: number): number => {
    const { a, b } = elements[i]!;
    if (ohmsAcross[i]! < 0) ohmsAcross[i] = Math.abs(across(columnFor(a, b), a, b));
    return ohmsAcross[i]!;
  };

  const nonlinear = Array.from(bent, (i, b): NonlinearElement => {
    const { a, b: to } = elements[i]!;
    const rests = across(x0, a, to);
    return {
      element: i,
      a,
      b: to,
      offBy: (move) => Math.abs(curves[b]!(rests + move).amps - slope[i]! * (rests + move) - offset[i]!) * ohmsAcrossOf(i),
    };
  });

  const equations = createPortEquations(across);
  const { v } = equations;
  const strides = createStrides(bent.length);

  function solveWith(changes: readonly Port[], taken: ReadonlySet<number>): PortSolution | undefined {
    const active = new Map<number, Port>();
    for (;;) {
      const ports = active.size === 0 ? changes : [...changes, ...active.values()];
      const k = ports.length;
      if (changes.length > MOST_PORTS) return undefined;
      if (active.size > MOST_ACTIVE || k > MOST_PORTS) return relinearise(changes, taken);
      const z = ports.map((p) => columnFor(p.a, p.b));
      equations.fill(ports, x0, z);
      const pivot = equations.solve(ports);
      if (pivot === 0) return undefined;
      x.set(x0);
      for (let p = 0; p < k; p++) {
        const j = ports[p]!.extra(v[p]!).amps;
        if (j !== 0) subtract(x, z[p]!, j);
      }
      for (let round = 0, off = pivot < ILL_CONDITIONED ? Infinity : 0; off > CORRECTED_VOLTS; round++) {
        const next = correct(ports, z);
        if (!(next < Infinity)) return undefined;
        // What no longer shrinks is the rounding of nodes that only insulation holds.
        if (round === MOST_CORRECTIONS || next >= off) {
          if (next > ROUNDING_VOLTS) return undefined;
          break;
        }
        off = next;
      }
      if (!leaveTangents(active, taken)) return { columns: z, inner: equations.inner(changes.length), changes: changes.length };
    }
  }

  /** The system again, with tangents of its own; made when first asked for. */
  let own: System | undefined;
  /**
   * Where many bent elements leave their tangents it is quicker to factor anew on theirs, round after round, with the changes alone at ports. Writes x.
   */
  function relinearise(changes: readonly Port[], taken: ReadonlySet<number>): PortSolution | undefined {
    const k = changes.length;
    own ??= createSystem(netlist, false, system);
    own.slope.set(slope);
    own.offset.set(offset);
    own.tie.set(system.tie);
    const tangents = Float64Array.from(linearised);
    strides.begin();
    for (let round = 0; round < MAX_ROUNDS; round++) {
      for (let b = 0; b < bent.length; b++) {
        const i = bent[b]!;
        if (taken.has(i)) continue;
        const { amps, siemens: g } = curves[b]!(tangents[i]!);
        own.slope[i] = g;
        own.offset[i] = amps - g * tangents[i]!;
      }
      const solved = own.solve();
      if (solved.kind !== "solved") return undefined;
      const solveAgain = own.factored()!;
      const z = changes.map((p) => {
        const column = unit(p.a, p.b);
        solveAgain(column);
        return column;
      });
      equations.fill(changes, solved.x, z);
      if (equations.solve(changes) === 0) return undefined;
      x.set(solved.x);
      for (let p = 0; p < k; p++) subtract(x, z[p]!, changes[p]!.extra(v[p]!).amps);
      let still = true;
      for (let b = 0; b < bent.length; b++) {
        const i = bent[b]!;
        if (taken.has(i)) continue;
        const e = elements[i]!;
        const at = (first[i]! < 0 ? 0 : x[first[i]!]!) - (second[i]! < 0 ? 0 : x[second[i]!]!);
        const before = tangents[i]!;
        if (Math.abs(at - before) > 1e-7 + 1e-8 * Math.abs(at)) still = false;
        if (isSharp(e)) tangents[i] = before + strides.take(b, at - before);
        else tangents[i] = round < 20 ? limitOf(e)(at, before) : (limitOf(e)(at, before) + before) / 2;
      }
      if (!still) continue;
      const columns = changes.map((p) => columnFor(p.a, p.b));
      equations.fill(changes, x0, columns);
      return { columns, inner: equations.inner(k), changes: k };
    }
    return undefined;
  }

  /** Adds the bent elements to `active` that are off their tangents at x; true when there are any. */
  function leaveTangents(active: Map<number, Port>, taken: ReadonlySet<number>): boolean {
    let any = false;
    for (let b = 0; b < bent.length; b++) {
      const i = bent[b]!;
      const at = (first[i]! < 0 ? 0 : x[first[i]!]!) - (second[i]! < 0 ? 0 : x[second[i]!]!);
      // Where it was, it is on its tangent.
      if (Math.abs(at - linearised[i]!) < STRAIGHT_VOLTS || active.has(i) || taken.has(i)) continue;
      const off = curves[b]!(at).amps - slope[i]! * at - offset[i]!;
      if (!(Math.abs(off) * ohmsAcrossOf(i) > STRAIGHT_VOLTS)) continue;
      active.set(i, portOffTangent(i));
      any = true;
    }
    return any;
  }

  /**
   * One round of iterative refinement: what Kirchhoff's current law still misses at every node is driven through the changed circuit. Writes x and returns the
   * largest step, V.
   */
  function correct(ports: readonly Port[], z: readonly Float64Array[]): number {
    const k = ports.length;
    const missing = new Float64Array(size);
    for (let i = 0; i < elements.length; i++) {
      if (system.live[i] === 0) continue;
      const [p, q, own] = [first[i]!, second[i]!, system.branchOf[i]!];
      const at = (p < 0 ? 0 : x[p]!) - (q < 0 ? 0 : x[q]!);
      const through = own >= 0 ? x[own]! : slope[i]! * at + offset[i]!;
      if (p >= 0) missing[p]! -= through;
      if (q >= 0) missing[q]! += through;
      if (own >= 0) missing[own]! = offset[i]! + slope[i]! * x[own]! - at;
    }
    for (let n = 0; n < size; n++) if (system.tie[n]! > 0) missing[n]! -= system.tie[n]! * x[n]!;
    for (const port of ports) {
      const [p, q] = [columnOf[port.a]!, columnOf[port.b]!];
      const j = port.extra((p < 0 ? 0 : x[p]!) - (q < 0 ? 0 : x[q]!)).amps;
      if (p >= 0) missing[p]! -= j;
      if (q >= 0) missing[q]! += j;
    }
    factored!(missing);
    const drawn = equations.drawnBy(ports, missing);
    if (drawn === undefined) return NaN;
    let most = 0;
    for (let i = 0; i < size; i++) {
      let step = missing[i]!;
      for (let p = 0; p < k; p++) step -= z[p]![i]! * drawn[p]!;
      if (!(Math.abs(step) < Infinity)) return NaN;
      if (Math.abs(step) > most) most = Math.abs(step);
      x[i]! += step;
    }
    return most;
  }

  const selfOhms = new Float64Array(netlist.nodes.length).fill(-1);
  /** The nodes whose own resistance is at hand. */
  let known: Int32Array | undefined;
  let knownColumns = new Int32Array(0);
  let knownOhms = new Float64Array(0);
  const selfOhmsOf = (node: number): number => {
    if (selfOhms[node]! < 0) {
      const column = new Float64Array(size);
      column[columnOf[node]!] = 1;
      factored(column);
      selfOhms[node] = column[columnOf[node]!]!;
    }
    return selfOhms[node]!;
  };

  function drivingPointOhms({ columns: z, inner, changes: k }: PortSolution, node: number): number {
    const at = columnOf[node]!;
    if (at < 0) return 0;
    let sum = selfOhmsOf(node);
    // The circuit is reciprocal: what port p does to the node, the node does to port p.
    for (let i = 0; i < k; i++) {
      const there = z[i]![at]!;
      if (there !== 0) for (let j = 0; j < k; j++) sum -= there * inner()[i * k + j]! * z[j]![at]!;
    }
    return Math.max(0, sum);
  }

  const addLoadedVolts: Linearization["addLoadedVolts"] = (answer, nodes, instrumentOhms, into, from, share) => {
    if (known !== nodes) {
      known = nodes;
      knownColumns = nodes.map((n) => columnOf[n]!);
      knownOhms = Float64Array.from(nodes, (n) => (columnOf[n]! < 0 ? 0 : selfOhmsOf(n)));
    }
    if (answer.changes > 1) {
      for (let i = 0; i < nodes.length; i++) {
        const c = knownColumns[i]!;
        if (c >= 0) into[from + i]! += (share * x[c]!) / (1 + drivingPointOhms(answer, nodes[i]!) / instrumentOhms);
      }
      return;
    }
    const single = answer.changes === 1 ? answer.inner()[0]! : 0;
    addLoaded(x, answer.columns[0] ?? x, single, knownColumns, knownOhms, 1 / instrumentOhms, into, from, share);
  };

  const responseTo = (node: number): Float64Array => {
    const column = new Float64Array(size);
    if (columnOf[node]! >= 0) {
      column[columnOf[node]!] = 1;
      factored(column);
    }
    return column;
  };

  return {
    closed: Uint8Array.from(work.closed),
    x,
    rested: x0,
    responseTo,
    nonlinear,
    portAt,
    solveWith,
    drivingPointOhms,
    addLoadedVolts,
  };
}
