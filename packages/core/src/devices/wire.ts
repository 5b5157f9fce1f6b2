import { celsius, type Celsius, type Metres, ohms, type Ohms, type SquareMillimetres } from "../quantity/index.ts";

/** Resistivity of annealed copper at 20 °C, Ω·m (IEC 60028). */
const COPPER_RESISTIVITY = 1.724e-8;
/** Temperature coefficient of copper at 20 °C, 1/K (IEC 60028). */
const COPPER_COEFFICIENT = 0.00393;
/** From here to there the straight line holds within 1 %. */
export const COPPER_VALID_FROM = celsius(-50);
export const COPPER_VALID_TO = celsius(200);

/**
 * Resistance of a copper wire: R = ρ₂₀·L/A·(1 + α·(T − 20)).
 * Stranded road-vehicle cable may have up to 8 % more (the limits of ISO 6722-1). Throws RangeError for an area or
 * length that is not positive and for a temperature outside −50…200 °C.
 */
export function wireOhms(area: SquareMillimetres, length: Metres, temperature: Celsius): Ohms {
  if (!(area > 0)) throw new RangeError(`wire area must be positive: ${area} mm²`);
  if (!(length > 0)) throw new RangeError(`wire length must be positive: ${length} m`);
  if (!(temperature >= COPPER_VALID_FROM && temperature <= COPPER_VALID_TO)) {
    throw new RangeError(`copper temperature outside −50…200 °C: ${temperature}`);
  }
  const areaM2 = area * 1e-6;
  return ohms(((COPPER_RESISTIVITY * length) / areaM2) * (1 + COPPER_COEFFICIENT * (temperature - 20)));
}
