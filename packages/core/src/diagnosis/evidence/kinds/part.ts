import { z } from "zod";
import { FULL_WORK, FULL_WORK_BLUR, NO_WORK, NO_WORK_BLUR, TOO_MUCH_BLUR, TOO_MUCH_WORK, workWord } from "../../../instruments/index.ts";
import { describeThing, name, withMistakes, type EvidenceKind } from "../kind.ts";

/** What a part does: a lamp's light, a motor's turning, a relay's click, heat. */
export const schema = z.object({ kind: z.literal("part"), part: name });

/**
 * `full`: as it should in this state, or running though it should not. `flickers`: in and out without end. `too much`: too fast, too bright, too high. `stuck`: it does not go back to
 * rest.
 */
export const WORDS = ["full", "weak", "none", "flickers", "too much", "stuck"] as const;
/** Of those who see something run that should not, so many call it stuck. */
const CALLED_STUCK = 0.3;

const logistic = (x: number): number => 1 / (1 + Math.exp(-x));

export const part: EvidenceKind<z.infer<typeof schema>> = {
  read: {
    words: WORDS,
    shares: ({ value, oscillating, isUnasked }) => {
      if (oscillating === true) return withMistakes({ full: 0.05, weak: 0.15, none: 0.1, flickers: 0.7, "too much": 0, stuck: 0 });
      const over = (border: number, width: number): number => logistic((value - border) / width);
      const [some, full] = [over(NO_WORK, NO_WORK_BLUR), over(FULL_WORK, FULL_WORK_BLUR)];
      const weak = Math.max(0, some - full);
      if (isUnasked === true)
        return withMistakes({
          full: (1 - CALLED_STUCK) * full,
          weak,
          none: 1 - some,
          flickers: 0,
          "too much": 0,
          stuck: CALLED_STUCK * full,
        });
      const much = over(TOO_MUCH_WORK, TOO_MUCH_BLUR);
      return withMistakes({ full: full - much, weak, none: 1 - some, flickers: 0, "too much": much, stuck: 0 });
    },
    likeliest: (value) => WORDS.indexOf(workWord(value)),
    unsteady: "flickers",
    isChance: false,
  },
  describe: (o, harness) => `what ${describeThing(harness, o.part)} does`,
  logged: (o) => o.part,
  names: (o) => [["part", o.part]],
  places: () => [],
  needs: (o) => [o.part],
  minutes: () => 0.2,
  act: "touch",
  byInstrument: false,
  isOwn: false,
};
