import { z } from "zod";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";
import { twoPinModes, twoPinWay, twoTerminals } from "./two-pin.ts";

const settings = z.strictObject({ ohms: positive.default(120) });

/** A resistance that nothing changes: bus terminator, series resistor of a blower, coding resistor. V = R·I. */
export const resistor: DeviceKind<z.infer<typeof settings>> = {
  kind: "resistor",
  family: "passive",
  words: "resistor",
  settings,
  terminals: () => twoTerminals,
  ways: () => twoPinWay("resistance"),
  stamp: (s, _, into) => into.resistor("resistance", "1", "2", s.ohms),
  modes: () => twoPinModes("resistance", 1, 0.3, "1", "2", "element"),
  sights: () => [],
};
