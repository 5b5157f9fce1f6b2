import { z } from "zod";
import { describeSpot, name, type EvidenceKind } from "../kind.ts";
import { OHMS } from "../scales.ts";

export const schema = z.object({ kind: z.literal("ohms"), red: name, black: name });

export const ohms: EvidenceKind<z.infer<typeof schema>> = {
  read: OHMS,
  describe: (o, harness) => `ohms between ${describeSpot(harness, o.red)} and ${describeSpot(harness, o.black)}`,
  logged: (o) => `ohms ${o.red} to ${o.black}`,
  names: (o) => [
    ["place", o.red],
    ["place", o.black],
  ],
  places: (o) => [o.red, o.black],
  needs: (o) => [o.red, o.black],
  minutes: () => 0.6,
  act: "ohms",
  byInstrument: true,
  isOwn: false,
  caution: "Ohms only with the power off.",
};
