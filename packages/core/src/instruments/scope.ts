import { buildCircuit, type Circuit, type Fault, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { type Element, type SolveFailure, transient, type Watcher } from "../solver/index.ts";
import { busFrames } from "./bus-frames.ts";
import { isUntouchable } from "./interlock.ts";
import { ampsOf, meanOf, nodeAt, solveSteadyState } from "./steady-state.ts";
import { type Look, whatMoves } from "./what-moves.ts";

/** Where one channel of a scope is put. */
export interface Probe {
  /** Voltage between two places, or current through a link by a clamp. */
  readonly at: { readonly red: string; readonly black: string } | { readonly around: string };
  /** 1: 1 MΩ ∥ 120 pF with its lead; 10: 10 MΩ ∥ 12 pF. */
  readonly probe: 1 | 10;
}

/** How long and how finely is recorded. */
export interface Recording {
  readonly seconds: number;
  /** How long the circuit runs before the trace begins, s; 0 when not said. */
  readonly delayS?: number;
  /** Distance of the points of the trace, s. */
  readonly resolutionS: number;
  /** Contacts that break and close again while they are moved: what current passes through, and when it breaks and closes, s, by turns. */
  readonly shaken?: readonly Shaken[];
  /** Solves the whole circuit instead of what moves where the probes are. */
  readonly whole?: boolean;
}

export interface Shaken {
  readonly link: string;
  readonly turnsS: readonly number[];
}

export type ScopePlacement = Probe & Recording;

export interface Trace {
  readonly kind: "trace";
  /** V or A, `resolutionS` apart from 0 on. */
  readonly values: Float64Array;
  readonly resolutionS: number;
}
export interface Traces {
  readonly kind: "traces";
  /** One for each probe, V or A, `resolutionS` apart from 0 on. */
  readonly channels: readonly Float64Array[];
  readonly resolutionS: number;
}

export type NoTrace =
  | { readonly kind: "void"; readonly why: "untouchable" }
  | { readonly kind: "unsolved"; readonly atS: number; readonly why: SolveFailure | { readonly kind: "too many steps" } };
export type TraceResult = Trace | NoTrace;

const INPUT: Readonly<Record<Probe["probe"], { readonly ohms: number; readonly farads: number }>> = {
  1: { ohms: 1e6, farads: 120e-12 },
  10: { ohms: 10e6, farads: 12e-12 },
};
/** Longest step of the transient, as a share of the trace. */
const LONGEST_SHARE = 1 / 200;
/** Steps in a period of what swings evenly: its peaks are met within half a percent. */
const STEPS_A_PERIOD = 32;
const shortestOf = (e: Element): readonly number[] =>
  (e.kind === "source" || e.kind === "current") && e.wave?.kind === "sine" && e.wave.amplitude !== 0
    ? [1 / (STEPS_A_PERIOD * e.wave.hertz)]
    : [];
/** Error of a step as a share of the largest value: far below what a screen shows. */
const STEP_ERROR = 1e-3;
const MOST_POINTS = 2_000_000;

/**
 * What a scope draws: the circuit's transient with the scope as a part of it, from the state at rest just before. Throws RangeError for places that the
 * harness does not hold and for a trace of no or too many points.
 */
export function predictTrace(harness: Harness, state: VehicleState, faults: readonly Fault[], scope: ScopePlacement): TraceResult {
  const traces = predictTraces(harness, state, faults, [scope], { whole: true, ...scope });
  return traces.kind === "traces" ? { kind: "trace", values: traces.channels[0]!, resolutionS: traces.resolutionS } : traces;
}

/** The same for several channels at once, all of them in the circuit. `onProgress`: told the share of the time that is worked out, by hundredths. */
export function predictTraces(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  probes: readonly Probe[],
  { seconds, resolutionS, delayS = 0, shaken = [], whole = false }: Recording,
  onProgress: (share: number) => void = () => undefined,
): Traces | NoTrace {
  const points = Math.round(seconds / resolutionS);
  if (!(points > 1 && points <= MOST_POINTS)) throw new RangeError(`a trace has 2 to ${MOST_POINTS} points, not ${points}`);
  const all = [...settled(harness, state, faults), ...busFrames(harness, state, faults, probes, delayS + seconds)];
  const bare = withShaken(buildCircuit(harness, state, all, { transient: true }), shaken, delayS);
  const pairs = probes.flatMap(({ at }) => ("red" in at ? [at] : []));
  if (pairs.some(({ red, black }) => isUntouchable(harness, red) || isUntouchable(harness, black)))
    return { kind: "void", why: "untouchable" };
  const looks = probes.map(({ at }): Look => {
    if ("red" in at) return { p: nodeAt(bare, at.red), q: nodeAt(bare, at.black) };
    const index = bare.elementOf.get(at.around);
    if (index === undefined) throw new RangeError(`nothing called ${at.around} in this circuit`);
    return { around: index };
  });
  const scopes = looks.flatMap((look, k) => ("p" in look && look.p !== look.q ? inputOf(`probe ${k + 1}`, probes[k]!.probe, look) : []));
  const loaded: Circuit = { ...bare, netlist: { ...bare.netlist, elements: [...bare.netlist.elements, ...scopes] } };
  const circuit = whole ? loaded : whatMoves(loaded, looks);
  const names = bare.netlist.nodes;
  const reads = looks.map((look) => {
    if ("around" in look) {
      const index = circuit.elementOf.get(bare.netlist.elements[look.around]!.id)!;
      return (_: Float64Array, amps: () => Float64Array): number => amps()[index]!;
    }
    const [p, q] = whole ? [look.p, look.q] : [nodeAt(circuit, names[look.p]!), nodeAt(circuit, names[look.q]!)];
    return (volts: Float64Array): number => volts[p]! - volts[q]!;
  });
  const sampler = createSampler(probes.length, points, delayS, resolutionS);
  const values = new Float64Array(probes.length);
  let told = 0;
  const result = transient(circuit.netlist, {
    stopS: delayS + seconds,
    longestS: Math.min(seconds * LONGEST_SHARE, ...circuit.netlist.elements.flatMap(shortestOf)),
    fromInitial: false,
    relative: STEP_ERROR,
    mostSteps: MOST_STEPS,
    each: (timeS, volts, amps) => {
      for (let k = 0; k < reads.length; k++) values[k] = reads[k]!(volts, amps);
      sampler.take(timeS, values);
      const share = Math.floor((100 * timeS) / (delayS + seconds)) / 100;
      if (share > told) onProgress((told = share));
    },
  });
  if (result.kind === "stopped") return { kind: "unsolved", atS: result.atS, why: result.why };
  return { kind: "traces", channels: sampler.end(), resolutionS };
}

/** The faults with what followed from them before the trace began, and alternators with the field that their load has brought about. */
function settled(harness: Harness, state: VehicleState, faults: readonly Fault[]): readonly Fault[] {
  const steady = solveSteadyState(harness, state, faults, {}, () => []);
  if (steady.kind !== "steady") return faults;
  const fields = harness.components.flatMap((c): Fault[] => {
    if (c.kind !== "device" || c.device !== "alternator") return [];
    const fieldAmps = Math.max(
      0,
      meanOf(steady, (m) => ampsOf(m, `${c.id}.rectifier`)),
    );
    return fieldAmps > 0 ? [{ kind: "settings", component: c.id, settings: { fieldAmps } }] : [];
  });
  return [...faults, ...steady.follows, ...fields];
}

/** A broken contact, Ω, and how long it takes to open, s. */
const BROKEN_OHMS = 1e8;
const BREAKS_S = 1e-6;

/** The circuit with contacts that break and close again, each beside what it is in: that stands behind it. What is open already stays so. */
function withShaken(circuit: Circuit, shaken: readonly Shaken[], delayS: number): Circuit {
  const nodes = [...circuit.netlist.nodes];
  const elements = [...circuit.netlist.elements];
  const elementOf = new Map(circuit.elementOf);
  for (const { link, turnsS } of shaken) {
    const index = elementOf.get(link);
    if (index === undefined) continue;
    const e = elements[index]!;
    const behind = nodes.push(`${link} shaken`) - 1;
    const hand = nodes.push(`${link} hand`) - 1;
    const points = turnsS.flatMap((t, k): [number, number][] => [
      [delayS + t, k % 2],
      [delayS + t + BREAKS_S, 1 - (k % 2)],
    ]);
    elements[index] = { ...e, b: behind };
    const add = (more: Element): void => void elementOf.set(more.id, elements.push(more) - 1);
    add({
      id: `${link} hand`,
      kind: "source",
      a: hand,
      b: 0,
      volts: 0,
      internalOhms: 1,
      wave: { kind: "corners", points: [[0, 0], ...points] },
    });
    const moved: Watcher = { kind: "watcher", plus: hand, minus: 0, rises: 0.5, falls: 0.4, pace: "electronics", starts: false };
    add({ id: `${link} break`, kind: "switch", a: behind, b: e.b, rule: { kind: "not", of: moved }, onOhms: 1e-4, offOhms: BROKEN_OHMS });
  }
  return { ...circuit, netlist: { ...circuit.netlist, nodes, elements }, elementOf };
}

/** A running engine's alternator alone makes some twenty thousand a second. */
const MOST_STEPS = 2_000_000;

/** What a scope's channel is to the circuit. */
function inputOf(id: string, probe: Probe["probe"], { p, q }: { readonly p: number; readonly q: number }): readonly Element[] {
  const { ohms, farads } = INPUT[probe];
  return [
    { id, kind: "resistor", a: p, b: q, ohms },
    { id: `${id} input`, kind: "capacitor", a: p, b: q, farads },
  ];
}

/** Even points on a course of uneven steps, straight between them. */
function createSampler(
  count: number,
  points: number,
  delayS: number,
  resolutionS: number,
): { readonly take: (timeS: number, values: Float64Array) => void; readonly end: () => readonly Float64Array[] } {
  const channels = Array.from({ length: count }, () => new Float64Array(points));
  const before = new Float64Array(count);
  let [beforeS, next] = [0, 0];
  return {
    take: (timeS, values) => {
      for (let at = delayS + next * resolutionS; next < points && at <= timeS; at = delayS + ++next * resolutionS) {
        const share = timeS > beforeS ? (at - beforeS) / (timeS - beforeS) : 1;
        for (let k = 0; k < count; k++) channels[k]![next] = before[k]! * (1 - share) + values[k]! * share;
      }
      beforeS = timeS;
      before.set(values);
    },
    end: () => {
      for (const [k, channel] of channels.entries()) channel.fill(before[k]!, next);
      return channels;
    },
  };
}

/** What a scope writes beside a trace, and what a meter on alternating volts shows of it. V or A. */
export interface Measures {
  readonly low: number;
  readonly high: number;
  readonly peakToPeak: number;
  readonly mean: number;
  /** Root mean square of what is left without the mean. */
  readonly alternating: number;
}

/** Extremes, mean and alternating part of a trace, in its own unit. The trace must hold a value. */
export function measure({ values }: Trace): Measures {
  let [low, high, sum] = [Infinity, -Infinity, 0];
  for (const v of values) {
    if (v < low) low = v;
    if (v > high) high = v;
    sum += v;
  }
  const mean = sum / values.length;
  let square = 0;
  for (const v of values) square += (v - mean) ** 2;
  return { low, high, peakToPeak: high - low, mean, alternating: Math.sqrt(square / values.length) };
}
