import { z } from "zod";
import { betweenLeads, describeSpot, name, type EvidenceKind } from "../kind.ts";
import { VOLTS } from "../scales.ts";

/** `inputOhms`: of a meter that is not the usual one of 10 MΩ. */
export const schema = z.object({ kind: z.literal("volts"), red: name, black: name, inputOhms: z.number().min(1000).max(1e12).optional() });

export const volts: EvidenceKind<z.infer<typeof schema>> = {
  read: VOLTS,
  describe: (o, harness) => `volts, red on ${describeSpot(harness, o.red)}, black on ${describeSpot(harness, o.black)}`,
  logged: (o) => `${o.red} against ${o.black}`,
  ...betweenLeads,
  minutes: () => 0.4,
  act: "volts",
};
