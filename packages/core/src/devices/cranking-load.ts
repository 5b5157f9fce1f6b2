/** Engine as the starter feels it. */
export interface Engine {
  readonly litres: number;
  readonly diesel: boolean;
}

/** Mean torque to turn a warm engine through its compressions, Nm for each litre. */
const PETROL_NM_PER_LITRE = 25;
const DIESEL_NM_PER_LITRE = 40;
/** Thicker oil: share more for each kelvin below 20 °C. */
const COLD_PER_K = 0.018;

/**
 * Mean torque at the crankshaft while cranking, Nm. Estimate: grows with displacement and, through the oil, with cold; valid for 0.5–8 litres and −30…40 °C, and
 * within a factor of 1.5 of an engine in good order.
 */
export const crankingTorqueNm = (engine: Engine, temperatureC: number): number =>
  engine.litres *
  (engine.diesel ? DIESEL_NM_PER_LITRE : PETROL_NM_PER_LITRE) *
  (1 + COLD_PER_K * Math.max(0, 20 - Math.max(-30, temperatureC)));
