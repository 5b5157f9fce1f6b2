import { z } from "zod";
import { describeThing, name, yesOrNo, type EvidenceKind } from "../kind.ts";

/** A length of loom or a connector moved while a reading is watched. */
export const schema = z.object({ kind: z.literal("wiggle"), at: name });

export const WORDS = ["moves", "steady"] as const;

export const wiggle: EvidenceKind<z.infer<typeof schema>> = {
  read: yesOrNo(WORDS, "steady"),
  describe: (o, harness) => `moving ${describeThing(harness, o.at)}`,
  logged: (o) => `moved ${o.at}`,
  names: () => [],
  places: (o) => [o.at],
  needs: () => [],
  minutes: () => 2,
  act: "touch",
  byInstrument: false,
  isOwn: true,
  caution: "Moving a harness may rock the engine and move a strap somewhere else: one spot at a time.",
};
