import { buildCircuit, type Fault, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { type Transient, type Element, type SolveFailure, transient } from "../solver/index.ts";
import { isUntouchable } from "./interlock.ts";
import { nodeAt } from "./steady-state.ts";

export interface ScopePlacement {
  /** Voltage between two places, or current through a link by a clamp. */
  readonly at: { readonly red: string; readonly black: string } | { readonly around: string };
  /** 1: 1 MΩ ∥ 120 pF with its lead; 10: 10 MΩ ∥ 12 pF. */
  readonly probe: 1 | 10;
  readonly seconds: number;
  /** How long the circuit runs before the trace begins, s; 0 when not said. */
  readonly delayS?: number;
  /** Distance of the points of the trace, s. */
  readonly resolutionS: number;
}

export interface Trace {
  readonly kind: "trace";
  /** V or A, `resolutionS` apart from 0 on. */
  readonly values: Float64Array;
  readonly resolutionS: number;
}

export type TraceResult =
  | Trace
  | { readonly kind: "void"; readonly why: "untouchable" }
  | { readonly kind: "unsolved"; readonly atS: number; readonly why: SolveFailure | { readonly kind: "too many steps" } };

const INPUT: Readonly<Record<ScopePlacement["probe"], { readonly ohms: number; readonly farads: number }>> = {
  1: { ohms: 1e6, farads: 120e-12 },
  10: { ohms: 10e6, farads: 12e-12 },
};
/** Longest step of the transient, as a share of the trace. */
const LONGEST_SHARE = 1 / 200;
/** Error of a step as a share of the largest value: far below what a screen shows. */
const STEP_ERROR = 1e-3;
const MOST_POINTS = 2_000_000;

/**
 * What a scope draws: the circuit's transient with the scope as a part of it, from the state at rest just before. Throws RangeError for places that the
 * harness does not hold and for a trace of no or too many points.
 */
export function predictTrace(harness: Harness, state: VehicleState, faults: readonly Fault[], scope: ScopePlacement): TraceResult {
  const points = Math.round(scope.seconds / scope.resolutionS);
  if (!(points > 1 && points <= MOST_POINTS)) throw new RangeError(`a trace has 2 to ${MOST_POINTS} points, not ${points}`);
  const circuit = buildCircuit(harness, state, faults, { transient: true });
  const { at } = scope;
  const leads = "red" in at ? at : undefined;
  if (leads !== undefined && (isUntouchable(harness, leads.red) || isUntouchable(harness, leads.black)))
    return { kind: "void", why: "untouchable" };
  const input = INPUT[scope.probe];
  const [p, q] = leads === undefined ? [0, 0] : [nodeAt(circuit, leads.red), nodeAt(circuit, leads.black)];
  const scopeItself: Element[] =
    p === q
      ? []
      : [
          { id: "scope", kind: "resistor", a: p, b: q, ohms: input.ohms },
          { id: "scope input", kind: "capacitor", a: p, b: q, farads: input.farads },
        ];
  const delayS = scope.delayS ?? 0;
  const elements = [...circuit.netlist.elements, ...scopeItself];
  const result = transient(
    { ...circuit.netlist, elements },
    { stopS: delayS + scope.seconds, longestS: scope.seconds * LONGEST_SHARE, fromInitial: false, relative: STEP_ERROR },
  );
  if (result.kind === "stopped") return { kind: "unsolved", atS: result.atS, why: result.why };
  if (leads !== undefined) return sampled(result, delayS, scope.resolutionS, points, (i) => result.volts[i]![p]! - result.volts[i]![q]!);
  const link = (at as { around: string }).around;
  const index = circuit.elementOf.get(link);
  if (index === undefined) throw new RangeError(`nothing called ${link} in this circuit`);
  return sampled(result, delayS, scope.resolutionS, points, (i) => result.amps[i]![index]!);
}

/** Even points on a course of uneven steps, straight between them. */
function sampled(transient: Transient, delayS: number, resolutionS: number, points: number, valueAt: (step: number) => number): Trace {
  const values = new Float64Array(points);
  let i = 1;
  for (let k = 0; k < points; k++) {
    const t = delayS + k * resolutionS;
    while (i < transient.timesS.length - 1 && transient.timesS[i]! < t) i++;
    const [t0, t1] = [transient.timesS[i - 1]!, transient.timesS[i]!];
    const share = t1 > t0 ? Math.min(1, Math.max(0, (t - t0) / (t1 - t0))) : 1;
    values[k] = valueAt(i - 1) * (1 - share) + valueAt(i) * share;
  }
  return { kind: "trace", values, resolutionS };
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
