import { z } from "zod";
import { betweenLeads, describeSpot, name, type EvidenceKind } from "../kind.ts";
import { SCOPE_VOLTS } from "../scales.ts";

/** The high or the low level of pulses between two places, as a scope shows it. */
export const schema = z.object({ kind: z.literal("level"), which: z.enum(["high", "low"]), red: name, black: name });

export const level: EvidenceKind<z.infer<typeof schema>> = {
  read: SCOPE_VOLTS,
  describe: (o, harness) =>
    `${o.which} level of the pulses by scope, tip on ${describeSpot(harness, o.red)}, ground clip on ${describeSpot(harness, o.black)}`,
  logged: (o) => `${o.which} level ${o.red} against ${o.black}`,
  ...betweenLeads,
  levels: (o) => [o.red, o.black],
  minutes: () => 0.7,
  act: "volts",
};
