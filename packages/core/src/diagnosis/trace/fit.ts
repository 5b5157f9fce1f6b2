import type { Fault, VehicleState } from "../../circuit/index.ts";
import type { Harness } from "../../harness/index.ts";
import { voltsBySeries } from "../../instruments/index.ts";
import { lastUsed } from "../../quantity/index.ts";
import { predictionIn } from "./predictions.ts";
import type { Staircase } from "./staircase.ts";
import type { RawStretch } from "./stretches.ts";

/** Decades of resistance that are searched, log₁₀ Ω. */
const LOWEST = -5;
const HIGHEST = 8;
/** How near the two ends of the search come, log₁₀ Ω: a fiftieth of a percent. */
const NARROWEST = 1e-4;
/** The same where the meter shows no value below. */
const AT_BORDER = 0.1;
/** What bends may let a resistance drop so many times what it would drop in a straight circuit. */
const BENDS = 2;

export interface Fit {
  readonly fault: Extract<Fault, { kind: "series" | "open" }>;
}

/** A drop that comes out this near to what was measured is the same: as a share of it, and V. */
const SAME_SHARE = 0.005;
const SAME_VOLTS = 0.002;

/**
 * The series resistance in a stretch that makes the model show the drop that was measured over it. The drop grows with the resistance, so
 * it is closed in on between two ends; a drop that no resistance reaches is an open. It is sought from the factors of the sound circuit, and what was found is solved in full once: only
 * where that comes out otherwise (a part lost its pulses) all is sought in full.
 */
export function fitSeries(
  harness: Harness,
  state: VehicleState,
  staircase: Staircase,
  stretch: RawStretch,
  sourceVolts: number | undefined,
): Fit | undefined {
  const { link } = staircase.steps[stretch.steps[stretch.steps.length >> 1]!]!;
  const [from, to] = [staircase.places[stretch.from]!, staircase.places[stretch.to]!];
  const byQuestion = known.get(harness) ?? new Map<string, number>();
  known.set(harness, byQuestion);
  const ohms = lastUsed(
    byQuestion,
    JSON.stringify([state, link.id, from, to, stretch.steps.length > 1, stretch.dropVolts, sourceVolts ?? null]),
    KEPT,
    () => {
      const volts = voltsBySeries(harness, state, link.id, from, to, { sourceVolts });
      // What all else is judged by afterwards serves here too, where the meter does not load what it reads.
      const asJudged = (ohms: number): number => {
        const predicted = predictionIn(harness, state, [seriesIn(link.id, ohms)], sourceVolts);
        return "volts" in predicted ? (predicted.volts.get(from) ?? NaN) - (predicted.volts.get(to) ?? NaN) : NaN;
      };
      const found = bracketOf(volts.near, stretch.dropVolts);
      // Where a module resets below it, and in which of several parts it lies is not known yet, nothing would be gained by seeking its very border in full.
      if (stretch.steps.length > 1 && found[0] > 0 && found[1] < Infinity && Number.isNaN(volts.near(found[0]))) return answerIn(found);
      const inFull = found[1] < LOADED_OHMS ? asJudged : volts.inFull;
      return answerIn(holdsInFull(found, inFull, stretch.dropVolts) ? found : bracketOf(volts.inFull, stretch.dropVolts));
    },
  );
  if (ohms === 0) return undefined;
  return { fault: ohms === Infinity ? { kind: "open", link: link.id } : seriesIn(link.id, ohms) };
}

const seriesIn = (link: string, ohms: number) => ({ kind: "series", link, ohms }) as const;

/** From so many ohms in series on the meter's own resistance moves what it shows. */
const LOADED_OHMS = 1e4;

/** The stretch that drops most mostly stays the same for the readings that follow. */
const known = new WeakMap<Harness, Map<string, number>>();
const KEPT = 12;

/** Resistances between which so many volts drop, Ω: from 0 where the least that is searched drops more, to Infinity where none drops as much. */
type Bracket = readonly [low: number, high: number];

/** `dropAt`: V by Ω, NaN where the meter shows no value. */
function bracketOf(dropAt: (ohms: number) => number, volts: number): Bracket {
  const at = (exponent: number): number => dropAt(10 ** exponent);
  const most = at(HIGHEST);
  let below = at(LOWEST);
  if (most <= volts) return [10 ** HIGHEST, Infinity];
  if (below >= volts) return [0, 10 ** LOWEST];
  // Where the circuit begins to swing long before so much can drop, nothing is looked for below: with ten times the resistance a straight one would drop 10·d/(1 + 9·d) of all.
  const mayReach = (drop: number): boolean => drop < volts && (BENDS * 10 * most * drop) / (most + 9 * drop) >= volts;
  // The first decade in which it comes to pass: beyond it a module that resets may let the drop fall again.
  for (let high = LOWEST + 1; high <= HIGHEST; high++) {
    const above = at(high);
    const steady = above >= volts ? high : Number.isNaN(above) && mayReach(below) ? steadyBelow(at, volts, high - 1, high) : undefined;
    if (steady !== undefined) return closeIn(at, volts, most, high - 1, steady);
    below = above;
  }
  return [10 ** HIGHEST, Infinity];
}

/** Where so much drops before the meter begins to swing, log₁₀ Ω; undefined where it does not. */
function steadyBelow(at: (exponent: number) => number, volts: number, from: number, swinging: number): number | undefined {
  let [low, high] = [from, swinging];
  while (high - low > AT_BORDER) {
    const middle = (low + high) / 2;
    const drop = at(middle);
    if (drop >= volts) return middle;
    if (drop < volts) low = middle;
    else high = middle;
  }
  return undefined;
}

/** Closes in on the drop between two exponents, of which the upper one shows more. `most`: what drops over an open circuit, V. */
function closeIn(at: (exponent: number) => number, volts: number, most: number, from: number, to: number): Bracket {
  let [low, high] = [from, to];
  let isBorder = false;
  let tried = (low + high) / 2;
  for (let round = 0; high - low > (isBorder ? AT_BORDER : NARROWEST); round++) {
    const drop = at(tried);
    if (drop >= volts) high = tried;
    else {
      low = tried;
      isBorder = Number.isNaN(drop);
    }
    // What is in series with it shares the volts of the open circuit; were all straight, the next aim would hit. A little beyond it, so that both ends come near.
    const beside = (10 ** tried * (most - drop)) / drop;
    const aim = Math.log10((beside * volts) / (most - volts)) + (drop < volts ? 1 : -1) * (NARROWEST / 3);
    tried = round % 3 < 2 && aim > low && aim < high ? aim : (low + high) / 2;
  }
  return [10 ** low, 10 ** high];
}

/** At its upper end the drop stands, also where it jumps in between. */
const answerIn = ([low, high]: Bracket): number => (low === 0 ? 0 : high);

/** Whether the drop lies between the ends of a bracket in full as well; where a module resets it may jump there, or show no value below. */
function holdsInFull([low, high]: Bracket, inFull: (ohms: number) => number, volts: number): boolean {
  const same = Math.max(SAME_VOLTS, SAME_SHARE * Math.abs(volts));
  const shown = inFull(Math.min(high, 10 ** HIGHEST));
  if (high === Infinity) return shown <= volts + same;
  return shown >= volts - same && (low === 0 || shown <= volts + same || !(inFull(low) > volts + same));
}
