import type { Element } from "../solver/index.ts";
import { curveOf } from "../solver/index.ts";

const ROUNDS = 100;

/**
 * An element with a resistance in series, as one element between the same nodes. Undefined for what has no voltage to share: current sources, capacitors and
 * inductors, and ideal sources. A fuse with a bad holder is taken as a resistance that does not blow.
 */
export function withSeries(e: Element, ohms: number): Element | undefined {
  const { id, a, b } = e;
  switch (e.kind) {
    case "resistor":
      return { ...e, ohms: e.ohms + ohms };
    case "source":
      return { ...e, internalOhms: e.internalOhms + ohms };
    case "switch":
      if (isFuse(e)) return { id, a, b, kind: "resistor", ohms: e.onOhms + ohms };
      return { ...e, onOhms: e.onOhms + ohms };
    case "diode":
    case "curve": {
      const curve = curveOf(e, false)!;
      return {
        id,
        a,
        b,
        kind: "curve",
        at: (v) => behind(curve, ohms, v),
        text: "",
        ...(e.kind === "curve" && e.sharp === true ? { sharp: true } : {}),
      };
    }
    case "current":
    case "capacitor":
    case "inductor":
      return undefined;
  }
}

/** A fuse watches the voltage over itself. */
export const isFuse = (e: Element): boolean =>
  e.kind === "switch" && e.rule.kind === "not" && e.rule.of.kind === "watcher" && e.rule.of.plus === e.a && e.rule.of.minus === e.b;

/** Current and slope of a rising curve behind a resistance: u + R·i(u) = v, found between a bracket that is widened until it holds. */
function behind(
  curve: (volts: number) => { readonly amps: number; readonly siemens: number },
  ohms: number,
  v: number,
): { readonly amps: number; readonly siemens: number } {
  let [low, high] = [v - 1, v + 1];
  const miss = (u: number): number => u + ohms * curve(u).amps - v;
  for (let width = 1; miss(low) > 0 && width < 1e9; width *= 4) low -= width;
  for (let width = 1; miss(high) < 0 && width < 1e9; width *= 4) high += width;
  let u = v;
  for (let round = 0; round < ROUNDS; round++) {
    const { amps, siemens } = curve(u);
    const off = u + ohms * amps - v;
    if (off > 0) high = u;
    else low = u;
    const step = u - off / (1 + ohms * siemens);
    const next = step > low && step < high ? step : (low + high) / 2;
    if (Math.abs(next - u) < 1e-13 * (1 + Math.abs(u))) break;
    u = next;
  }
  const { amps, siemens } = curve(u);
  return { amps, siemens: siemens / (1 + ohms * siemens) };
}
