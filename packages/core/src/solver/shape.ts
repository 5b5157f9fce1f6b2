import { minimumDegree, patternOf } from "./sparse/index.ts";
import type { Element, Netlist } from "./netlist.ts";

/** What the equations of a netlist look like without their numbers: made once, shared by all systems of netlists of one shape. */
export interface Shape {
  /** Number of unknowns: node potentials, then branch currents. */
  readonly size: number;
  /** 1 by node index where no path leads to node 0. */
  readonly floating: Uint8Array;
  /** By node index: its unknown, or −1 for node 0 and floating nodes. */
  readonly columnOf: Int32Array;
  /** Node index by unknown, for the node potentials. */
  readonly nodeOf: readonly number[];
  /** By element index: 1 where both ends have a potential. */
  readonly live: Uint8Array;
  /** By element index: the unknown of its current, or −1. */
  readonly branchOf: Int32Array;
  /** Element index by unknown less the number of nodes, for the branch currents. */
  readonly elementOfBranch: readonly number[];
  /** By element index: unknowns of its two ends, or −1. */
  readonly first: Int32Array;
  readonly second: Int32Array;
  /** Element indices of the nonlinear ones (diodes, curves) that are live. */
  readonly nonlinearAt: Int32Array;
  readonly pattern: ReturnType<typeof patternOf>;
  /** Position → column. */
  readonly order: Int32Array;
  /** Where each stamp goes: five for each element, two for each coupling, one for each node's tie; one place behind the entries for node 0. */
  readonly into: Int32Array;
  /** By element index: rows of the right-hand side at its two ends; one behind the last for node 0. */
  readonly rightFirst: Int32Array;
  readonly rightSecond: Int32Array;
}

/** Whether an element has its current as an unknown of its own. */
export const isBranch = (e: Element): boolean => e.kind === "inductor" || (e.kind === "source" && e.internalOhms === 0);

/** `dynamic`: capacitors join their ends, as they do while things change; at rest they carry nothing. */
export function shapeOf(netlist: Netlist, dynamic: boolean): Shape {
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

  const couplings = netlist.couplings ?? [];
  const first = Int32Array.from(netlist.elements, (e, i) => (live[i] === 1 ? columnOf[e.a]! : -1));
  const second = Int32Array.from(netlist.elements, (e, i) => (live[i] === 1 ? columnOf[e.b]! : -1));
  const nonlinearAt = Int32Array.from(
    netlist.elements.flatMap((e, i) => (live[i] === 1 && (e.kind === "diode" || e.kind === "curve") ? [i] : [])),
  );
  const ties = 5 * count + 2 * couplings.length;
  const rows = new Int32Array(ties + nodeOf.length).fill(-1);
  const columns = new Int32Array(rows.length).fill(-1);
  for (let i = 0; i < count; i++) {
    if (live[i] === 0) continue;
    const [p, q, own] = [first[i]!, second[i]!, branchOf[i]!];
    rows.set(own < 0 ? [p, q, p, q, -1] : [p, q, own, own, own], 5 * i);
    columns.set(own < 0 ? [p, q, q, p, -1] : [own, own, p, q, own], 5 * i);
  }
  const indexOf = couplings.length === 0 ? undefined : new Map(netlist.elements.map((e, i) => [e.id, i]));
  couplings.forEach((c, m) => {
    const [one, other] = [c.first, c.second].map((id) => branchOf[indexOf?.get(id) ?? -1] ?? -1) as [number, number];
    rows.set([one, other], 5 * count + 2 * m);
    columns.set([other, one], 5 * count + 2 * m);
  });
  for (let n = 0; n < nodeOf.length; n++) rows[ties + n] = columns[ties + n] = n;
  const pattern = patternOf(size, rows, columns);
  const entries = pattern.matrix.value.length;
  return {
    size,
    floating,
    columnOf,
    nodeOf,
    live,
    branchOf,
    elementOfBranch,
    first,
    second,
    nonlinearAt,
    pattern,
    order: minimumDegree(pattern.matrix),
    into: pattern.slot.map((at) => (at < 0 ? entries : at)),
    rightFirst: first.map((at) => (at < 0 ? size : at)),
    rightSecond: second.map((at) => (at < 0 ? size : at)),
  };
}

/** 1 for each node that nothing joins to node 0. Current sources decide no potential; a switch has a resistance also when open. */
function floatingNodes(netlist: Netlist, dynamic: boolean): Uint8Array {
  // Union of what is joined, by halving paths.
  const parent = Int32Array.from(netlist.nodes, (_, n) => n);
  const rootOf = (n: number): number => {
    let at = n;
    while (parent[at] !== at) {
      parent[at] = parent[parent[at]!]!;
      at = parent[at]!;
    }
    return at;
  };
  for (const e of netlist.elements) {
    if (e.kind === "current" || (e.kind === "capacitor" && !dynamic)) continue;
    const [p, q] = [rootOf(e.a), rootOf(e.b)];
    // Node 0 stays the root of what it is joined to.
    if (p !== q) parent[Math.max(p, q)] = Math.min(p, q);
  }
  return Uint8Array.from(netlist.nodes, (_, n) => (rootOf(n) === 0 ? 0 : 1));
}
