import { factor, type Factors, minimumDegree, patternOf, solveFactored } from "./sparse/index.ts";
import type { Element, Netlist } from "./netlist.ts";

/**
 * The equations of a netlist with every element brought to one of two linear forms. Pattern and elimination order are made once; the numbers
 * are written for each round (structure, numbers and answer are three things with three lifetimes).
 *
 * Norton form: i = siemens·v + amps, for what has a finite slope. Branch form: v = ohms·i + volts with the current as an unknown of
 * its own, for ideal sources and inductors.
 */
export interface System {
  readonly netlist: Netlist;
  /** Number of unknowns: node potentials, then branch currents. */
  readonly size: number;
  /** By node index: its unknown, or −1 for node 0 and floating nodes. */
  readonly columnOf: Int32Array;
  /** By element index: the unknown of its current, or −1. */
  readonly branchOf: Int32Array;
  /** By element index: 1 where both ends have a potential. */
  readonly live: Uint8Array;
  /** 1 by node index where no path leads to node 0. */
  readonly floating: Uint8Array;
  /** By element index: slope in Norton form, S; resistance in branch form, Ω. */
  readonly slope: Float64Array;
  /** By element index: A in Norton form, V in branch form. */
  readonly offset: Float64Array;
  /** By coupling index: −M over the step's time factor, Ω. */
  readonly mutual: Float64Array;
  /** Solves with the numbers as they stand. The answer is good until the next call. */
  readonly solve: () => { readonly kind: "solved"; readonly x: Float64Array } | { readonly kind: "singular"; readonly unknown: number };
  /** Solves further right-hand sides (size n, overwritten) with the factors of the last call of `solve`; undefined when it had none. */
  readonly factored: () => ((b: Float64Array) => void) | undefined;
  /** The user's name of an unknown. */
  readonly nameOf: (unknown: number) => string;
}

export const isBranch = (e: Element): boolean => e.kind === "inductor" || (e.kind === "source" && e.internalOhms === 0);

/** `dynamic`: capacitors join their ends, as they do while things change; at rest they carry nothing. */
export function createSystem(netlist: Netlist, dynamic: boolean): System {
  const count = netlist.elements.length;
  const floating = floatingNodes(netlist, dynamic);
  const columnOf = new Int32Array(netlist.nodes.length).fill(-1);
  const nodeOf: number[] = [];
  for (let n = 1; n < netlist.nodes.length; n++) if (floating[n] === 0) columnOf[n] = nodeOf.push(n) - 1;
  const live = Uint8Array.from(netlist.elements, (e) => (floating[e.a] === 0 && floating[e.b] === 0 ? 1 : 0));
  const branchOf = new Int32Array(count).fill(-1);
  let size = nodeOf.length;
  const elementOfBranch: number[] = [];
  netlist.elements.forEach((e, i) => {
    if (live[i] === 0 || !isBranch(e)) return;
    branchOf[i] = size++;
    elementOfBranch.push(i);
  });

  const rows: number[] = [];
  const columns: number[] = [];
  netlist.elements.forEach((e, i) => {
    const [p, q, own] = live[i] === 1 ? [columnOf[e.a]!, columnOf[e.b]!, branchOf[i]!] : [-1, -1, -1];
    rows.push(...(own < 0 ? [p, q, p, q, -1] : [p, q, own, own, own]));
    columns.push(...(own < 0 ? [p, q, q, p, -1] : [own, own, p, q, own]));
  });
  const indexOf = new Map(netlist.elements.map((e, i) => [e.id, i]));
  const couplings = netlist.couplings ?? [];
  for (const c of couplings) {
    const [first, second] = [indexOf.get(c.first), indexOf.get(c.second)].map((i) => (i === undefined ? -1 : branchOf[i]!)) as [
      number,
      number,
    ];
    rows.push(first, second);
    columns.push(second, first);
  }
  const { matrix, slot } = patternOf(size, rows, columns);
  const order = minimumDegree(matrix);
  const slope = new Float64Array(count);
  const offset = new Float64Array(count);
  const mutual = new Float64Array(couplings.length);
  const b = new Float64Array(size);
  const work = new Float64Array(size);
  let factors: Factors | undefined;
  const add = (at: number, value: number): void => {
    if (slot[at]! >= 0) matrix.value[slot[at]!]! += value;
  };

  function solve(): ReturnType<System["solve"]> {
    matrix.value.fill(0);
    b.fill(0);
    for (let i = 0; i < count; i++) {
      if (live[i] === 0) continue;
      const [at, g, c, own] = [5 * i, slope[i]!, offset[i]!, branchOf[i]!];
      if (own >= 0) {
        add(at, 1);
        add(at + 1, -1);
        add(at + 2, 1);
        add(at + 3, -1);
        add(at + 4, -g);
        b[own] = c;
        continue;
      }
      add(at, g);
      add(at + 1, g);
      add(at + 2, -g);
      add(at + 3, -g);
      const e = netlist.elements[i]!;
      if (columnOf[e.a]! >= 0) b[columnOf[e.a]!]! -= c;
      if (columnOf[e.b]! >= 0) b[columnOf[e.b]!]! += c;
    }
    couplings.forEach((_, m) => {
      add(5 * count + 2 * m, mutual[m]!);
      add(5 * count + 2 * m + 1, mutual[m]!);
    });
    const result = factor(matrix, order);
    factors = result.kind === "factored" ? result.factors : undefined;
    if (result.kind === "singular") return { kind: "singular", unknown: result.column };
    solveFactored(result.factors, b, work);
    return { kind: "solved", x: b };
  }
  const factored = (): ((b: Float64Array) => void) | undefined => {
    const held = factors;
    return held === undefined ? undefined : (right) => solveFactored(held, right, work);
  };
  const nameOf = (unknown: number): string =>
    unknown < nodeOf.length ? netlist.nodes[nodeOf[unknown]!]! : netlist.elements[elementOfBranch[unknown - nodeOf.length]!]!.id;
  return { netlist, size, columnOf, branchOf, live, floating, slope, offset, mutual, solve, factored, nameOf };
}

/** 1 for each node that nothing joins to node 0. Current sources decide no potential; a switch has a resistance also when open. */
function floatingNodes(netlist: Netlist, dynamic: boolean): Uint8Array {
  const neighbours: number[][] = netlist.nodes.map(() => []);
  for (const e of netlist.elements) {
    if (e.kind === "current" || (e.kind === "capacitor" && !dynamic)) continue;
    neighbours[e.a]!.push(e.b);
    neighbours[e.b]!.push(e.a);
  }
  const floating = new Uint8Array(netlist.nodes.length).fill(1);
  floating[0] = 0;
  const open = [0];
  for (let here = open.pop(); here !== undefined; here = open.pop()) {
    for (const next of neighbours[here]!) {
      if (floating[next] === 0) continue;
      floating[next] = 0;
      open.push(next);
    }
  }
  return floating;
}
