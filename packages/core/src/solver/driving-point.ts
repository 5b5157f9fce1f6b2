import type { PortSolution } from "./linearization.ts";
import type { Responses } from "./responses.ts";
import type { System } from "./system.ts";

/** What an instrument sees of a circuit with changes: the resistance it looks into, and the voltage that it leaves there. */
export interface DrivingPoint {
  /** Resistance between a node and node 0 with the changes of a solution, Ω; nonlinear elements along their tangents at rest. */
  readonly ohms: (solution: PortSolution, node: number) => number;
  /** The same between any two nodes, Ω. */
  readonly ohmsBetween: (solution: PortSolution, a: number, b: number) => number;
  /** Adds `share` times what an instrument of so many ohms shows between each node and node 0 to `into`, from `from` on. */
  readonly addLoaded: (
    solution: PortSolution,
    nodes: Int32Array,
    instrumentOhms: number,
    into: Float32Array,
    from: number,
    share: number,
  ) => void;
}

/** `x`: the unknowns of the last solution. */
export function createDrivingPoint({ columnOf }: System, { selfOhms, column, across }: Responses, x: Float64Array): DrivingPoint {
  /** The nodes asked for last, with their unknowns and what they are behind while nothing is changed. */
  let nodesKnown: Int32Array | undefined;
  let unknowns = new Int32Array(0);
  let soundOhms = new Float64Array(0);

  function ohms({ columns: z, inner, changes: k }: PortSolution, node: number): number {
    const at = columnOf[node]!;
    if (at < 0) return 0;
    let sum = selfOhms(node);
    // The circuit is reciprocal: what port p does to the node, the node does to port p.
    for (let i = 0; i < k; i++) {
      const there = z[i]![at]!;
      if (there !== 0) for (let j = 0; j < k; j++) sum -= there * inner()[i * k + j]! * z[j]![at]!;
    }
    return Math.max(0, sum);
  }

  function ohmsBetween({ columns: z, inner, changes: k }: PortSolution, a: number, b: number): number {
    if (a === b) return 0;
    let sum = across(column(a, b), a, b);
    for (let i = 0; i < k; i++) {
      const there = across(z[i]!, a, b);
      if (there !== 0) for (let j = 0; j < k; j++) sum -= there * inner()[i * k + j]! * across(z[j]!, a, b);
    }
    return Math.max(0, sum);
  }

  const addLoaded: DrivingPoint["addLoaded"] = (solution, nodes, instrumentOhms, into, from, share) => {
    if (nodesKnown !== nodes) {
      nodesKnown = nodes;
      unknowns = nodes.map((n) => columnOf[n]!);
      soundOhms = Float64Array.from(nodes, (n) => (columnOf[n]! < 0 ? 0 : selfOhms(n)));
    }
    if (solution.changes > 1) {
      for (let i = 0; i < nodes.length; i++) {
        const c = unknowns[i]!;
        if (c >= 0) into[from + i]! += (share * x[c]!) / (1 + ohms(solution, nodes[i]!) / instrumentOhms);
      }
      return;
    }
    const single = solution.changes === 1 ? solution.inner()[0]! : 0;
    addLoadedByOne(x, solution.columns[0] ?? x, single, unknowns, soundOhms, 1 / instrumentOhms, into, from, share);
  };

  return { ohms, ohmsBetween, addLoaded };
}

/** into += share·x/(1 + load·(ohms − single·column²)), for one change. `at`: unknown by place; −1 for node 0. */
function addLoadedByOne(
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
