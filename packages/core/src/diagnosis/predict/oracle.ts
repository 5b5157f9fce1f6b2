import type { VehicleState } from "../../circuit/index.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import type { Predicted } from "../evidence/predicted.ts";
import type { Hypothesis, HypothesisSpace } from "../hypotheses/space.ts";
import type { Row } from "../simulate/row.ts";
import type { View } from "../simulate/view.ts";
import { predictIn } from "./predictors.ts";
import { createRefinements } from "./refinements.ts";
import { createRowStore, extentOf, onlyAt } from "./row-store.ts";

/** A thing to observe in a state. */
export interface Test {
  readonly state: VehicleState;
  readonly observe: Observable;
}

/** Answers what a hypothesis shows in a test, with everything that was computed once kept. */
export interface Oracle {
  readonly space: HypothesisSpace;
  /** What was computed; oracles of one vehicle that differ in what they weigh share it. */
  readonly computed: object;
  /** `of` undefined: the sound vehicle. `exact` weighs neighbouring severities too. */
  readonly predict: (test: Test, of: Hypothesis | undefined, exact?: boolean) => Predicted;
  /** Undefined where the sound circuit has no answer. */
  readonly view: (state: VehicleState) => View | undefined;
  readonly row: (state: VehicleState, of: Hypothesis | undefined) => Row | undefined;
  /** Whether a hypothesis would have to be solved in full, which is deferred: what it shows is not known. */
  readonly isDeferred: (of: Hypothesis) => boolean;
  /** From now on every hypothesis is solved, unless the space is a large one. */
  readonly solveAllDeferred: () => void;
  /** From now on this one is solved in full. */
  readonly solveDeferred: (of: Hypothesis) => void;
  /** A hypothesis at a severity of its own. */
  readonly at: (of: Hypothesis, severity: number) => Hypothesis;
  /** Two faults at once. */
  readonly pairOf: (first: Hypothesis, second: Hypothesis) => Hypothesis;
  /** Whether so much was computed that a new one is better than this. */
  readonly isFull: () => boolean;
  /** Whether it can say something of a place or part. */
  readonly holds: (name: string) => boolean;
}

/** States and refinements that one oracle keeps before it is full. */
const MOST_STATES = 150;
const MOST_REFINED = 60_000;

/** `also`: places and parts that readings stand at although nothing in question leads there; "only these": nothing else is kept of what is computed; `levels`: places whose pulses were looked at. */
export function createOracle(
  space: HypothesisSpace,
  also: readonly string[] = [],
  extent: "only these" | "what is near" = "what is near",
  levels: readonly string[] = [],
): Oracle {
  const refinements = createRefinements(space);
  const rows = createRowStore(space, refinements, extent === "only these" ? onlyAt(space, also, levels) : extentOf(space, also, levels));
  return {
    space,
    computed: rows,
    predict: ({ state, observe }, of, exact = false) => predictIn(rows, state, observe, of, exact),
    view: (state) => rows.shelf(state).view,
    row: (state, of) => rows.row(rows.shelf(state), of),
    isDeferred: rows.isDeferred,
    solveAllDeferred: rows.solveAllDeferred,
    solveDeferred: rows.solveDeferred,
    at: refinements.at,
    pairOf: refinements.pairOf,
    isFull: () => rows.kept() > MOST_STATES || refinements.count() > MOST_REFINED,
    holds: rows.holds,
  };
}

/** The same oracle asked of another space of the same hypotheses in the same order: other priors, another complaint. */
export const askedOf = (oracle: Oracle, space: HypothesisSpace): Oracle => ({ ...oracle, space });
