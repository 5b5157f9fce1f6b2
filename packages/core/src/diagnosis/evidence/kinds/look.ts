import { z } from "zod";
import { describeThing, name, type EvidenceKind } from "../kind.ts";

/** A look at a wire, cavity, ground or part. */
export const schema = z.object({ kind: z.literal("look"), at: name });

export const WORDS = ["nothing", "corroded", "rubbed", "water", "burnt", "loose", "worked on"] as const;
/** Words of which each is proof of damage by itself. */
export const DAMAGE: readonly string[] = ["corroded", "rubbed", "water", "burnt", "loose"];

export const look: EvidenceKind<z.infer<typeof schema>> = {
  read: {
    words: WORDS,
    shares: ({ value }) => {
      const others = WORDS.filter((w) => w !== "nothing");
      return { nothing: 1 - value, ...Object.fromEntries(others.map((w) => [w, value / others.length])) };
    },
    likeliest: (value) => (value > 0.5 ? 1 : 0),
    expected: (value) => (value > 0.3 ? "damage likely to show" : "nothing"),
    unsteady: "swings",
    isChance: true,
    sound: "nothing",
  },
  describe: (o, harness) => `a look at ${describeThing(harness, o.at)}`,
  logged: (o) => `look at ${o.at}`,
  names: (o) => [["thing", o.at]],
  places: (o) => [o.at],
  needs: () => [],
  minutes: () => 0.6,
  act: "touch",
  byInstrument: false,
  isOwn: true,
};
