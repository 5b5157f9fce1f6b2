import { z } from "zod";
import { pinPlace } from "../../../harness/index.ts";
import { describeThing, name, type EvidenceKind } from "../kind.ts";
import { VOLTS } from "../scales.ts";

/** What a module says it sees at one of its pins, V against its own ground. */
export const schema = z.object({ kind: z.literal("live"), module: name, pin: name });

export const live: EvidenceKind<z.infer<typeof schema>> = {
  read: VOLTS,
  describe: (o, harness) => `what ${describeThing(harness, o.module)} reads at pin ${o.pin}`,
  logged: (o) => `${o.module} reads at pin ${o.pin}`,
  names: (o) => [["part", o.module]],
  places: () => [],
  needs: (o) => [o.module, pinPlace(o.module, o.pin)],
  minutes: () => 0.8,
  act: "touch",
  byInstrument: true,
  isOwn: false,
};
