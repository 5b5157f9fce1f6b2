import type { Netlist, Point } from "./netlist.ts";
import { junctionAt, limitedJunction, THERMAL_VOLTS } from "./junction.ts";
import type { System } from "./system.ts";

const MAX_ROUNDS = 120;
const RELATIVE = 1e-9;
const ABSOLUTE_VOLTS = 1e-9;
/** A slope that no part has, S. */
const SWAMPING_SIEMENS = 1e9;

/** What changes from one call to the next. All arrays by element index. */
export interface Workspace {
  /** V at which each bent element was linearised last; the starting point of the next call. */
  readonly linearised: Float64Array;
  /** 1 where a switch is taken for closed. */
  readonly closed: Uint8Array;
  /** Share of the sources that is switched on, 0…1. */
  share: number;
}

export const createWorkspace = (netlist: Netlist): Workspace => ({
  linearised: new Float64Array(netlist.elements.length),
  closed: Uint8Array.from(netlist.elements, (e) => (e.kind === "switch" && e.startsClosed ? 1 : 0)),
  share: 1,
});

export type NewtonResult =
  | { readonly kind: "solved"; readonly x: Float64Array }
  | { readonly kind: "singular"; readonly unknown: number }
  | { readonly kind: "diverged"; readonly element: number };

/**
 * Newton's method at fixed switch states. Slope and offset of all elements that are not bent (diodes, curves) must stand in the system; those of
 * the bent ones are overwritten in each round. A step that overshoots is damped.
 */
export function newton(system: System, work: Workspace): NewtonResult {
  const { netlist, columnOf, live } = system;
  const bent = netlist.elements.flatMap((e, i) => (live[i] === 1 && (e.kind === "diode" || e.kind === "curve") ? [i] : []));
  let worst = bent[0] ?? 0;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    for (const i of bent) linearise(system, work, i);
    const answer = system.solve();
    if (answer.kind === "singular") {
      // A junction with a source's whole voltage across it swamps everything else; it is to blame, not the node.
      const swamping = bent.find((i) => system.slope[i]! > SWAMPING_SIEMENS);
      return swamping === undefined ? answer : { kind: "diverged", element: swamping };
    }
    if (bent.length === 0) return { kind: "solved", x: answer.x };
    let settled = true;
    let most = 0;
    for (const i of bent) {
      const e = netlist.elements[i]!;
      const across = (columnOf[e.a]! < 0 ? 0 : answer.x[columnOf[e.a]!]!) - (columnOf[e.b]! < 0 ? 0 : answer.x[columnOf[e.b]!]!);
      const before = work.linearised[i]!;
      const next =
        e.kind === "diode"
          ? limitedJunction(across, before, e.saturationAmps, e.emission * THERMAL_VOLTS)
          : // A filament's curve is smooth but steep near zero: late rounds take half steps, so that they cannot swing.
            before + (across - before) * (round < 40 ? 1 : 0.5);
      const off = Math.abs(across - before);
      if (off > RELATIVE * Math.max(Math.abs(across), Math.abs(before)) + ABSOLUTE_VOLTS) settled = false;
      if (off > most) {
        most = off;
        worst = i;
      }
      work.linearised[i] = next;
    }
    if (settled) return { kind: "solved", x: answer.x };
  }
  return { kind: "diverged", element: worst };
}

function linearise(system: System, work: Workspace, i: number): void {
  const e = system.netlist.elements[i]!;
  const v = work.linearised[i]!;
  if (e.kind !== "diode" && e.kind !== "curve") return;
  const { amps, siemens } = e.kind === "curve" ? e.at(v) : junctionAt(v, e.saturationAmps, e.emission * THERMAL_VOLTS);
  system.slope[i] = siemens;
  system.offset[i] = amps - siemens * v;
}

/** Writes slope and offset of what does not bend, for a circuit at rest. */
export function writeAtRest(system: System, work: Workspace): void {
  const { netlist, slope, offset } = system;
  netlist.elements.forEach((e, i) => {
    offset[i] = 0;
    switch (e.kind) {
      case "resistor":
        slope[i] = 1 / e.ohms;
        return;
      case "source":
        slope[i] = e.internalOhms === 0 ? 0 : 1 / e.internalOhms;
        offset[i] = work.share * (e.internalOhms === 0 ? e.volts : -e.volts / e.internalOhms);
        return;
      case "current":
        slope[i] = 0;
        offset[i] = work.share * e.amps;
        return;
      case "switch":
        slope[i] = 1 / (work.closed[i] === 1 ? e.onOhms : e.offOhms);
        return;
      case "capacitor":
      case "inductor":
        slope[i] = 0;
        return;
      case "diode":
      case "curve":
        return;
    }
  });
  system.mutual.fill(0);
}

/** Potentials and currents of a solution. */
export function pointOf(system: System, work: Workspace, x: Float64Array): Point {
  const { netlist, columnOf, branchOf, live, slope, offset } = system;
  const volts = Float64Array.from(netlist.nodes, (_, n) => (columnOf[n]! < 0 ? 0 : x[columnOf[n]!]!));
  const amps = Float64Array.from(netlist.elements, (e, i) => {
    if (live[i] === 0) return 0;
    return branchOf[i]! >= 0 ? x[branchOf[i]!]! : slope[i]! * (volts[e.a]! - volts[e.b]!) + offset[i]!;
  });
  return { volts, floating: system.floating, amps, closed: Uint8Array.from(work.closed) };
}

/** The state each switch wants at these potentials; true when any differs from what it was. Writes into `closed`. */
export function moveSwitches(netlist: Netlist, volts: Float64Array, closed: Uint8Array): boolean {
  let moved = false;
  netlist.elements.forEach((e, i) => {
    if (e.kind !== "switch") return;
    const control = volts[e.plus]! - volts[e.minus]!;
    const next = control > e.closesAt ? 1 : control < e.opensAt ? 0 : closed[i]!;
    if (next !== closed[i]) moved = true;
    closed[i] = next;
  });
  return moved;
}
