import type { Netlist, Point } from "./netlist.ts";
import { junctionAt, THERMAL_VOLTS } from "./junction.ts";
import { limitOf } from "./port.ts";
import { throwSwitches, type Watch, watchOf } from "./rules.ts";
import { createStrides } from "./strides.ts";
import type { System } from "./system.ts";

const MAX_ROUNDS = 120;
/** How near a nonlinear element must come to its curve: share of its voltage plus V; or, where rounding hides the voltage, A. */
export interface Still {
  readonly relative: number;
  readonly volts: number;
  readonly amps: number;
}
const AT_REST: Still = { relative: 1e-9, volts: 1e-9, amps: 1e-10 };
const SMALL_STEP_VOLTS = 0.01;
/** A slope that no part has, S. */
const SWAMPING_SIEMENS = 1e9;

/** What changes from one call to the next. All arrays by element index. */
export interface Workspace {
  /** V at which each nonlinear element was linearised last; the starting point of the next call. */
  readonly linearised: Float64Array;
  /** 1 where a switch is taken for closed. */
  readonly closed: Uint8Array;
  readonly watch: Watch;
  /** What each watcher remembers, by its index in `watch`. */
  readonly memory: Uint8Array;
  /** Share of the sources that is switched on, 0…1. */
  share: number;
}

/** Buffers for solving one netlist again and again; not to be shared by two at once. */
export function createWorkspace(netlist: Netlist): Workspace {
  const watch = watchOf(netlist.elements);
  const memory = Uint8Array.from(watch.watchers, (w) => (w.starts ? 1 : 0));
  const closed = new Uint8Array(netlist.elements.length);
  throwSwitches(watch, memory, closed);
  return { linearised: new Float64Array(netlist.elements.length), closed, watch, memory, share: 1 };
}

/** 1 by element index for each switch that is closed before anything has happened. */
export const startingStates = (netlist: Netlist): Uint8Array => createWorkspace(netlist).closed;

export type NewtonResult =
  | { readonly kind: "solved"; readonly x: Float64Array }
  | { readonly kind: "singular"; readonly unknown: number }
  | { readonly kind: "diverged"; readonly element: number };

/**
 * Newton's method at fixed switch states. Slope and offset of all elements that are linear (diodes, curves) must stand in the system; those of
 * the nonlinear ones are overwritten in each round. A step that overshoots is damped.
 */
export function newton(system: System, work: Workspace, still: Still = AT_REST): NewtonResult {
  const { netlist, first, second, nonlinearAt } = system;
  let worst = nonlinearAt[0] ?? 0;
  const strides = createStrides(nonlinearAt.length);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    for (const i of nonlinearAt) linearise(system, work, i);
    const answer = system.solve();
    if (answer.kind === "singular") {
      // A junction with a source's whole voltage across it swamps everything else; it is to blame, not the node.
      const swamping = nonlinearAt.find((i) => system.slope[i]! > SWAMPING_SIEMENS);
      return swamping === undefined ? answer : { kind: "diverged", element: swamping };
    }
    if (nonlinearAt.length === 0) return { kind: "solved", x: answer.x };
    let settled = true;
    let most = 0;
    for (let place = 0; place < nonlinearAt.length; place++) {
      const i = nonlinearAt[place]!;
      const e = netlist.elements[i]!;
      const across = (first[i]! < 0 ? 0 : answer.x[first[i]!]!) - (second[i]! < 0 ? 0 : answer.x[second[i]!]!);
      const before = work.linearised[i]!;
      const wanted = e.kind === "diode" || round < 40 ? across : (across + before) / 2;
      const next = e.kind === "curve" && e.sharp === true ? before + strides.take(place, across - before) : limitOf(e)(wanted, before);
      const off = Math.abs(across - before);
      if (!isNear(across, before, system.slope[i]!, still)) settled = false;
      if (off > most) {
        most = off;
        worst = i;
      }
      work.linearised[i] = next;
    }
    if (settled) {
      const swamping = nonlinearAt.find((i) => system.slope[i]! > SWAMPING_SIEMENS);
      return swamping === undefined ? { kind: "solved", x: answer.x } : { kind: "diverged", element: swamping };
    }
  }
  return { kind: "diverged", element: worst };
}

/** Whether a nonlinear element stands near enough to where it was linearised, with the slope that it had there, S. */
export function isNear(across: number, before: number, slope: number, still: Still): boolean {
  const off = Math.abs(across - before);
  if (off <= still.relative * Math.max(Math.abs(across), Math.abs(before)) + still.volts) return true;
  // Behind a blocked part the voltage itself is lost in rounding; there it is enough that no current moves.
  return off < SMALL_STEP_VOLTS && off * slope < still.amps;
}

/** Writes slope and offset of a nonlinear element where it stands. */
export function linearise(system: System, work: Workspace, i: number): void {
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
  return { volts: voltsOf(system, x), floating: system.floating, amps: ampsOf(system, x), closed: Uint8Array.from(work.closed) };
}

/** V by node index. */
export function voltsOf({ netlist, columnOf }: System, x: Float64Array): Float64Array {
  const volts = new Float64Array(netlist.nodes.length);
  for (let n = 0; n < volts.length; n++) if (columnOf[n]! >= 0) volts[n] = x[columnOf[n]!]!;
  return volts;
}

/** A by element index, by the slopes and offsets as they stand. */
export function ampsOf({ branchOf, first, second, live, slope, offset }: System, x: Float64Array): Float64Array {
  const amps = new Float64Array(live.length);
  for (let i = 0; i < amps.length; i++) {
    if (live[i] === 0) continue;
    const [p, q, own] = [first[i]!, second[i]!, branchOf[i]!];
    amps[i] = own >= 0 ? x[own]! : slope[i]! * ((p < 0 ? 0 : x[p]!) - (q < 0 ? 0 : x[q]!)) + offset[i]!;
  }
  return amps;
}
