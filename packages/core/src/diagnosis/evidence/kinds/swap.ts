import { z } from "zod";
import { lookupOf } from "../../../harness/index.ts";
import { describeThing, name, yesOrNo, type EvidenceKind } from "../kind.ts";

/** A known-good part in place of this one. */
export const schema = z.object({ kind: z.literal("swap"), part: name });

export const WORDS = ["cured", "same"] as const;

export const swap: EvidenceKind<z.infer<typeof schema>> = {
  read: yesOrNo(WORDS, "same"),
  describe: (o, harness) => `a known-good part in place of ${describeThing(harness, o.part)}`,
  logged: (o) => `known-good part for ${o.part}`,
  names: (o) => [["part", o.part]],
  places: (o) => [o.part],
  needs: () => [],
  minutes: (o, harness) => (lookupOf(harness).parts.get(o.part)?.kind === "fuse" ? 0.6 : 8),
  act: "touch",
  byInstrument: false,
  isOwn: true,
  caution: "Power down as the manufacturer states before a part is changed; a swapped part may need coding.",
};
