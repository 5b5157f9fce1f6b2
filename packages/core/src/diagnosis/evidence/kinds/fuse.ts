import { z } from "zod";
import { describeThing, name, withMistakes, type EvidenceKind } from "../kind.ts";

/** A new fuse of the right rating put in, and what became of it. */
export const schema = z.object({ kind: z.literal("fuse"), at: name });

export const WORDS = ["holds", "blew at once", "blew after moving"] as const;
/** Of those that would blow, so many only do so when something is moved. */
const AFTER_MOVING = 0.15;

export const fuse: EvidenceKind<z.infer<typeof schema>> = {
  read: {
    words: WORDS,
    shares: ({ value }) =>
      withMistakes({ holds: value, "blew at once": (1 - AFTER_MOVING) * (1 - value), "blew after moving": AFTER_MOVING * (1 - value) }),
    likeliest: (value) => (value > 0.5 ? 0 : 1),
    unsteady: "swings",
    isChance: true,
    sound: "holds",
  },
  describe: (o, harness) => `a new fuse of the right rating in ${describeThing(harness, o.at)}`,
  logged: (o) => `new fuse in ${o.at}`,
  names: (o) => [["part", o.at]],
  places: (o) => [o.at],
  needs: (o) => [o.at],
  minutes: () => 0.6,
  act: "touch",
  byInstrument: false,
  isOwn: false,
  caution: "The rating that belongs there, never a larger one; if it blows, no second one before the short is found.",
};
