import { z } from "zod";
import type { DeviceKind } from "./device.ts";
import { positive } from "./settings.ts";

const settings = z.strictObject({ ohms: positive.default(2) });

/**
 * Igniter of an airbag or a belt tensioner. It is in the model so that its circuit is whole; no instrument may touch it: both terminals are marked untouchable,
 * and readings there are refused. No failure modes, as none may be looked for with leads: its own module tests it.
 */
export const squib: DeviceKind<z.infer<typeof settings>> = {
  kind: "squib",
  family: "passive",
  words: "igniter (do not touch)",
  settings,
  terminals: () => [
    { name: "1", role: "untouchable" },
    { name: "2", role: "untouchable" },
  ],
  ways: () => [{ part: "igniter", a: "1", b: "2", consumes: true }],
  stamp: (s, _, into) => into.resistor("igniter", "1", "2", s.ohms),
  modes: () => [],
  sights: () => [],
};
