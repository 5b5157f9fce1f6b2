import { z } from "zod";
import { name, type EvidenceKind } from "../kind.ts";

export const schema = z.object({ kind: z.literal("code"), code: name });

export const WORDS = ["active", "pending", "stored", "permanent", "absent"] as const;

export const code: EvidenceKind<z.infer<typeof schema>> = {
  read: {
    words: WORDS,
    // A fault that is there now keeps its code active; one that is away leaves it stored.
    shares: ({ value }) => ({ active: 0.9 * value, pending: 0.03, stored: 0.06, permanent: 0.01, absent: 0.9 * (1 - value) }),
    likeliest: (value) => (value > 0.5 ? WORDS.indexOf("active") : WORDS.indexOf("absent")),
    unsteady: "swings",
    isChance: true,
    sound: "absent",
  },
  describe: (o) => `code ${o.code}`,
  logged: (o) => o.code,
  names: () => [],
  places: () => [],
  needs: () => [],
  minutes: () => 0.8,
  act: "touch",
  byInstrument: false,
  isOwn: false,
};
