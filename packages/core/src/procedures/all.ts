import { type Harness, partNameIn } from "../harness/index.ts";
import { charging, drain } from "./charging.ts";
import { gift, relay } from "./parts.ts";
import { fuseSides, ground, walk } from "./paths.ts";
import type { Procedure, Target } from "./procedure.ts";
import { blownFuse, openWire, short } from "./shorts.ts";
import { driver, ntc, sensor, wiggle } from "./sensors.ts";
import { bus, reference } from "./signals.ts";
import { battery, noCrank, noStart } from "./starting.ts";

/** Every test of the trade, in the order in which one would think of them. */
export const PROCEDURES: readonly Procedure[] = [
  battery,
  noCrank,
  noStart,
  charging,
  fuseSides,
  blownFuse,
  ground,
  walk,
  relay,
  openWire,
  short,
  gift,
  reference,
  sensor,
  ntc,
  bus,
  driver,
  drain,
  wiggle,
];

/** A procedure that there is something for on a vehicle, and what. */
export interface Offer {
  readonly procedure: Procedure;
  readonly targets: readonly Target[];
}

const known = new WeakMap<Harness, readonly Offer[]>();

/** Every procedure that a vehicle has something for; made once for a harness. */
export function offersFor(harness: Harness): readonly Offer[] {
  const made =
    known.get(harness) ??
    PROCEDURES.flatMap((procedure) => {
      const targets = procedure.targetsOf(harness);
      return targets.length === 0 ? [] : [{ procedure, targets }];
    });
  known.set(harness, made);
  return made;
}

/** One that suits what is complained of or suspected, and its target. */
export interface Suggestion {
  readonly procedure: Procedure;
  readonly target: Target;
}

/**
 * Procedures whose target is complained of or suspected, those on the complaint first. `suspects`: likeliest first; wires, cavities, grounds and parts.
 */
export function suggestionsFor(
  harness: Harness,
  focus: readonly string[],
  suspects: readonly string[],
  intermittent: boolean,
): readonly Suggestion[] {
  const partOf = (id: string): string => partNameIn(id);
  const wanted = [...focus, ...suspects.slice(0, MOST_SUSPECTS)];
  const rank = (t: Target): number => {
    const exact = wanted.indexOf(t.element);
    return exact >= 0 ? exact : wanted.findIndex((w) => partOf(w) === partOf(t.element));
  };
  const found = offersFor(harness).flatMap(({ procedure, targets }) => {
    if (procedure === wiggle && !intermittent) return [];
    const best = targets.map((t) => ({ t, at: rank(t) })).filter((x) => x.at >= 0);
    best.sort((p, q) => p.at - q.at);
    return best[0] === undefined ? [] : [{ procedure, target: best[0].t, at: best[0].at }];
  });
  return found
    .toSorted((p, q) => p.at - q.at)
    .slice(0, MOST_SUGGESTED)
    .map(({ procedure, target }) => ({ procedure, target }));
}
const MOST_SUSPECTS = 6;
const MOST_SUGGESTED = 5;
