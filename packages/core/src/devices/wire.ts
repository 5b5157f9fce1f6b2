import { type Celsius, type Metres, ohms, type Ohms, type SquareMillimetres } from "../quantity/index.ts";
import { copperFactor } from "./copper.ts";

/** Resistivity of annealed copper at 20 °C, Ω·m (IEC 60028). */
const COPPER_RESISTIVITY = 1.724e-8;

/**
 * Resistance of a copper wire: R = ρ₂₀·L/A·(1 + α·(T − 20)).
 * Stranded road-vehicle cable may have up to 8 % more (the limits of ISO 6722-1). Throws RangeError for an area or
 * length that is not positive and for a temperature outside −50…200 °C.
 */
export function wireOhms(area: SquareMillimetres, length: Metres, temperature: Celsius): Ohms {
  if (!(area > 0)) throw new RangeError(`wire area must be positive: ${area} mm²`);
  if (!(length > 0)) throw new RangeError(`wire length must be positive: ${length} m`);
  const areaM2 = area * 1e-6;
  return ohms(((COPPER_RESISTIVITY * length) / areaM2) * copperFactor(temperature));
}
