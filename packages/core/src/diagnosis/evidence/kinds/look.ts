import { z } from "zod";
import { describeThing, name, type EvidenceKind } from "../kind.ts";
import type { Damage } from "../predicted.ts";

/** A look at a wire, cavity, ground or part. */
export const schema = z.object({ kind: z.literal("look"), at: name });

export const WORDS = ["nothing", "corroded", "rubbed", "water", "burnt", "loose", "worked on"] as const;
/** Words of which each is proof of damage by itself. */
export const DAMAGE: readonly string[] = ["corroded", "rubbed", "water", "burnt", "loose"];

type DamageWord = Exclude<(typeof WORDS)[number], "nothing">;
/** What kinds of damage are called by those who find them, shares. Estimates: green copper is hardly taken for a chafed spot, but a wire that broke may be called either. */
const LOOKS_LIKE: Readonly<Record<Damage, Readonly<Record<DamageWord, number>>>> = {
  rub: { rubbed: 0.82, burnt: 0.06, corroded: 0.03, water: 0.02, loose: 0.03, "worked on": 0.04 },
  decay: { corroded: 0.5, loose: 0.15, water: 0.12, rubbed: 0.1, burnt: 0.08, "worked on": 0.05 },
  burn: { burnt: 0.9, corroded: 0.03, loose: 0.03, water: 0.01, rubbed: 0.01, "worked on": 0.02 },
};

/** Whether a word for what was found may be what a kind of damage looks like; other words speak of something else that is wrong beside it. */
export const looksLike = (damage: Damage, word: string): boolean => (LOOKS_LIKE[damage][word as DamageWord] ?? 0) >= LOOKS_SO;
const LOOKS_SO = 0.05;

export const look: EvidenceKind<z.infer<typeof schema>> = {
  read: {
    words: WORDS,
    shares: ({ value, damage }) => {
      const others = WORDS.filter((w) => w !== "nothing");
      const share = (word: DamageWord): number => (damage === undefined ? 1 / others.length : LOOKS_LIKE[damage][word]);
      return { nothing: 1 - value, ...Object.fromEntries(others.map((w) => [w, value * share(w)])) };
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
