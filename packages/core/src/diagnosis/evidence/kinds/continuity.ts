import { z } from "zod";
import { BEEPS_BELOW_OHMS } from "../../../instruments/index.ts";
import { betweenLeads, describeSpot, name, withMistakes, type EvidenceKind } from "../kind.ts";
import { normal } from "../normal.ts";

/** The beeper of a meter between two places with the power off. */
export const schema = z.object({ kind: z.literal("continuity"), red: name, black: name });

export const WORDS = ["beeps", "silent"] as const;
/** Some meters beep below 30 Ω, some below 50: natural logarithm of half the way between. */
const BEEPER_SPREAD = 0.26;

export const continuity: EvidenceKind<z.infer<typeof schema>> = {
  read: {
    words: WORDS,
    shares: ({ value, oscillating }) => {
      // With voltage between the leads a beeper says nothing.
      const beeps = oscillating === true ? 0.5 : normal(Math.log(BEEPS_BELOW_OHMS / Math.max(1e-3, value)) / BEEPER_SPREAD);
      return withMistakes({ beeps, silent: 1 - beeps });
    },
    likeliest: (value) => (value < BEEPS_BELOW_OHMS ? 0 : 1),
    unsteady: "says nothing, the circuit is live",
    isChance: false,
  },
  describe: (o, harness) => `continuity between ${describeSpot(harness, o.red)} and ${describeSpot(harness, o.black)}`,
  logged: (o) => `continuity ${o.red} to ${o.black}`,
  ...betweenLeads,
  minutes: () => 0.5,
  act: "ohms",
  caution: "Continuity only with the power off. A beep shows a path, not that it carries current: measure the drop under load.",
};
