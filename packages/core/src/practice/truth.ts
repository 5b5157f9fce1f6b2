import { rounded, shownBy, stepOf, type Result, type Test } from "../diagnosis/index.ts";
import type { Fault } from "../circuit/index.ts";
import { isShort, type SupposedFault } from "../faults/index.ts";
import type { Harness } from "../harness/index.ts";
import { clampAmps, errorOf, meterOhms, meterVolts, observe } from "../instruments/index.ts";
import { isMovedWith, namedBy, showsChance, type People } from "./people.ts";

/** Numbers from 0 to below 1, the same from the same seed. */
export type Chance = () => number;

/** Mulberry32: small, even and the same everywhere. Public-domain method. */
export function chanceOf(seed: number): Chance {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), a | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** The same things in an order by chance, Fisher and Yates. */
export function shuffled<T>(list: readonly T[], chance: Chance): readonly T[] {
  const all = [...list];
  for (let i = all.length - 1; i > 0; i--) {
    const j = Math.floor(chance() * (i + 1));
    [all[i], all[j]] = [all[j]!, all[i]!];
  }
  return all;
}

/** A standard normal number, Box and Muller. */
const gauss = (chance: Chance): number => Math.sqrt(-2 * Math.log(1 - chance())) * Math.cos(2 * Math.PI * chance());

/** What is really wrong with a practice vehicle. */
export interface Truth {
  readonly fault: SupposedFault;
  readonly severity: number;
}

/** Looking along a loom or at one of two wires shows which are damaged: what was seen is then said of those wires. */
export function seenAt(harness: Harness, test: Test, result: Result, truth: readonly Truth[], people: People): readonly Test["observe"][] {
  const o = test.observe;
  if (o.kind !== "look" || result.kind !== "word" || result.word === "nothing") return [o];
  const there = truth.find((t) => showsChance(harness, people, t, o.at) > 0);
  if (there === undefined) return [o];
  const both = there.fault.other === undefined ? [there.fault.link] : [there.fault.link, there.fault.other];
  return both.map((at) => ({ kind: "look", at }));
}

/**
 * What the simulated vehicle shows to a test, with the meter's error: solved in full for the faults that are really there, not with the engine's shortcuts. `present`: the
 * faults that show at this moment; `people`: who looks and says; `beside`: what else is not as it should be, always there.
 */
export function resultOf(
  harness: Harness,
  test: Test,
  truth: readonly Truth[],
  present: boolean,
  chance: Chance,
  people: People,
  beside: readonly Fault[] = [],
): Result {
  const faults: Fault[] = [...(present ? truth.map((t) => t.fault.faultAt(t.severity)) : []), ...beside];
  const o = test.observe;
  const word = (w: string): Result => ({ kind: "word", word: w as never });
  switch (o.kind) {
    case "volts":
      return misread(harness, test, faults, (value) => errorOf(meterVolts(value), value), chance);
    case "ohms":
      return misread(harness, test, faults, (value) => errorOf(meterOhms(value, true), value), chance);
    case "amps":
      return misread(harness, test, faults, (value) => errorOf(clampAmps(true), value), chance);
    case "look": {
      if (isBlown(harness, test.state, faults, o.at)) return word("burnt");
      const there = truth.find((t) => chance() < showsChance(harness, people, t, o.at));
      if (there !== undefined) return word(isShort(there.fault.effect) ? "rubbed" : "corroded");
      return word(chance() < people.misled ? "corroded" : "nothing");
    }
    case "swap":
      return word(truth.length > 0 && truth.every((t) => t.fault.link === o.part) ? "cured" : "same");
    case "wiggle":
      return word(
        chance() < (truth.some((t) => isMovedWith(harness, t, o.at)) ? 1 - people.stillThough : people.movesThough) ? "moves" : "steady",
      );
    case "part":
      return namedBy(shownBy(harness, test, faults), people.misnamed, chance);
    default:
      return shownBy(harness, test, faults);
  }
}

/** What a meter shows, off by an error that is even over its band: σ is a third of the width. `error`: half-width of the band. */
function misread(harness: Harness, test: Test, faults: readonly Fault[], error: (value: number) => number, chance: Chance): Result {
  const exact = shownBy(harness, test, faults);
  if (exact.kind !== "value") return exact;
  const { value } = exact;
  return { kind: "value", value: rounded(value + (error(value) / 1.7) * gauss(chance)), resolution: stepOf(value) };
}

const isBlown = (harness: Harness, state: Test["state"], faults: readonly Fault[], at: string): boolean =>
  blownIn(harness, state, faults).includes(at);

/** Fuses that blow in a state. */
export function blownIn(harness: Harness, state: Test["state"], faults: readonly Fault[]): readonly string[] {
  const seen = observe(harness, state, faults);
  return Array.isArray(seen) ? seen.flatMap((x) => (x.sight.kind === "fuse" && x.sight.blown ? [x.component] : [])) : [];
}
