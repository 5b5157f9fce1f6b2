import { z } from "zod";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";
import { twoPinModes, twoPinWay } from "./two-pin.ts";

const settings = z.strictObject({
  ohmsAt25: positive.default(2200),
  betaK: positive.default(3900),
  /** What it reads too warm, K; a drifted sensor. */
  driftK: z.number().min(-150).max(150).default(0),
});
export type NtcSettings = z.infer<typeof settings>;

const ZERO_C_IN_K = 273.15;

/** R = R₂₅·exp(β·(1/T − 1/T₂₅)). Valid for −50…150 °C within a few per cent; one β does not fit wider. */
export const ntcOhms = (ohmsAt25: number, betaK: number, temperatureC: number): number =>
  ohmsAt25 * Math.exp(betaK * (1 / (temperatureC + ZERO_C_IN_K) - 1 / (25 + ZERO_C_IN_K)));

/** The temperature at which it has a resistance, °C: 1/T = 1/T₂₅ + ln(R/R₂₅)/β. */
export const ntcCelsius = (ohmsAt25: number, betaK: number, ohms: number): number =>
  1 / (1 / (25 + ZERO_C_IN_K) + Math.log(ohms / ohmsAt25) / betaK) - ZERO_C_IN_K;

/**
 * Thermistor of coolant, oil or air. The state's input is its temperature in °C, the surroundings' otherwise. Behind a module's pull-up an open one reads
 * coldest, a shorted one hottest. Source: β equation.
 */
export const ntc: DeviceKind<NtcSettings> = {
  kind: "ntc",
  family: "sensor",
  words: "temperature sensor",
  settings,
  terminals: () => [
    { name: "1", role: "signal" },
    { name: "2", role: "ground" },
  ],
  ways: () => twoPinWay("thermistor"),
  stamp: (s, at, into) => {
    const felt = Math.min(200, Math.max(-60, (at.input ?? at.temperatureC) + s.driftK));
    into.resistor("thermistor", "1", "2", ntcOhms(s.ohmsAt25, s.betaK, felt));
  },
  modes: () => [
    ...twoPinModes("thermistor", 2, 1),
    {
      id: "drifted",
      words: "reads too cold or too warm",
      weight: 2,
      harm: { kind: "settings", change: (driftK) => ({ driftK }) },
      severities: [-30, -10, 10, 30],
    },
  ],
  sights: () => [],
};
