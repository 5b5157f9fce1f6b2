import { z } from "zod";
import { describeThing, name, yesOrNo, type EvidenceKind } from "../kind.ts";

/** Whether a module answers the scan tool. */
export const schema = z.object({ kind: z.literal("answers"), module: name });

export const WORDS = ["yes", "no"] as const;

export const answers: EvidenceKind<z.infer<typeof schema>> = {
  read: yesOrNo(WORDS),
  describe: (o, harness) => `whether ${describeThing(harness, o.module)} answers`,
  logged: (o) => `${o.module} answers`,
  names: (o) => [["part", o.module]],
  places: () => [],
  needs: (o) => [o.module],
  minutes: () => 0.8,
  act: "touch",
  byInstrument: false,
  isOwn: false,
};
