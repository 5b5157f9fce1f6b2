import type { Element } from "../solver/index.ts";

/** A usual digital multimeter. One table for whoever predicts, judges or words what it shows. */

/** Input resistance on volts, Ω. */
export const METER_OHMS = 10e6;
/** Voltage between the leads from which on a reading of ohms is void, V. */
export const LIVE_VOLTS = 0.05;
/** On ohms: open-circuit voltage in V behind a resistance in Ω, and the highest resistance it shows, Ω. */
const OHMS_TEST_VOLTS = 3;
const OHMS_TEST_INTERNAL = 1e4;
export const OHMS_RANGE = 40e6;

/** A meter on ohms as an element between the nodes of its red and its black lead; `ohms`: of the leads. */
export const ohmmeterBetween = (red: number, black: number, ohms = 0): Element => ({
  id: "meter",
  kind: "source",
  a: red,
  b: black,
  volts: OHMS_TEST_VOLTS,
  internalOhms: OHMS_TEST_INTERNAL + ohms,
});

/** What a meter on ohms shows with so many volts between the ends of its leads, Ω, those of the leads among them; Infinity where less current flows than its highest range needs. */
export function ohmsShown(across: number, ohms = 0): number {
  const amps = (OHMS_TEST_VOLTS - across) / (OHMS_TEST_INTERNAL + ohms);
  return amps > OHMS_TEST_VOLTS / (OHMS_RANGE + OHMS_TEST_INTERNAL) ? Math.max(0, across / amps) + ohms : Infinity;
}

/** What a meter shows of a voltage behind a resistance, as a share: 1 on a strong source, less through insulation. */
export const shareShown = (sourceOhms: number, meterOhms = METER_OHMS): number => meterOhms / (meterOhms + sourceOhms);
