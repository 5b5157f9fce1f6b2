import type { Fault, VehicleState } from "../../circuit/index.ts";
import type { Harness } from "../../harness/index.ts";
import { predictAll } from "../../instruments/index.ts";
import { lastUsed } from "../../quantity/index.ts";

const known = new WeakMap<Harness, Map<string, ReturnType<typeof predictAll>>>();
const KEPT = 12;

/** What a circuit has everywhere, kept for the readings that follow in the same state. `sourceVolts`: measured at the battery. */
export function predictionIn(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  sourceVolts: number | undefined,
): ReturnType<typeof predictAll> {
  const byQuestion = known.get(harness) ?? new Map<string, ReturnType<typeof predictAll>>();
  known.set(harness, byQuestion);
  const key = JSON.stringify([state, faults, sourceVolts ?? null]);
  return lastUsed(byQuestion, key, KEPT, () => predictAll(harness, state, faults, { sourceVolts }));
}
