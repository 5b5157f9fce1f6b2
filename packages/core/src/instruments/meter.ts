/** A usual digital multimeter. One table for whoever predicts, judges or words what it shows. */

/** Input resistance on volts, Ω. */
export const METER_OHMS = 10e6;
/** Voltage between the leads from which on a reading of ohms is void, V. */
export const LIVE_VOLTS = 0.05;
/** On ohms: open-circuit voltage in V behind a resistance in Ω, and the highest resistance it shows, Ω. */
export const OHMS_TEST_VOLTS = 3;
export const OHMS_TEST_INTERNAL = 1e4;
export const OHMS_RANGE = 40e6;

/** What a meter shows of a voltage behind a resistance, as a share: 1 on a strong source, less through insulation. */
export const shareShown = (sourceOhms: number): number => METER_OHMS / (METER_OHMS + sourceOhms);
