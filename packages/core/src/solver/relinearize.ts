import type { Netlist } from "./netlist.ts";
import type { PortEquations } from "./port-equations.ts";
import { isSharp, limitOf, type Port } from "./port.ts";
import type { Responses } from "./responses.ts";
import { createStrides } from "./strides.ts";
import { createSystem, type System } from "./system.ts";
import type { Tangents } from "./tangents.ts";

/** Rounds of factoring anew before giving up. */
const MAX_ROUNDS = 60;
/** Rounds after which nonlinear elements go half as far. */
const HALVED_FROM = 20;

/**
 * Where many nonlinear elements leave their tangents it is quicker to factor anew on theirs, round after round, with the changes alone at ports. The function that is returned writes x and
 * tells whether it came to rest; its system is made when first asked for.
 */
export function createRelinearization(
  netlist: Netlist,
  system: System,
  tangents: Tangents,
  responses: Responses,
  equations: PortEquations,
  x: Float64Array,
): (changes: readonly Port[], taken: ReadonlySet<number>) => boolean {
  const { elements } = netlist;
  const { first, second, nonlinearAt } = system;
  const { curves } = tangents;
  const strides = createStrides(nonlinearAt.length);
  let own: System | undefined;

  /** Brings every tangent to where its element stands in x; true when none had to move. */
  function follow(at: Float64Array, round: number, taken: ReadonlySet<number>): boolean {
    let still = true;
    for (let b = 0; b < nonlinearAt.length; b++) {
      const i = nonlinearAt[b]!;
      if (taken.has(i)) continue;
      const e = elements[i]!;
      const across = (first[i]! < 0 ? 0 : x[first[i]!]!) - (second[i]! < 0 ? 0 : x[second[i]!]!);
      const before = at[i]!;
      if (Math.abs(across - before) > 1e-7 + 1e-8 * Math.abs(across)) still = false;
      if (isSharp(e)) at[i] = before + strides.take(b, across - before);
      else at[i] = round < HALVED_FROM ? limitOf(e)(across, before) : (limitOf(e)(across, before) + before) / 2;
    }
    return still;
  }

  return (changes, taken) => {
    own ??= createSystem(netlist, false, system);
    own.slope.set(tangents.slope);
    own.offset.set(tangents.offset);
    own.tie.set(system.tie);
    const at = Float64Array.from(tangents.linearised);
    strides.begin();
    for (let round = 0; round < MAX_ROUNDS; round++) {
      for (let b = 0; b < nonlinearAt.length; b++) {
        const i = nonlinearAt[b]!;
        if (taken.has(i)) continue;
        const { amps, siemens: g } = curves[b]!(at[i]!);
        own.slope[i] = g;
        own.offset[i] = amps - g * at[i]!;
      }
      const solved = own.solve();
      if (solved.kind !== "solved") return false;
      const solveAgain = own.factored()!;
      const z = changes.map((p) => {
        const column = responses.unit(p.a, p.b);
        solveAgain(column);
        return column;
      });
      equations.fill(changes, solved.x, z);
      if (equations.solve(changes) === 0) return false;
      x.set(solved.x);
      equations.subtractFlows(changes, z, x);
      if (follow(at, round, taken)) return true;
    }
    return false;
  };
}
