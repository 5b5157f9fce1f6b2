import { createHash } from "node:crypto";
import { STEPS_SHARE, type Weights } from "@rheonom/core/practice";
import { lastUsed } from "@rheonom/core/quantity";
import type { DebriefMade } from "../demo/debrief.ts";
import type { HiddenOrNone } from "../demo/stand-in.ts";
import type { Heavy, Waiting } from "../heavy/pool.ts";

export interface Debriefs {
  /** Works one out, or gives the one of the same log. Rejects with what the task rejects with. */
  readonly of: (jobId: string, log: Uint8Array, hidden: HiddenOrNone, weights: Weights) => Promise<DebriefMade>;
  /** How much of a job's debrief is worked out, 0 to 1; 0 where none is asked for. */
  readonly share: (jobId: string) => number;
}

/** Debriefs that are kept: those of a class. */
const MOST_KEPT = 30;

/** Each debrief is worked out once for its log, however many ask for it. */
export function createDebriefs(heavy: Heavy): Debriefs {
  const made = new Map<string, Promise<DebriefMade>>();
  const shares = new Map<string, number>();
  return {
    share: (jobId) => shares.get(jobId) ?? 0,
    of: (jobId, log, hidden, weights) => {
      const key = createHash("sha256").update(log).update(JSON.stringify(weights)).digest("hex");
      return lastUsed(made, key, MOST_KEPT, () => {
        const halves = { walk: 0, plan: 0 };
        const waiting = (half: keyof typeof halves): Waiting => ({
          signal: new AbortController().signal,
          onTold: (share) => {
            halves[half] = Number(share);
            shares.set(jobId, STEPS_SHARE * halves.walk + (1 - STEPS_SHARE) * halves.plan);
          },
        });
        const both = Promise.all([
          heavy.runWhile(waiting("walk"), "debriefWalk", log, hidden),
          heavy.runWhile(waiting("plan"), "debriefPlan", log, hidden),
        ]);
        const whole = both.then(([walked, plan]) => heavy.run("debrief", log, hidden, { walked: walked!, plan }, weights));
        whole
          .finally(() => shares.delete(jobId))
          .catch(() => {
            made.delete(key);
          });
        return whole;
      });
    },
  };
}
