import type { Load } from "../harness/index.ts";
import { ohms, type Ohms, type Volts } from "../quantity/index.ts";

/** Exponent of a filament lamp's current against voltage: I = Iₙ·(V/Vₙ)^0.55. */
const FILAMENT_EXPONENT = 0.55;
/** A cold filament has about a tenth of its hot resistance. */
const FILAMENT_COLD_SHARE = 0.1;

/** Resistance of a load at its rated voltage. */
export function ratedOhms(load: Load, rated: Volts): Ohms {
  if ("ohms" in load.rating) return ohms(load.rating.ohms);
  if ("watts" in load.rating) return ohms(rated ** 2 / load.rating.watts);
  return ohms(rated / load.rating.amps);
}

/**
 * Resistance at the operating point, given the voltage across the load. Motors, heaters and coils are taken at their
 * rating (running, warm); lamps follow R = Rₙ·(|V|/Vₙ)^0.45 down to the cold filament. Not for inrush or stall.
 */
export function loadOhms(load: Load, rated: Volts, across: Volts): Ohms {
  const hot = ratedOhms(load, rated);
  if (load.sort !== "lamp") return hot;
  const share = (Math.abs(across) / rated) ** (1 - FILAMENT_EXPONENT);
  return ohms(hot * Math.max(FILAMENT_COLD_SHARE, share));
}

/** Current and slope of a filament lamp at the operating point: A and S at a voltage across it, either way round. */
export function filamentAt(load: Load, rated: Volts, across: Volts): { readonly amps: number; readonly siemens: number } {
  const r = loadOhms({ ...load, sort: "lamp" }, rated, across);
  const cold = r <= FILAMENT_COLD_SHARE * ratedOhms(load, rated) * (1 + 1e-12);
  return { amps: across / r, siemens: (cold ? 1 : FILAMENT_EXPONENT) / r };
}

/** The same current as an expression in V(a,b), for circuit simulators. */
export function filamentText(load: Load, rated: Volts): string {
  const hot = ratedOhms(load, rated);
  return `V(a,b)/(${hot}*max(${FILAMENT_COLD_SHARE},(abs(V(a,b))/${rated})^${(1 - FILAMENT_EXPONENT).toFixed(2)}))`;
}
