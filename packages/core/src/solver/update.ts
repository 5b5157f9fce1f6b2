import type { Netlist, Point, SolveFailure } from "./netlist.ts";
import { junctionAt, THERMAL_VOLTS } from "./junction.ts";
import { createWorkspace, newton, pointOf, writeAtRest } from "./newton.ts";
import { failureOf, settle } from "./solve.ts";
import { createSystem } from "./system.ts";

/** A conductance that is added between two nodes, S; negative to take one away. */
export interface Change {
  readonly a: number;
  readonly b: number;
  readonly siemens: number;
}

export interface Prepared {
  /** The point without any change. */
  readonly base: Point;
  /**
   * The point with one conductance changed, from the factors of the unchanged circuit. Undefined when that is not good enough (a part comes loose, a
   * bent element moves far, a switch would move): then solve the changed circuit in full.
   */
  readonly withChange: (change: Change) => Point | undefined;
}

/** Rounds of the chord method for bent elements before giving up. */
const MAX_ROUNDS = 12;
const SETTLED_VOLTS = 1e-9;
/** Below this share of 1 the changed system is as good as singular. */
const LOOSE = 1e-9;

/**
 * Prepares a circuit for many single changes: a supposed fault is a change of rank one, x′ = x − A⁻¹u·(g·uᵀx)/(1 + g·uᵀA⁻¹u) with u the two
 * nodes (Sherman & Morrison 1950). Bent elements are brought to rest by a chord method on the same factors.
 */
export function prepare(netlist: Netlist): { readonly kind: "prepared"; readonly prepared: Prepared } | SolveFailure {
  const system = createSystem(netlist, false);
  const work = createWorkspace(netlist);
  const found = settle(system, work);
  if (found.kind !== "solved") return failureOf(system, found);
  const base = pointOf(system, work, found.x);
  // The factors at the resting point, linearised there.
  writeAtRest(system, work);
  const again = newton(system, work);
  if (again.kind !== "solved") return failureOf(system, again);
  const x0 = Float64Array.from(again.x);
  const restSlope = Float64Array.from(system.slope);
  const restOffset = Float64Array.from(system.offset);
  const factored = system.factored();
  if (factored === undefined) return { kind: "singular", node: system.nameOf(0) };
  const bent = netlist.elements.flatMap((e, i) => (system.live[i] === 1 && (e.kind === "diode" || e.kind === "curve") ? [i] : []));
  const switches = netlist.elements.some((e) => e.kind === "switch");
  const w = new Float64Array(system.size);
  const r = new Float64Array(system.size);
  const held = new Float64Array(netlist.elements.length); // what the line at rest got wrong in the last round, A
  const at = (x: Float64Array, node: number): number => (system.columnOf[node]! < 0 ? 0 : x[system.columnOf[node]!]!);

  function withChange(change: Change): Point | undefined {
    const [p, q] = [system.columnOf[change.a]!, system.columnOf[change.b]!];
    if (base.floating[change.a] === 1 || base.floating[change.b] === 1) return undefined;
    held.fill(0);
    w.fill(0);
    if (p >= 0) w[p] = 1;
    if (q >= 0) w[q] = -1;
    factored!(w);
    const reach = (p >= 0 ? w[p]! : 0) - (q >= 0 ? w[q]! : 0);
    const below = 1 + change.siemens * reach;
    if (Math.abs(below) < LOOSE) return undefined;
    const x = Float64Array.from(x0);
    /** Adds A′⁻¹·right to x, where A′ is the changed matrix. */
    const addSolved = (right: Float64Array): void => {
      factored!(right);
      const share = (change.siemens * ((p >= 0 ? right[p]! : 0) - (q >= 0 ? right[q]! : 0))) / below;
      for (let i = 0; i < x.length; i++) x[i]! += right[i]! - share * w[i]!;
    };
    // The first residual is the change alone: −g·u·(uᵀx₀).
    r.fill(0);
    const through = change.siemens * (at(x0, change.a) - at(x0, change.b));
    if (p >= 0) r[p]! -= through;
    if (q >= 0) r[q]! += through;
    addSolved(r);
    for (let round = 0; bent.length > 0; round++) {
      if (round === MAX_ROUNDS) return undefined;
      r.fill(0);
      let off = 0;
      for (const i of bent) {
        const e = netlist.elements[i]!;
        const v = at(x, e.a) - at(x, e.b);
        const real =
          e.kind === "curve" ? e.at(v).amps : e.kind === "diode" ? junctionAt(v, e.saturationAmps, e.emission * THERMAL_VOLTS).amps : 0;
        const wrong = real - (restSlope[i]! * v + restOffset[i]!);
        if (!Number.isFinite(wrong)) return undefined;
        off = Math.max(off, Math.abs(wrong / restSlope[i]!));
        // What the line at rest gets wrong stays on the right-hand side; the difference to last time is what is solved for.
        if (system.columnOf[e.a]! >= 0) r[system.columnOf[e.a]!]! -= wrong - held[i]!;
        if (system.columnOf[e.b]! >= 0) r[system.columnOf[e.b]!]! += wrong - held[i]!;
        held[i] = wrong;
      }
      const before = Float64Array.from(x);
      addSolved(r);
      let moved = 0;
      for (let i = 0; i < x.length; i++) moved = Math.max(moved, Math.abs(x[i]! - before[i]!));
      if (moved < SETTLED_VOLTS) break;
      if (moved > 1e3) return undefined;
    }
    for (const i of bent) system.offset[i] = restOffset[i]! + held[i]!;
    const point = pointOf(system, work, x);
    for (const i of bent) system.offset[i] = restOffset[i]!;
    if (switches && netlist.elements.some((e, i) => e.kind === "switch" && wants(e, point.volts, base.closed[i]!) !== base.closed[i]))
      return undefined;
    return point;
  }
  return { kind: "prepared", prepared: { base, withChange } };
}

function wants(e: Extract<Netlist["elements"][number], { kind: "switch" }>, volts: Float64Array, closed: number): number {
  const control = volts[e.plus]! - volts[e.minus]!;
  return control > e.closesAt ? 1 : control < e.opensAt ? 0 : closed;
}
