import { z } from "zod";
import { lookupOf } from "../../../harness/index.ts";
import { describeThing, name, type EvidenceKind } from "../kind.ts";
import { AMPS } from "../scales.ts";

export const schema = z.object({ kind: z.literal("amps"), around: name });

export const amps: EvidenceKind<z.infer<typeof schema>> = {
  read: AMPS,
  describe: (o, harness) => {
    // Before anything on the wire itself that may have chafed.
    const wire = lookupOf(harness).wires.get(o.around);
    if (lookupOf(harness).parts.get(o.around)?.kind === "battery") return `clamp around all cables on the negative post of ${o.around}`;
    return `clamp around ${describeThing(harness, o.around)}${wire === undefined ? "" : `, close to ${wire.from.component}`}`;
  },
  logged: (o) => `clamp around ${o.around}`,
  names: (o) => [["current", o.around]],
  places: (o) => [o.around],
  needs: () => [],
  minutes: () => 0.8,
  act: "touch",
  byInstrument: true,
  isOwn: true,
};
