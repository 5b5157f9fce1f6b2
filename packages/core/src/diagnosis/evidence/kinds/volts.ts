import { z } from "zod";
import { describeSpot, name, type EvidenceKind } from "../kind.ts";
import { VOLTS } from "../scales.ts";

export const schema = z.object({ kind: z.literal("volts"), red: name, black: name });

export const volts: EvidenceKind<z.infer<typeof schema>> = {
  read: VOLTS,
  describe: (o, harness) => `volts, red on ${describeSpot(harness, o.red)}, black on ${describeSpot(harness, o.black)}`,
  logged: (o) => `${o.red} against ${o.black}`,
  names: (o) => [
    ["place", o.red],
    ["place", o.black],
  ],
  places: (o) => [o.red, o.black],
  needs: (o) => [o.red, o.black],
  minutes: () => 0.4,
  act: "volts",
  byInstrument: true,
  isOwn: false,
};
