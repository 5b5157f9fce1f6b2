import type { Fault } from "../../circuit/index.ts";
import { heaviestFor } from "../proof/enough.ts";
import type { Diagnosis } from "./diagnose.ts";
import { faultsOf } from "../hypotheses/space.ts";
import { LEFT, severityWords } from "./explain.ts";

/** A suspect with what is supposed of it at its likeliest degree, to be put into the circuit. */
export interface Leading {
  readonly element: string;
  /** "C5.3 about 30 kΩ", "M3 dead". */
  readonly words: string;
  readonly probability: number;
  readonly faults: readonly Fault[];
}

/** The likeliest suspects, at most so many, each as it would be in the circuit. */
export function leadingOf({ belief, oracle }: Diagnosis, most: number): readonly Leading[] {
  return [...oracle.space.repairs]
    .filter((r) => belief.repairs[r.index]! > LEFT)
    .sort((p, q) => belief.repairs[q.index]! - belief.repairs[p.index]!)
    .slice(0, most)
    .flatMap((r): Leading[] => {
      const heaviest = heaviestFor(belief, r, oracle);
      if (heaviest === undefined) return [];
      const best = belief.bestAt(heaviest);
      return [
        {
          element: r.element,
          words: `${r.element} ${severityWords(best) ?? best.fault.mode}`,
          probability: Math.min(1, belief.repairs[r.index]!),
          faults: faultsOf(best),
        },
      ];
    });
}
