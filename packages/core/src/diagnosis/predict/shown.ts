import type { Fault } from "../../circuit/index.ts";
import { type Harness, moduleGround } from "../../harness/index.ts";
import { busTalk, observe, predictReading, predictShown, silentModules } from "../../instruments/index.ts";
import type { Result } from "../evidence/evidence.ts";
import { observedWork } from "./observed-work.ts";
import type { Test } from "./oracle.ts";
import { wordShares } from "../evidence/likelihood.ts";

/** A reading that moves by less stands still to the eye, V or A. */
const SEEN_SWING = 0.3;

/** Value of the last digit that a meter of 6000 counts shows, V, A or Ω. */
export const stepOf = (v: number): number => (Math.abs(v) < 0.6 ? 1e-4 : Math.abs(v) < 6 ? 1e-3 : Math.abs(v) < 60 ? 1e-2 : 0.1);
export const rounded = (v: number): number => Math.round(v / stepOf(v)) * stepOf(v);

/**
 * What a test shows on a vehicle with these faults, exactly and solved in full. Looks, swaps and wiggles are those of a sound vehicle: they show no circuit, and a fault does not
 * say how it looks.
 */
export function shownBy(harness: Harness, test: Test, faults: readonly Fault[]): Result {
  const o = test.observe;
  const word = (w: string): Result => ({ kind: "word", word: w as never });
  switch (o.kind) {
    case "volts":
    case "ohms":
    case "amps": {
      const reading = predictReading(
        harness,
        test.state,
        faults,
        o.kind === "amps" ? { quantity: "amps", around: o.around } : { quantity: o.kind, red: o.red, black: o.black },
      );
      if (reading.kind === "over") return { kind: "over" };
      if (reading.kind === "unsolved") {
        const [low, high] = reading.between ?? [0, 0];
        if (high - low > SEEN_SWING) return { kind: "swings", low: rounded(low), high: rounded(high) };
        return { kind: "value", value: rounded((low + high) / 2), resolution: stepOf(low) };
      }
      return { kind: "value", value: reading.kind === "void" ? 0 : reading.value };
    }
    case "lamp": {
      const watts = o.watts === 5 ? 5 : 21;
      const shown = predictShown(harness, test.state, faults, { instrument: "lamp", red: o.red, black: o.black, watts });
      return word(shown.kind === "light" ? shown.look : "dark");
    }
    case "part": {
      const work = observedWork(harness, observe(harness, test.state, faults), observe(harness, test.state, []), o.part);
      const shares = wordShares(o, {
        value: work.share,
        low: work.share,
        high: work.share,
        ...(work.oscillating ? { oscillating: true } : {}),
      });
      return word(Object.entries(shares).reduce((p, q) => (q[1] > p[1] ? q : p))[0]);
    }
    case "answers": {
      const talk = busTalk(harness, test.state, faults).filter((t) => t.from === o.module);
      const awake = observe(harness, test.state, faults);
      const up = Array.isArray(awake) && awake.some((x) => x.component === o.module && x.sight.kind === "awake" && x.sight.yes);
      return word(up && (talk.length === 0 || !silentModules(harness, test.state, faults).includes(o.module)) ? "yes" : "no");
    }
    case "live": {
      const reading = predictReading(harness, test.state, faults, {
        quantity: "volts",
        red: `${o.module}.${o.pin}`,
        black: moduleGround(o.module),
      });
      return { kind: "value", value: reading.kind === "value" ? reading.value : 0 };
    }
    case "code":
      return word("absent");
    case "look":
      return word("nothing");
    case "swap":
      return word("same");
    case "wiggle":
      return word("steady");
    case "check":
      return word("as it should be");
  }
}
