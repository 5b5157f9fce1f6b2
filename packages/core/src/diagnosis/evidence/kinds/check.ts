import { z } from "zod";
import { describeThing, name, yesOrNo, type EvidenceKind } from "../kind.ts";

/** Something beside the circuit that a person compares with what it should be: a thermometer, a belt, ripple on an AC range. Nothing is predicted of it. */
export const schema = z.object({ kind: z.literal("check"), at: name, what: z.string().min(1).max(120) });

export const WORDS = ["as it should be", "otherwise"] as const;

export const check: EvidenceKind<z.infer<typeof schema>> = {
  read: yesOrNo(WORDS, "as it should be"),
  describe: (o, harness) => `${o.what}, at ${describeThing(harness, o.at)}`,
  logged: (o) => `${o.what}, at ${o.at}`,
  names: () => [],
  places: (o) => [o.at],
  needs: () => [],
  minutes: () => 0.6,
  act: "touch",
  byInstrument: false,
  isOwn: false,
};
