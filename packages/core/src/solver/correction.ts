import type { PortEquations } from "./port-equations.ts";
import type { Port } from "./port.ts";
import type { Responses } from "./responses.ts";
import type { System } from "./system.ts";
import type { Tangents } from "./tangents.ts";

/** Rounds, each of which must shrink what is missing, until nothing moves by more than this, V. */
const MOST_ROUNDS = 5;
const CORRECTED_VOLTS = 1e-8;
/** What no longer shrinks is the rounding of nodes that only insulation holds, up to this, V. */
const ROUNDING_VOLTS = 5e-4;

/**
 * Iterative refinement for port equations that are ill-conditioned: what Kirchhoff's current law still misses at every node is driven through the changed circuit. The function that is
 * returned writes x and tells whether it is good then.
 */
export function createCorrection(
  system: System,
  { slope, offset }: Tangents,
  responses: Responses,
  equations: PortEquations,
  x: Float64Array,
): (ports: readonly Port[], z: readonly Float64Array[]) => boolean {
  const { first, second, branchOf, live, tie, size, columnOf } = system;

  /** A by node, V by branch, that x leaves unbalanced. */
  function imbalance(ports: readonly Port[]): Float64Array {
    const missing = new Float64Array(size);
    for (let i = 0; i < live.length; i++) {
      if (live[i] === 0) continue;
      const [p, q, own] = [first[i]!, second[i]!, branchOf[i]!];
      const at = (p < 0 ? 0 : x[p]!) - (q < 0 ? 0 : x[q]!);
      const through = own >= 0 ? x[own]! : slope[i]! * at + offset[i]!;
      if (p >= 0) missing[p]! -= through;
      if (q >= 0) missing[q]! += through;
      if (own >= 0) missing[own]! = offset[i]! + slope[i]! * x[own]! - at;
    }
    for (let n = 0; n < size; n++) if (tie[n]! > 0) missing[n]! -= tie[n]! * x[n]!;
    for (const port of ports) {
      const [p, q] = [columnOf[port.a]!, columnOf[port.b]!];
      const j = port.extra((p < 0 ? 0 : x[p]!) - (q < 0 ? 0 : x[q]!)).amps;
      if (p >= 0) missing[p]! -= j;
      if (q >= 0) missing[q]! += j;
    }
    return missing;
  }

  /** One round. Returns the largest step, V; NaN where it finds none. */
  function round(ports: readonly Port[], z: readonly Float64Array[]): number {
    const missing = imbalance(ports);
    responses.solve(missing);
    const drawn = equations.drawnBy(ports, missing);
    if (drawn === undefined) return NaN;
    let most = 0;
    for (let i = 0; i < size; i++) {
      let step = missing[i]!;
      for (let p = 0; p < ports.length; p++) step -= z[p]![i]! * drawn[p]!;
      if (!(Math.abs(step) < Infinity)) return NaN;
      if (Math.abs(step) > most) most = Math.abs(step);
      x[i]! += step;
    }
    return most;
  }

  return (ports, z) => {
    let off = Infinity;
    for (let done = 0; off > CORRECTED_VOLTS; done++) {
      const next = round(ports, z);
      if (!(next < Infinity)) return false;
      if (done === MOST_ROUNDS || next >= off) return next <= ROUNDING_VOLTS;
      off = next;
    }
    return true;
  };
}
