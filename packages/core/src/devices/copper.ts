/** Temperature coefficient of copper at 20 °C, 1/K (IEC 60028). */
export const COPPER_COEFFICIENT = 0.00393;
/** From here to there, °C, the straight line holds within 1 %. */
export const COPPER_VALID_FROM_C = -50;
export const COPPER_VALID_TO_C = 200;

/** Resistance of copper at a temperature over that at 20 °C: 1 + α·(T − 20). Throws RangeError outside −50…200 °C. */
export function copperFactor(temperatureC: number): number {
  if (!(temperatureC >= COPPER_VALID_FROM_C && temperatureC <= COPPER_VALID_TO_C))
    throw new RangeError(`copper temperature outside −50…200 °C: ${temperatureC}`);
  return 1 + COPPER_COEFFICIENT * (temperatureC - 20);
}
