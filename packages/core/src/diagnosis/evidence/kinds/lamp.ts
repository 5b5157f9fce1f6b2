import { z } from "zod";
import { LAMP_LOOKS, lampLook } from "../../../instruments/index.ts";
import { betweenLeads, describeSpot, name, withMistakes, type EvidenceKind } from "../kind.ts";

/** A filament test lamp between two places. */
export const schema = z.object({ kind: z.literal("lamp"), red: name, black: name, watts: z.number().positive().max(100) });

/** Light near the eye's border between two words may be called either; natural logarithm of the share. */
const EYE = 0.35;

export const lamp: EvidenceKind<z.infer<typeof schema>> = {
  read: {
    words: LAMP_LOOKS,
    shares: ({ value }) => {
      const shares = Object.fromEntries(LAMP_LOOKS.map((l) => [l, 0]));
      for (const f of [-EYE, 0, 0, EYE]) shares[lampLook(value * Math.exp(f))]! += 0.25;
      return withMistakes(shares);
    },
    likeliest: (value) => LAMP_LOOKS.indexOf(lampLook(value)),
    unsteady: "swings",
    isChance: false,
  },
  describe: (o, harness) => `${o.watts} W lamp between ${describeSpot(harness, o.red)} and ${describeSpot(harness, o.black)}`,
  logged: (o) => `${o.watts} W lamp ${o.red} to ${o.black}`,
  ...betweenLeads,
  minutes: () => 0.5,
  act: "lamp",
  caution: "The lamp loads what it touches and gets hot: no module output, 5 V reference, sensor signal, bus line or airbag circuit.",
};
