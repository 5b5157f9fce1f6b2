import type { Volts } from "../quantity/index.ts";
import { selfHeating, selfHeatingVolts, type Shape } from "./curves.ts";
import { ratedOhms, type LoadSettings } from "./load.ts";

/** Exponent of the current against voltage. */
const EXPONENT = 0.55;
/** A cold filament has about a tenth of its hot resistance. */
const COLD_SHARE = 0.1;

/**
 * Filament lamp, settled: I = Iₙ·(V/Vₙ)^0.55, either way round, down to the cold filament's resistance. Valid from 5 % to 130 % of the rated voltage; not for the
 * first tenths of a second, in which it draws ten times its current. Source: usual exponents of vacuum and gas-filled lamps.
 */
export const filament = (load: LoadSettings, rated: Volts): Shape => selfHeating(rated, ratedOhms(load, rated), EXPONENT, COLD_SHARE);

/** V across the filament itself at a current, A. */
export const filamentVolts = (load: LoadSettings, rated: Volts, amps: number): number =>
  selfHeatingVolts(rated, ratedOhms(load, rated), EXPONENT, COLD_SHARE, amps);

/** Share of a filament's light at a voltage across it: ∝ V^3.4. */
export const lampBrightness = (rated: Volts, across: Volts): number => (Math.abs(across) / rated) ** 3.4;
