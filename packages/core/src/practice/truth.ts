import { isAt, lookChance, rounded, shownBy, sigmaOf, stepOf, type Hypothesis, type Result, type Test } from "../diagnosis/index.ts";
import type { Fault } from "../circuit/index.ts";
import { isShort, type SupposedFault } from "../faults/index.ts";
import type { Harness } from "../harness/index.ts";
import { errorOf, meterOhms, meterVolts, observe } from "../instruments/index.ts";

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

/** A standard normal number, Box and Muller. */
const gauss = (chance: Chance): number => Math.sqrt(-2 * Math.log(1 - chance())) * Math.cos(2 * Math.PI * chance());

/** What is really wrong with a practice vehicle. */
export interface Truth {
  readonly fault: SupposedFault;
  readonly severity: number;
}

/** Looking along a loom or at one of two wires shows which are damaged: what was seen is then said of those wires. */
export function seenAt(harness: Harness, test: Test, result: Result, truth: readonly Truth[]): readonly Test["observe"][] {
  const o = test.observe;
  if (o.kind !== "look" || result.kind !== "word" || result.word === "nothing" || lookChanceOf(harness, truth, o.at) < 0.05) return [o];
  const there = truth.find((t) => lookChance(harness, asCase(t), o.at) > 0.05)!;
  const both = there.fault.other === undefined ? [there.fault.link] : [there.fault.link, there.fault.other];
  return both.map((at) => ({ kind: "look", at }));
}

const lookChanceOf = (harness: Harness, truth: readonly Truth[], at: string): number =>
  Math.max(0, ...truth.map((t) => lookChance(harness, asCase(t), at)));

/**
 * What the simulated vehicle shows to a test, with the meter's error: solved in full for the faults that are really there, not with the engine's shortcuts. `present`: the
 * faults that show at this moment.
 */
export function resultOf(harness: Harness, test: Test, truth: readonly Truth[], present: boolean, chance: Chance): Result {
  const faults: Fault[] = present ? truth.map((t) => t.fault.faultAt(t.severity)) : [];
  const o = test.observe;
  const word = (w: string): Result => ({ kind: "word", word: w as never });
  switch (o.kind) {
    case "volts":
      return misread(harness, test, faults, (value) => errorOf(meterVolts(value), value), chance);
    case "ohms":
      return misread(harness, test, faults, (value) => errorOf(meterOhms(value, true), value), chance);
    case "amps":
      return misread(harness, test, faults, (value) => sigmaOf(o, value), chance);
    case "look": {
      if (isBlown(harness, test.state, faults, o.at)) return word("burnt");
      const damaged = chance() < lookChanceOf(harness, truth, o.at);
      return word(damaged ? (truth[0] !== undefined && isShort(truth[0].fault.effect) ? "rubbed" : "corroded") : "nothing");
    }
    case "swap":
      return word(truth.length > 0 && truth.every((t) => t.fault.link === o.part) ? "cured" : "same");
    case "wiggle":
      return word(truth.some((t) => isAt(harness, t.fault.link, o.at)) && chance() < 0.8 ? "moves" : "steady");
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

function isBlown(harness: Harness, state: Test["state"], faults: readonly Fault[], at: string): boolean {
  const seen = observe(harness, state, faults);
  return Array.isArray(seen) && seen.some((x) => x.component === at && x.sight.kind === "fuse" && x.sight.blown);
}

const asCase = (t: Truth): Hypothesis => ({
  index: 0,
  fault: t.fault,
  severity: t.severity,
  supposed: t.fault.faultAt(t.severity),
  repair: 0,
  logPrior: 0,
});
