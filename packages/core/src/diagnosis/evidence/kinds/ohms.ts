import { z } from "zod";
import { betweenLeads, describeSpot, name, type EvidenceKind } from "../kind.ts";
import { OHMS } from "../scales.ts";

export const schema = z.object({ kind: z.literal("ohms"), red: name, black: name });

export const ohms: EvidenceKind<z.infer<typeof schema>> = {
  read: OHMS,
  describe: (o, harness) => `ohms between ${describeSpot(harness, o.red)} and ${describeSpot(harness, o.black)}`,
  logged: (o) => `ohms ${o.red} to ${o.black}`,
  ...betweenLeads,
  minutes: () => 0.6,
  act: "ohms",
  caution: "Ohms only with the power off.",
};
