import type { Netlist } from "./netlist.ts";
import type { System } from "./system.ts";

/** What a factored circuit answers to currents: structure and factors are made, only right-hand sides differ. */
export interface Responses {
  /** Solves A·x = b in place. Size of b: unknowns. */
  readonly solve: (b: Float64Array) => void;
  /** V between two nodes in a vector of unknowns. */
  readonly across: (at: Float64Array, a: number, b: number) => number;
  /** 1 A drawn from node a and returned at node b, as a right-hand side. */
  readonly unit: (a: number, b: number) => Float64Array;
  /** A⁻¹·u for 1 A drawn from node a and returned at node b. Kept; not to be written. */
  readonly column: (a: number, b: number) => Float64Array;
  /** A⁻¹·u for 1 A into a node from node 0. */
  readonly toNode: (node: number) => Float64Array;
  /** Resistance between a node and node 0, Ω. Not for node 0. */
  readonly selfOhms: (node: number) => number;
}

/** Numbers kept in columns that are at hand. */
const KEPT_NUMBERS = 2_000_000;

/** From a system that has just been solved; undefined when it had no factors. */
export function createResponses(netlist: Netlist, system: System): Responses | undefined {
  const solve = system.factored();
  if (solve === undefined) return undefined;
  const { size, columnOf } = system;
  const count = netlist.nodes.length;
  const kept = Math.max(16, Math.floor(KEPT_NUMBERS / Math.max(1, size)));
  const columns = new Map<number, Float64Array>();
  const ownOhms = new Float64Array(count).fill(-1);

  const unit = (a: number, b: number): Float64Array => {
    const u = new Float64Array(size);
    if (columnOf[a]! >= 0) u[columnOf[a]!]! += 1;
    if (columnOf[b]! >= 0) u[columnOf[b]!]! -= 1;
    return u;
  };
  const column = (a: number, b: number): Float64Array => {
    const key = a * count + b;
    const known = columns.get(key);
    if (known !== undefined) return known;
    const z = unit(a, b);
    solve(z);
    if (columns.size >= kept) columns.clear();
    columns.set(key, z);
    return z;
  };
  const toNode = (node: number): Float64Array => {
    const x = new Float64Array(size);
    if (columnOf[node]! < 0) return x;
    x[columnOf[node]!] = 1;
    solve(x);
    return x;
  };
  const selfOhms = (node: number): number => {
    if (ownOhms[node]! < 0) ownOhms[node] = toNode(node)[columnOf[node]!]!;
    return ownOhms[node]!;
  };
  const across = (at: Float64Array, a: number, b: number): number =>
    (columnOf[a]! < 0 ? 0 : at[columnOf[a]!]!) - (columnOf[b]! < 0 ? 0 : at[columnOf[b]!]!);
  return { solve, across, unit, column, toNode, selfOhms };
}
