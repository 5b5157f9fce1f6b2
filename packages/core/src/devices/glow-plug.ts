import { z } from "zod";
import { selfHeating, selfHeatingVolts } from "./curves.ts";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";
import { twoPinModes } from "./two-pin.ts";

const settings = z.strictObject({
  coldOhms: positive.default(0.4),
  /** Hot, after some ten seconds at rated voltage. */
  hotOhms: positive.default(1.2),
  ratedVolts: positive.default(11),
});

/** Of the current against voltage once it glows. */
const EXPONENT = 0.6;

/**
 * Glow plug, terminal G, its body screwed into the engine (B): settled current I = Iₙ·(V/Vₙ)^0.6, not below the cold resistance. Typical 0.3–0.6 Ω cold,
 * rising several times. Not for the first seconds. Source: physics of a regulating metal coil, parameters ours.
 */
export const glowPlug: DeviceKind<z.infer<typeof settings>> = {
  kind: "glowplug",
  family: "load",
  isNoticed: true,
  words: "glow plug",
  settings,
  terminals: () => [
    { name: "G", role: "load" },
    { name: "B", role: "ground" },
  ],
  ways: () => [{ part: "element", a: "G", b: "B", consumes: true }],
  stamp: (s, _, into) => {
    into.curve("element", "G", "B", selfHeating(s.ratedVolts, s.hotOhms, EXPONENT, Math.min(1, s.coldOhms / s.hotOhms)));
  },
  modes: () => twoPinModes("element", 4, 0.5, "G", "B"),
  sights: (s, _, inside) => [
    { kind: "heat", share: voltsOf(s, inside.amps("element")) * Math.abs(inside.amps("element")) * (s.hotOhms / s.ratedVolts ** 2) },
  ],
};

const voltsOf = (s: z.infer<typeof settings>, amps: number): number =>
  selfHeatingVolts(s.ratedVolts, s.hotOhms, EXPONENT, Math.min(1, s.coldOhms / s.hotOhms), amps);
