import { createCorrection } from "./correction.ts";
import { createDrivingPoint, type DrivingPoint } from "./driving-point.ts";
import type { Netlist } from "./netlist.ts";
import type { Workspace } from "./newton.ts";
import { createPortEquations, MOST_PORTS } from "./port-equations.ts";
import type { Port } from "./port.ts";
import { createRelinearization } from "./relinearize.ts";
import { createResponses, type Responses } from "./responses.ts";
import type { System } from "./system.ts";
import { createTangents, type Tangents } from "./tangents.ts";

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
  readonly responses: Responses;
  readonly tangents: Tangents;
  readonly drivingPoint: DrivingPoint;
  /**
   * Solves with changes at ports and writes x. Nonlinear elements that leave their tangents become ports as well, unless they are `taken` out. Undefined when it is not
   * good enough: a part comes loose, too many ports, no rest.
   */
  readonly solveWith: (changes: readonly Port[], taken: ReadonlySet<number>) => PortSolution | undefined;
}

/** The ports of a solution: its columns z, and how many of them are the changes themselves. */
export interface PortSolution {
  readonly columns: readonly Float64Array[];
  /** D·(1 + Z·D)⁻¹ of the changes, size changes², made when first asked for. */
  readonly inner: () => Float64Array;
  readonly changes: number;
}

/** Nonlinear elements off their tangents from which on it is quicker to factor anew. */
const MOST_ACTIVE = 28;
/** Pivots below this have lost enough figures for rounds of correction. */
const ILL_CONDITIONED = 1e-6;

/** From a system that has just been solved at its resting point, linearised there; it must not be solved again. Undefined when it had no factors. */
export function createLinearization(netlist: Netlist, system: System, work: Workspace, rested: Float64Array): Linearization | undefined {
  const responses = createResponses(netlist, system);
  return responses === undefined ? undefined : around(netlist, system, work, rested, responses);
}

function around(netlist: Netlist, system: System, work: Workspace, rested: Float64Array, responses: Responses): Linearization {
  // Structure: what stays the same for every change.
  const x0 = Float64Array.from(rested);
  const tangents = createTangents(netlist, system, responses, x0, Float64Array.from(work.linearised));
  // Numbers: written by each solution.
  const x = Float64Array.from(rested);
  const equations = createPortEquations(responses.across);
  const relinearise = createRelinearization(netlist, system, tangents, responses, equations, x);
  const correct = createCorrection(system, tangents, responses, equations, x);

  /** Newton's method at the ports alone. */
  function atPorts(ports: readonly Port[], z: readonly Float64Array[]): boolean {
    equations.fill(ports, x0, z);
    const pivot = equations.solve(ports);
    if (pivot === 0) return false;
    x.set(x0);
    equations.subtractFlows(ports, z, x);
    return pivot >= ILL_CONDITIONED || correct(ports, z);
  }

  function anew(changes: readonly Port[], taken: ReadonlySet<number>): PortSolution | undefined {
    if (!relinearise(changes, taken)) return undefined;
    const columns = changes.map((p) => responses.column(p.a, p.b));
    equations.fill(changes, x0, columns);
    return { columns, inner: equations.inner(changes.length), changes: changes.length };
  }

  function solveWith(changes: readonly Port[], taken: ReadonlySet<number>): PortSolution | undefined {
    if (changes.length > MOST_PORTS) return undefined;
    const active = new Map<number, Port>();
    for (;;) {
      const ports = active.size === 0 ? changes : [...changes, ...active.values()];
      if (active.size > MOST_ACTIVE || ports.length > MOST_PORTS) return anew(changes, taken);
      const z = ports.map((p) => responses.column(p.a, p.b));
      if (!atPorts(ports, z)) return undefined;
      if (!tangents.leave(x, active, taken)) return { columns: z, inner: equations.inner(changes.length), changes: changes.length };
    }
  }

  const drivingPoint = createDrivingPoint(system, responses, x);
  return { closed: Uint8Array.from(work.closed), x, rested: x0, responses, tangents, drivingPoint, solveWith };
}
