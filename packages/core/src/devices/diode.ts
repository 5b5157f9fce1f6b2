import { z } from "zod";
import type { DeviceKind } from "./device.ts";
import { SILICON } from "./stamp.ts";
import { twoPinModes } from "./two-pin.ts";

const settings = z.strictObject({});

/**
 * Silicon diode, anode A, cathode K: I = Is·(exp(V/(n·Vt)) − 1) with Is = 1 pA, n = 1 at 27 °C: 0.72 V at 1 A. No breakdown, no temperature.
 * Source: Shockley 1949.
 */
export const diode: DeviceKind<z.infer<typeof settings>> = {
  kind: "diode",
  family: "passive",
  words: "diode",
  settings,
  terminals: () => [
    { name: "A", role: "load" },
    { name: "K", role: "load" },
  ],
  ways: () => [{ part: "junction", a: "A", b: "K", consumes: false }],
  stamp: (_, __, into) => into.diode("junction", "A", "K", SILICON),
  modes: () => twoPinModes("junction", 1, 1, "A", "K"),
  sights: () => [],
};
