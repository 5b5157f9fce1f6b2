import { createHash } from "node:crypto";
import type { Weights } from "@rheonom/core/practice";
import { lastUsed } from "@rheonom/core/quantity";
import type { DebriefMade } from "../demo/debrief.ts";
import type { HiddenOrNone } from "../demo/stand-in.ts";
import type { Heavy } from "../heavy/pool.ts";

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
        const asked = heavy.runWhile(
          { signal: new AbortController().signal, onTold: (share) => void shares.set(jobId, Number(share)) },
          "debrief",
          log,
          hidden,
          weights,
        );
        const whole = asked.then((debrief) => debrief!);
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
