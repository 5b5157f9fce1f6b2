import { solveDense } from "./dense-lu.ts";
import type { Element, Netlist, SolveResult } from "./netlist.ts";

const MAX_ITERATIONS = 80;
/** Change of a varying resistance at which the operating point counts as found. */
const TOLERANCE = 1e-10;
/** Voltage across a varying resistance in the first round. */
const FIRST_GUESS_VOLTS = 10;

/**
 * Operating point by nodal analysis; ideal sources bring a current each as an extra unknown (modified nodal analysis).
 * Varying resistances are iterated to a fixed point. Nodes with no path to node 0 are left out and marked floating.
 */
export function solve(netlist: Netlist): SolveResult {
  const grounded = reachableFromZero(netlist);
  const column = new Int32Array(netlist.nodes.length).fill(-1);
  const nodeOfColumn: number[] = [];
  for (let n = 1; n < netlist.nodes.length; n++) {
    if (grounded[n] === 1) {
      column[n] = nodeOfColumn.length;
      nodeOfColumn.push(n);
    }
  }
  const live = netlist.elements.map((e) => grounded[e.a] === 1 && grounded[e.b] === 1);
  const ideal = netlist.elements.flatMap((e, i) => (e.kind === "source" && e.internalOhms === 0 && live[i] ? [i] : []));
  const size = nodeOfColumn.length + ideal.length;

  const volts = new Float64Array(netlist.nodes.length);
  const resistance = netlist.elements.map((e) => (e.kind === "varying" ? e.ohmsAt(FIRST_GUESS_VOLTS) : 0));
  let worst = -1;
  for (let round = 0; round < MAX_ITERATIONS; round++) {
    const a = new Float64Array(size * size);
    const b = new Float64Array(size);
    netlist.elements.forEach((e, i) => {
      if (live[i]) stamp(e, resistance[i]!, a, b, column, size, nodeOfColumn.length + ideal.indexOf(i));
    });
    const stuck = solveDense(a, b, size);
    if (stuck >= 0) {
      const idealAt = ideal[stuck - nodeOfColumn.length];
      return { kind: "singular", node: idealAt === undefined ? netlist.nodes[nodeOfColumn[stuck]!]! : netlist.elements[idealAt]!.id };
    }
    nodeOfColumn.forEach((n, c) => (volts[n] = b[c]!));
    worst = -1;
    let worstChange = TOLERANCE;
    netlist.elements.forEach((e, i) => {
      if (e.kind !== "varying" || !live[i]) return;
      const next = e.ohmsAt(Math.abs(volts[e.a]! - volts[e.b]!));
      const change = Math.abs(next - resistance[i]!) / next;
      if (change > worstChange) {
        worst = i;
        worstChange = change;
      }
      resistance[i] = next;
    });
    if (worst < 0) return finish(netlist, volts, grounded, resistance, live, ideal, b, nodeOfColumn.length);
  }
  return { kind: "diverged", element: netlist.elements[worst]!.id };
}

function finish(
  netlist: Netlist,
  volts: Float64Array,
  grounded: Uint8Array,
  resistance: readonly number[],
  live: readonly boolean[],
  ideal: readonly number[],
  solution: Float64Array,
  idealOffset: number,
): SolveResult {
  const amps = Float64Array.from(netlist.elements, (e, i) => {
    if (!live[i]) return 0;
    const across = volts[e.a]! - volts[e.b]!;
    if (e.kind === "resistor") return across / e.ohms;
    if (e.kind === "varying") return across / resistance[i]!;
    return e.internalOhms === 0 ? solution[idealOffset + ideal.indexOf(i)]! : (across - e.volts) / e.internalOhms;
  });
  return { kind: "solved", volts, floating: Uint8Array.from(grounded, (g) => 1 - g), amps };
}

/** Adds one element's conductances (and source terms) to the system. */
function stamp(e: Element, varyingOhms: number, a: Float64Array, b: Float64Array, column: Int32Array, n: number, extra: number): void {
  const p = column[e.a]!;
  const q = column[e.b]!;
  const add = (row: number, col: number, value: number): void => {
    if (row >= 0 && col >= 0) a[row * n + col]! += value;
  };
  if (e.kind === "source" && e.internalOhms === 0) {
    add(p, extra, 1);
    add(q, extra, -1);
    add(extra, p, 1);
    add(extra, q, -1);
    b[extra]! += e.volts;
    return;
  }
  const g = 1 / (e.kind === "resistor" ? e.ohms : e.kind === "varying" ? varyingOhms : e.internalOhms);
  add(p, p, g);
  add(q, q, g);
  add(p, q, -g);
  add(q, p, -g);
  if (e.kind === "source") {
    if (p >= 0) b[p]! += g * e.volts;
    if (q >= 0) b[q]! -= g * e.volts;
  }
}

/** 1 for each node that elements join to node 0. */
function reachableFromZero(netlist: Netlist): Uint8Array {
  const reached = new Uint8Array(netlist.nodes.length);
  const neighbours: number[][] = netlist.nodes.map(() => []);
  for (const e of netlist.elements) {
    neighbours[e.a]!.push(e.b);
    neighbours[e.b]!.push(e.a);
  }
  const open = [0];
  reached[0] = 1;
  for (let here = open.pop(); here !== undefined; here = open.pop()) {
    for (const next of neighbours[here]!) {
      if (reached[next] === 1) continue;
      reached[next] = 1;
      open.push(next);
    }
  }
  return reached;
}
