import { factor, minimumDegree, patternOf, solveFactored } from "./sparse/index.ts";
import type { Element, Netlist, SolveResult } from "./netlist.ts";

const MAX_ITERATIONS = 80;
/** Change of a varying resistance at which the operating point counts as found. */
const TOLERANCE = 1e-10;
/** Voltage across a varying resistance in the first round. */
const FIRST_GUESS_VOLTS = 10;

/**
 * Operating point by nodal analysis; ideal sources bring a current each as an extra unknown (modified nodal analysis).
 * Varying resistances are iterated to a fixed point; pattern and order of the system are made once. Nodes with no path to node 0 are left
 * out and marked floating.
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
  const extra = new Map<number, number>();
  netlist.elements.forEach((e, i) => {
    if (e.kind === "source" && e.internalOhms === 0 && live[i]) extra.set(i, nodeOfColumn.length + extra.size);
  });
  const size = nodeOfColumn.length + extra.size;
  const elementOfExtra = [...extra.keys()];
  const system = createSystem(netlist, live, column, extra, size);

  const volts = new Float64Array(netlist.nodes.length);
  const resistance = netlist.elements.map((e) => (e.kind === "varying" ? e.ohmsAt(FIRST_GUESS_VOLTS) : 0));
  let worst = -1;
  for (let round = 0; round < MAX_ITERATIONS; round++) {
    const answer = system.solveWith(resistance);
    if (answer.kind === "singular") {
      const source = elementOfExtra[answer.column - nodeOfColumn.length];
      return { kind: "singular", node: source === undefined ? netlist.nodes[nodeOfColumn[answer.column]!]! : netlist.elements[source]!.id };
    }
    nodeOfColumn.forEach((n, c) => (volts[n] = answer.x[c]!));
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
    if (worst < 0) {
      const amps = Float64Array.from(netlist.elements, (e, i) =>
        live[i] ? currentOf(e, volts, resistance[i]!, answer.x[extra.get(i) ?? -1] ?? 0) : 0,
      );
      return { kind: "solved", volts, floating: Uint8Array.from(grounded, (g) => 1 - g), amps };
    }
  }
  return { kind: "diverged", element: netlist.elements[worst]!.id };
}

/** Current from a to b through an element, A. `idealAmps`: the unknown of an ideal source. */
function currentOf(e: Element, volts: Float64Array, varyingOhms: number, idealAmps: number): number {
  const across = volts[e.a]! - volts[e.b]!;
  switch (e.kind) {
    case "resistor":
      return across / e.ohms;
    case "varying":
      return across / varyingOhms;
    case "source":
      return e.internalOhms === 0 ? idealAmps : (across - e.volts) / e.internalOhms;
  }
}

interface System {
  readonly solveWith: (
    varyingOhms: readonly number[],
  ) => { readonly kind: "solved"; readonly x: Float64Array } | { readonly kind: "singular"; readonly column: number };
}

/** The system of equations: where every element is stamped is found once, its values are written for each round. */
function createSystem(
  netlist: Netlist,
  live: readonly boolean[],
  column: Int32Array,
  extra: ReadonlyMap<number, number>,
  size: number,
): System {
  // Two terminals meet in four places; an ideal source couples its current with its two nodes in four others.
  const rows: number[] = [];
  const columns: number[] = [];
  const stamped: number[] = [];
  netlist.elements.forEach((e, i) => {
    if (!live[i]) return;
    const [p, q, own] = [column[e.a]!, column[e.b]!, extra.get(i)];
    if (own === undefined) {
      rows.push(p, q, p, q);
      columns.push(p, q, q, p);
    } else {
      rows.push(p, q, own, own);
      columns.push(own, own, p, q);
    }
    stamped.push(i);
  });
  const { matrix, slot } = patternOf(size, rows, columns);
  const order = minimumDegree(matrix);
  const work = new Float64Array(size);
  return {
    solveWith(varyingOhms) {
      matrix.value.fill(0);
      const b = new Float64Array(size);
      stamped.forEach((i, s) => {
        const e = netlist.elements[i]!;
        const own = extra.get(i);
        const g = own !== undefined ? 1 : 1 / (e.kind === "resistor" ? e.ohms : e.kind === "varying" ? varyingOhms[i]! : e.internalOhms);
        const signs = own === undefined ? [g, g, -g, -g] : [1, -1, 1, -1];
        for (let t = 0; t < 4; t++) if (slot[4 * s + t]! >= 0) matrix.value[slot[4 * s + t]!]! += signs[t]!;
        if (e.kind !== "source") return;
        const [p, q] = [column[e.a]!, column[e.b]!];
        if (own !== undefined) b[own]! += e.volts;
        else {
          if (p >= 0) b[p]! += g * e.volts;
          if (q >= 0) b[q]! -= g * e.volts;
        }
      });
      const result = factor(matrix, order);
      if (result.kind === "singular") return result;
      solveFactored(result.factors, b, work);
      return { kind: "solved", x: b };
    },
  };
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
