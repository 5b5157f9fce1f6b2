import { z } from "zod";
import { SERIES_OHMS } from "../device.ts";
import type { PinKind } from "./pin.ts";

export const groundPin = z.strictObject({
  sort: z.literal("ground"),
  /** Ground that the module gives to its sensors instead of taking its own there. */
  forSensors: z.boolean().default(false),
});

/** Ground of a module, 3 mΩ, or the ground it hands on to its sensors, 20 mΩ. */
export const ground: PinKind<z.infer<typeof groundPin>> = {
  sort: "ground",
  role: "ground",
  stamp: (p, { pin }, into) => into.resistor(`${pin} track`, pin, ".ground", p.forSensors ? 20e-3 : 3e-3),
  modes: (p, pin) =>
    p.forSensors
      ? [
          {
            id: `${pin} track worn`,
            words: `sensor ground ${pin} damaged inside`,
            weight: 0.3,
            harm: { kind: "series", part: `${pin} track` },
            severities: SERIES_OHMS,
          },
        ]
      : [],
};
