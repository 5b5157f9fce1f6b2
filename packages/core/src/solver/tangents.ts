import type { Element, Netlist } from "./netlist.ts";
import { type Curve, curveOf, isSharp, isStraight, limitOf, line, type Port } from "./port.ts";
import type { Responses } from "./responses.ts";
import type { System } from "./system.ts";

/** A nonlinear element on its tangent. */
export interface NonlinearElement {
  readonly element: number;
  readonly a: number;
  readonly b: number;
  /** How far it is off its tangent when it moves by so many V, as the V that this makes across it. */
  readonly offBy: (moveVolts: number) => number;
}

/** The elements of a circuit on their tangents at its resting point. All arrays by element index. */
export interface Tangents {
  readonly slope: Float64Array;
  readonly offset: Float64Array;
  /** V at which each nonlinear element touches its curve. */
  readonly linearised: Float64Array;
  readonly nonlinear: readonly NonlinearElement[];
  /** Curves of the nonlinear elements by their place in the system's `nonlinearAt`. */
  readonly curves: readonly Curve[];
  /** The port at which an element differs from its tangent here; undefined where no port can say it. */
  readonly portAt: (index: number, now: Element | undefined, closed: boolean) => Port | undefined;
  /** Adds the nonlinear elements to `active` that are off their tangents at x, but for those that are `taken` out; true when there are any. */
  readonly leave: (x: Float64Array, active: Map<number, Port>, taken: ReadonlySet<number>) => boolean;
}

/** A nonlinear element that is off its tangent by less than this, V, is left on it. */
const STRAIGHT_VOLTS = 1e-6;

/** `x0`: the unknowns at rest; `linearised`: where the system's tangents touch. */
export function createTangents(
  netlist: Netlist,
  system: System,
  responses: Responses,
  x0: Float64Array,
  linearised: Float64Array,
): Tangents {
  const { elements } = netlist;
  const { first, second, nonlinearAt } = system;
  const slope = Float64Array.from(system.slope);
  const offset = Float64Array.from(system.offset);
  const curves = Array.from(nonlinearAt, (i): Curve => curveOf(elements[i]!, false)!);
  /** Ohms here between the ends of each nonlinear element, to weigh how far it is off its tangent; made when first asked for. */
  const ohmsAcross = new Float64Array(elements.length).fill(-1);
  const ohmsAcrossOf = (i: number): number => {
    const { a, b } = elements[i]!;
    if (ohmsAcross[i]! < 0) ohmsAcross[i] = Math.abs(responses.across(responses.column(a, b), a, b));
    return ohmsAcross[i]!;
  };
  const ports = new Map<number, Port>();
  const portOff = (i: number): Port => {
    const known = ports.get(i) ?? portAt(i, elements[i], false)!;
    ports.set(i, known);
    return known;
  };

  function portAt(index: number, now: Element | undefined, closed: boolean): Port | undefined {
    const was = elements[index]!;
    if (system.branchOf[index]! >= 0 || system.live[index] === 0) return undefined;
    const g = slope[index]!;
    const c = offset[index]!;
    if (now === undefined) return { a: was.a, b: was.b, extra: line(-g, -c), limit: (v) => v, straight: true, sharp: false };
    const curve = curveOf(now, closed);
    if (curve === undefined || now.a !== was.a || now.b !== was.b) return undefined;
    const extra = (v: number): { amps: number; siemens: number } => {
      const { amps, siemens } = curve(v);
      return { amps: amps - g * v - c, siemens: siemens - g };
    };
    return { a: was.a, b: was.b, extra, limit: limitOf(now), straight: isStraight(now), sharp: isSharp(now) };
  }

  function leave(x: Float64Array, active: Map<number, Port>, taken: ReadonlySet<number>): boolean {
    let any = false;
    for (let b = 0; b < nonlinearAt.length; b++) {
      const i = nonlinearAt[b]!;
      const at = (first[i]! < 0 ? 0 : x[first[i]!]!) - (second[i]! < 0 ? 0 : x[second[i]!]!);
      // Where it was, it is on its tangent.
      if (Math.abs(at - linearised[i]!) < STRAIGHT_VOLTS || active.has(i) || taken.has(i)) continue;
      const off = curves[b]!(at).amps - slope[i]! * at - offset[i]!;
      if (!(Math.abs(off) * ohmsAcrossOf(i) > STRAIGHT_VOLTS)) continue;
      active.set(i, portOff(i));
      any = true;
    }
    return any;
  }

  const nonlinear = Array.from(nonlinearAt, (i, b): NonlinearElement => {
    const { a, b: to } = elements[i]!;
    const rests = responses.across(x0, a, to);
    return {
      element: i,
      a,
      b: to,
      offBy: (move) => Math.abs(curves[b]!(rests + move).amps - slope[i]! * (rests + move) - offset[i]!) * ohmsAcrossOf(i),
    };
  });

  return { slope, offset, linearised, nonlinear, curves, portAt, leave };
}
