import { z } from "zod";
import { copperFactor } from "./copper.ts";
import type { DeviceKind } from "./device.ts";
import { positive, share } from "./settings.ts";
import { twoPinModes, twoPinWay, twoTerminals } from "./two-pin.ts";

const settings = z.strictObject({
  /** At 20 °C: port injectors 12–16 Ω. */
  ohms: positive.default(14),
  henries: positive.default(0.012),
  /** Current at which the needle lifts, as a share of that at nominal voltage. */
  liftShare: share.default(0.55),
});

/**
 * Port injector or another magnetic valve: a winding that follows copper. It opens when the current reaches its lift. Not for injectors driven with raised
 * voltage or current profiles. Source: R–L circuit; resistances are the usual ones of port injectors.
 */
export const injector: DeviceKind<z.infer<typeof settings>> = {
  kind: "injector",
  family: "load",
  words: "injector",
  settings,
  terminals: () => twoTerminals,
  ways: () => twoPinWay("winding"),
  stamp: (s, at, into) => into.winding("winding", "1", "2", s.ohms * copperFactor(at.temperatureC), s.henries),
  modes: () => twoPinModes("winding", 2, 0.7),
  sights: (s, at, inside) => [{ kind: "pulled in", yes: Math.abs(inside.amps("winding")) > (s.liftShare * at.nominalVolts) / s.ohms }],
};
