import { heldOn } from "../../instruments/index.ts";
import { faultsOf } from "../hypotheses/space.ts";
import type { Diagnosis, Question } from "./diagnose.ts";

/** A winding that is being cooked, and what is supposed to hold it on. */
export interface Overheating {
  readonly part: string;
  readonly amps: number;
  readonly because: string;
  readonly words: string;
}

/** Suspects of at least this probability are asked for it, so many at most. */
const LIKELY = 0.1;
const MOST_ASKED = 3;

/** Windings that one of the likeliest suspects holds on in the state of the complaint: solved in full for each. */
export function overheatingOf(d: Diagnosis, { harness, state }: Question): readonly Overheating[] {
  const leaders = d.belief.alive
    .filter((h) => d.belief.posterior(h) > LIKELY)
    .sort((p, q) => d.belief.posterior(q) - d.belief.posterior(p))
    .slice(0, MOST_ASKED);
  const found = new Map<string, Overheating>();
  for (const h of leaders)
    for (const { part, amps } of heldOn(harness, state, faultsOf(d.belief.bestAt(h))))
      if (!found.has(part))
        found.set(part, {
          part,
          amps,
          because: h.fault.link,
          words: `${part} would be held on by this (${h.fault.words}): ${amps.toFixed(1)} A all the time, no release, only heat. Key off between tests, so that it is not burnt.`,
        });
  return [...found.values()];
}
