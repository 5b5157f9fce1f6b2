import { z } from "zod";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";
import { LIGHT_EMITTING } from "./stamp.ts";
import { twoPinModes } from "./two-pin.ts";

const settings = z.strictObject({
  /** Diodes in a row. */
  inRow: z.number().int().min(1).max(8).default(1),
  /** Current that it is made for, A; the light is judged by it. */
  ratedAmps: positive.default(0.02),
  /** Series resistor; when not given, chosen so that the rated current flows at 13.5 V (27 V in 24 V systems). */
  seriesOhms: positive.optional(),
});
type Settings = z.infer<typeof settings>;

const seriesOhms = (s: Settings, nominalVolts: number): number =>
  s.seriesOhms ?? Math.max(1, ((nominalVolts * 13.5) / 12 - 2.05 * s.inRow) / s.ratedAmps);

/**
 * Light-emitting diodes in a row behind a resistor, anode A: V = m·n·Vt·ln(I/Is) + R·I, with about 2 V for each diode at 20 mA. Light is taken as proportional to
 * the current. No temperature. Source: Shockley 1949; parameters ours.
 */
export const led: DeviceKind<Settings> = {
  kind: "led",
  family: "load",
  isNoticed: true,
  words: "light-emitting diode",
  settings,
  terminals: () => [
    { name: "A", role: "load" },
    { name: "K", role: "load" },
  ],
  ways: () => [{ part: "chips", a: "A", b: "K", consumes: true }],
  stamp: (s, at, into) => {
    into.resistor("series resistor", "A", ".mid", seriesOhms(s, at.nominalVolts));
    // A row of equal junctions is one with their emission factors added.
    into.diode("chips", ".mid", "K", { ...LIGHT_EMITTING, emission: LIGHT_EMITTING.emission * s.inRow });
  },
  modes: () => twoPinModes("chips", 2, 0.5, ".mid", "K"),
  sights: (s, _, inside) => [{ kind: "brightness", share: Math.max(0, inside.amps("chips")) / s.ratedAmps }],
};
