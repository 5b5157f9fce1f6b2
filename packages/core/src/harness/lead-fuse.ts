import { consumes, linksAt } from "./graph.ts";
import { lookupOf } from "./lookup.ts";
import { batteryNegative, batteryPositive } from "./places.ts";
import type { Harness } from "./schema.ts";

/** For a lead in a circuit that has no fuse of its own, A. */
const USUAL_AMPS = 10;

const known = new WeakMap<Harness, Map<string, number>>();

/**
 * The fuse that belongs in a lead between two places, A: no larger than the smallest that protects what it is put on, which is the first fuse met from either end through everything
 * but other loads; 10 A where there is none.
 */
export function leadFuseAmps(harness: Harness, p: string, q: string): number {
  const made = known.get(harness) ?? new Map<string, number>();
  known.set(harness, made);
  const key = [p, q].sort().join("~");
  const found = made.get(key) ?? gather(harness, p, q);
  made.set(key, found);
  return found;
}

function gather(harness: Harness, p: string, q: string): number {
  const ends = [p, q].filter((end) => end !== batteryPositive(harness) && end !== batteryNegative(harness));
  const passing = fusesFrom(harness, ends, false);
  const ratings = passing.length > 0 ? passing : fusesFrom(harness, ends, true);
  return ratings.length === 0 ? USUAL_AMPS : Math.min(...ratings);
}

/** Ratings of the fuses that are met first, A. */
function fusesFrom(harness: Harness, from: readonly string[], throughLoads: boolean): readonly number[] {
  const seen = new Set<string>(from);
  const ratings: number[] = [];
  for (const here of seen)
    for (const l of linksAt(harness, here)) {
      const part = lookupOf(harness).parts.get(l.id);
      if (part?.kind === "fuse") ratings.push(part.ratingAmps);
      else if (l.kind !== "ground" && (throughLoads || !consumes(l))) {
        const next = l.a === here ? l.b : l.a;
        if (next !== batteryPositive(harness) && next !== batteryNegative(harness)) seen.add(next);
      }
    }
  return ratings;
}
