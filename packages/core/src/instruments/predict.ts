import {
  blownFuses,
  buildCircuit,
  type BuildOptions,
  type Circuit,
  deltaOf,
  type Fault,
  phasesOf,
  type VehicleState,
} from "../circuit/index.ts";
import { type Harness, linkOf, linksOf } from "../harness/index.ts";
import { type Element, prepare, type Prepared } from "../solver/index.ts";
import { clampAmps, errorOf, meterVolts } from "./accuracy.ts";
import { isUntouchable } from "./interlock.ts";
import type { Leads, Reading } from "./leads.ts";
import { LIVE_VOLTS, METER_OHMS, ohmmeterBetween, ohmsShown, shareShown } from "./meter.ts";
import {
  across,
  ampsOf,
  leadOhms,
  meanOf,
  type Moment,
  nodeAt,
  solveSteadyState,
  type SteadyState,
  type NoSteadyState,
} from "./steady-state.ts";

const METER_INSULATION_OHMS = 1e9;

/**
 * What an instrument would show: (circuit, state, faults, leads) → reading. The meter's own loading is part of the
 * circuit, so that an open wire reads as it does in the bay. Throws RangeError for places that the harness does not hold.
 */
export function predictReading(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  leads: Leads,
  options: BuildOptions = {},
): Reading {
  if (leads.quantity !== "amps" && (isUntouchable(harness, leads.red) || isUntouchable(harness, leads.black)))
    return { kind: "void", why: "untouchable" };
  switch (leads.quantity) {
    case "volts":
      return readVolts(harness, state, faults, leads.red, leads.black, options, leads.inputOhms);
    case "ohms":
      return readOhms(harness, state, faults, leads.red, leads.black);
    case "amps":
      return readAmps(harness, state, faults, leads.around, options);
  }
}

function unsolved(why: NoSteadyState): Reading {
  return why.kind === "singular"
    ? { kind: "unsolved", why: "singular", at: why.node }
    : { kind: "unsolved", why: "diverged", at: why.element };
}

/** The mean over pulses; a circuit that chatters makes the meter swing, unless the swing drowns in the meter's own error. */
function shown(steady: SteadyState | NoSteadyState, quantity: Leads["quantity"], value: (m: Moment) => number): Reading {
  if (steady.kind !== "steady") return unsolved(steady);
  if (steady.oscillating.length === 0) return { kind: "value", quantity, value: meanOf(steady, value) };
  const values = steady.moments.map(value);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const middle = (least + most) / 2;
  if (quantity !== "ohms" && most - least <= errorOf(quantity === "volts" ? meterVolts(middle) : clampAmps(true), middle))
    return { kind: "value", quantity, value: middle };
  return { kind: "unsolved", why: "chatter", at: steady.oscillating.join(", "), between: [least, most] };
}

function readVolts(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  red: string,
  black: string,
  options: BuildOptions,
  meterOhms = METER_OHMS,
): Reading {
  const steady = solveSteadyState(harness, state, faults, options, (node) =>
    node(red) === node(black) ? [] : [{ id: "meter", kind: "resistor", a: node(red), b: node(black), ohms: meterOhms + leadOhms(faults) }],
  );
  // The meter shows what is left for its own resistance.
  const share = shareShown(leadOhms(faults), meterOhms);
  return shown(steady, "volts", (m) => {
    const [p, q] = [nodeAt(m.circuit, red), nodeAt(m.circuit, black)];
    return m.point.floating[p] === 1 && m.point.floating[q] === 1 ? 0 : share * across(m, p, q);
  });
}

/** Volts between two places as a function of a resistance added in series to a link, Ω → V. */
export interface VoltsBySeries {
  /** From the factors of the sound circuit, in every phase of its pulses; NaN where they give no answer. What no longer gets its pulses by that resistance is not seen to stop: check by `inFull`. */
  readonly near: (addedOhms: number) => number;
  /** The faulty circuit solved as a meter meets it, which takes some ten times as long; NaN where the meter shows no value. */
  readonly inFull: (addedOhms: number) => number;
}

/** Prepares the state for `voltsBySeries`, which does so by itself otherwise. */
export const prepareVolts = (harness: Harness, state: VehicleState, options: BuildOptions = {}): void =>
  void phasesPrepared(harness, state, options);

/** Made once for many resistances. */
export function voltsBySeries(
  harness: Harness,
  state: VehicleState,
  link: string,
  red: string,
  black: string,
  options: BuildOptions = {},
): VoltsBySeries {
  const inFull = (ohms: number): number => {
    const reading = readVolts(harness, state, [{ kind: "series", link, ohms }], red, black, options);
    return reading.kind === "value" ? reading.value : NaN;
  };
  const phases = phasesPrepared(harness, state, options);
  if (phases === undefined) return { near: inFull, inFull };
  const near = (ohms: number): number => {
    let sum = 0;
    let moved: ReadonlySet<number> | undefined;
    for (const { share, how, circuit, prepared } of phases) {
      const [p, q] = [nodeAt(circuit, red), nodeAt(circuit, black)];
      const delta = deltaOf(circuit, harness, state, { kind: "series", link, ohms }, how);
      const meter: Element = { id: "meter", kind: "resistor", a: p, b: q, ohms: METER_OHMS };
      const found = delta === undefined ? undefined : prepared.cycleWith({ ...delta, added: [...(delta.added ?? []), meter] }, moved);
      if (found?.kind !== "rests") return NaN;
      // What a relay holds in the longest phase it goes on holding in the others.
      moved ??= found.changed.moved();
      sum += share * (found.changed.volts[p]! - found.changed.volts[q]!);
    }
    return sum;
  };
  return { near, inFull };
}

/** The sound circuit in one phase of its pulses, prepared for changes. */
interface PhasePrepared {
  readonly share: number;
  readonly how: BuildOptions;
  readonly circuit: Circuit;
  readonly prepared: Prepared;
}

const prepared = new WeakMap<Harness, { readonly key: string; readonly phases: readonly PhasePrepared[] | undefined }>();

/** All phases of a state, the last state kept; undefined where one has no answer, or a fuse blows in it, which would be open in the others. */
function phasesPrepared(harness: Harness, state: VehicleState, options: BuildOptions): readonly PhasePrepared[] | undefined {
  const key = JSON.stringify([state, options]);
  const known = prepared.get(harness);
  if (known?.key === key) return known.phases;
  const phases = phasesOf(harness, state).map(({ at, share, fusesHold }): PhasePrepared | undefined => {
    const how = { ...options, phase: at, fusesHold };
    const circuit = buildCircuit(harness, state, [], how);
    const made = prepare(circuit.netlist);
    return made.kind !== "prepared" || blownFuses(harness, circuit, made.prepared.base.closed).length > 0
      ? undefined
      : { share, how, circuit, prepared: made.prepared };
  });
  const all = phases.every((p) => p !== undefined) ? phases : undefined;
  prepared.set(harness, { key, phases: all });
  return all;
}

function readOhms(harness: Harness, state: VehicleState, faults: readonly Fault[], red: string, black: string): Reading {
  const live = readVolts(harness, state, faults, red, black, {});
  if (live.kind !== "value") return live;
  if (Math.abs(live.value) > LIVE_VOLTS) return { kind: "void", why: "live" };
  const steady = solveSteadyState(harness, state, faults, { dead: true, phase: 0 }, (node) =>
    node(red) === node(black)
      ? []
      : [
          // A circuit with nothing to stand on is measured all the same.
          { id: "meter's own insulation", kind: "resistor", a: node(black), b: 0, ohms: METER_INSULATION_OHMS },
          ohmmeterBetween(node(red), node(black), leadOhms(faults)),
        ],
  );
  if (steady.kind !== "steady") return unsolved(steady);
  const moment = steady.moments[0]!;
  const [p, q] = [nodeAt(moment.circuit, red), nodeAt(moment.circuit, black)];
  if (p === q) return { kind: "value", quantity: "ohms", value: 0 };
  const value = ohmsShown(across(moment, p, q), leadOhms(faults));
  return value === Infinity ? { kind: "over", quantity: "ohms" } : { kind: "value", quantity: "ohms", value };
}

function readAmps(harness: Harness, state: VehicleState, faults: readonly Fault[], around: string, options: BuildOptions): Reading {
  const steady = solveSteadyState(harness, state, faults, options, () => []);
  const known = linkOf(harness, around) !== undefined;
  if (!known && steady.kind === "steady" && !steady.moments[0]!.circuit.elementOf.has(around))
    throw new RangeError(`nothing called ${around} in this circuit`);
  return shown(steady, "amps", (m) => ampsOf(m, around));
}

/** Potentials of all places and currents of all links in one go, for drawing: the mean over pulses. */
export interface Prediction {
  /** V against battery negative, also inside devices by "ECM.~ground"; undefined where the place floats. */
  readonly volts: ReadonlyMap<string, number | undefined>;
  /** A from a to b by link id; 0 where the link is open. */
  readonly amps: ReadonlyMap<string, number>;
}

/** Everything at once, or the reading that says why there is none (not solved, oscillating). */
export function predictAll(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  options: BuildOptions = {},
): Prediction | Reading {
  const steady = solveSteadyState(harness, state, faults, options, () => []);
  if (steady.kind !== "steady") return unsolved(steady);
  const first = steady.moments[0]!;
  const held = heldNodes(first);
  const volts = new Map(
    [...first.circuit.nodeOf].map(([p, n]) => [p, held[n] === 0 ? undefined : meanOf(steady, (m) => m.point.volts[n]!)]),
  );
  const amps = new Map(linksOf(harness).map((l) => [l.id, meanOf(steady, (m) => ampsOf(m, l.id))]));
  return { volts, amps };
}

/** 1 for each node that something better than an open contact joins to node 0. */
function heldNodes({ circuit, point }: Moment): Uint8Array {
  const near: number[][] = circuit.netlist.nodes.map(() => []);
  circuit.netlist.elements.forEach((e, i) => {
    if (e.kind === "current" || e.kind === "capacitor" || (e.kind === "switch" && point.closed[i] === 0)) return;
    near[e.a]!.push(e.b);
    near[e.b]!.push(e.a);
  });
  const held = new Uint8Array(near.length);
  held[0] = 1;
  const open = [0];
  for (let here = open.pop(); here !== undefined; here = open.pop()) {
    for (const next of near[here]!) {
      if (held[next] === 1) continue;
      held[next] = 1;
      open.push(next);
    }
  }
  return held;
}
