import { junctionAt, limitedJunction, THERMAL_VOLTS } from "./junction.ts";
import type { Element } from "./netlist.ts";

/** Current of an element by the voltage across it, A and S. */
export type Curve = (volts: number) => { readonly amps: number; readonly siemens: number };

/** The curve of an element at rest; undefined for one whose current no voltage decides (ideal sources, inductors). */
export function curveOf(e: Element, closed: boolean): Curve | undefined {
  switch (e.kind) {
    case "resistor":
      return line(1 / e.ohms, 0);
    case "switch":
      return line(1 / (closed ? e.onOhms : e.offOhms), 0);
    case "source":
      return e.internalOhms === 0 ? undefined : line(1 / e.internalOhms, -e.volts / e.internalOhms);
    case "current":
      return line(0, e.amps);
    case "capacitor":
      return line(0, 0);
    case "curve":
      return e.at;
    case "diode":
      return (v) => junctionAt(v, e.saturationAmps, e.emission * THERMAL_VOLTS);
    case "inductor":
      return undefined;
  }
}

/** A straight characteristic: amps = siemens · v + offset. */
export const line =
  (siemens: number, offset: number): Curve =>
  (v) => ({ amps: siemens * v + offset, siemens });

/**
 * Where an element is linearised next. Junctions: see `limitedJunction`. A curve is not jumped across 0: a filament that is cut off would swing to and fro there,
 * each time a fifth less; from its cold resistance the next step is right or falls short.
 */
export const limitOf =
  (e: Element) =>
  (next: number, before: number): number =>
    e.kind === "diode"
      ? limitedJunction(next, before, e.saturationAmps, e.emission * THERMAL_VOLTS)
      : e.kind === "curve" && next * before < 0
        ? 0
        : next;

/** Two nodes between which a circuit differs from its base. */
export interface Port {
  readonly a: number;
  readonly b: number;
  /** Current from a to b over what the base has there. */
  readonly extra: Curve;
  readonly limit: (next: number, before: number) => number;
  /** True where `extra` is a straight line. */
  readonly straight: boolean;
  /** True where Newton's method must go by strides. */
  readonly sharp: boolean;
}

/** Whether current through an element is proportional to voltage, apart from a constant. */
export const isStraight = (e: Element): boolean => e.kind !== "curve" && e.kind !== "diode";
/** Whether Newton's method must go by strides at an element. */
export const isSharp = (e: Element): boolean => e.kind === "curve" && e.sharp === true;

/** Above this a plain resistance counts as open, Ω. */
const OPEN_FROM_OHMS = 1e6;
/** Whether current may pass an element: a switch by its state; what a fault has made a plain resistance by its ohms; nothing where it is not there. */
export const conducts = (e: Element | undefined, closed: boolean): boolean =>
  e !== undefined && (e.kind === "switch" ? closed : e.kind === "resistor" && e.ohms < OPEN_FROM_OHMS);
