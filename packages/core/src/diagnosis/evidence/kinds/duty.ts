import { z } from "zod";
import { betweenLeads, describeSpot, name, type EvidenceKind } from "../kind.ts";
import { PER_CENT } from "../scales.ts";

/** Share of the time that pulses between two places are high, %, as a scope or a meter on duty shows it, or a module tells of one of its own pins. */
export const schema = z.object({ kind: z.literal("duty"), red: name, black: name });

export const duty: EvidenceKind<z.infer<typeof schema>> = {
  read: PER_CENT,
  describe: (o, harness) => `duty of the pulses, red on ${describeSpot(harness, o.red)}, black on ${describeSpot(harness, o.black)}`,
  logged: (o) => `duty ${o.red} against ${o.black}`,
  ...betweenLeads,
  levels: (o) => [o.red, o.black],
  minutes: () => 0.7,
  act: "volts",
};
