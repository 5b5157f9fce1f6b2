/**
 * Uncertainty of a usual digital meter on DC volts: ±(0.5 % of reading + 2 counts), with counts of 1 mV below 4 V and
 * 10 mV above. V.
 */
export function meterUncertaintyVolts(reading: number): number {
  const count = Math.abs(reading) < 4 ? 0.001 : 0.01;
  return 0.005 * Math.abs(reading) + 2 * count;
}
