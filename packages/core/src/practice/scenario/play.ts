import type { Harness } from "../../harness/index.ts";
import type { Complaint } from "../complaint.ts";
import { asBuilt } from "../misdrawn.ts";
import { practise, type Run } from "../technician.ts";
import { chanceOf, type Truth } from "../truth.ts";
import { complaintLeft, type Scenario } from "./scenario.ts";

/** How the simulated technician fared. */
export interface Played {
  /** One for each fault that was sought. */
  readonly runs: readonly Run[];
  /** Whether all that is complained of was found, and nothing else repaired. */
  readonly solved: boolean;
  readonly tests: number;
  /** Of the engine's estimate. */
  readonly minutes: number;
}

/** Lets the simulated technician, who takes the first proposal each time, play a scenario to its end; the same from the same. */
export function playScenario(harness: Harness, scenario: Scenario): Played {
  const { presence, beside, circumstances, seed } = scenario;
  const vehicle = asBuilt(harness, scenario.misdrawn);
  const chance = chanceOf(seed + PLAYER);
  const runs: Run[] = [];
  let left: readonly Truth[] = scenario.truth;
  let complaint: Complaint | undefined = scenario.complaint;
  while (left.length > 0 && complaint !== undefined) {
    const run = practise(harness, left, { chance, presence, complaint, beside, circumstances, vehicle });
    if (run === undefined) break;
    runs.push(run);
    const isFound = (t: Truth): boolean => run.right && (t.fault.link === run.element || t.fault.other === run.element);
    const after = left.filter((t) => !isFound(t));
    if (after.length === left.length) break;
    left = after;
    complaint = complaintLeft(
      harness,
      scenario,
      left.map((t) => t.fault.faultAt(t.severity)),
    );
  }
  const sum = (of: (r: Run) => number): number => runs.reduce((s, r) => s + of(r), 0);
  return { runs, solved: left.length === 0, tests: sum((r) => r.steps.length), minutes: sum((r) => r.minutes) };
}

/** Chance of the player, apart from that of the scenario. */
const PLAYER = 7919;
