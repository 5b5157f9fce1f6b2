import type { VehicleState } from "../../circuit/index.ts";
import { viewOf, type View } from "../../diagnosis/index.ts";
import type { Harness } from "../../harness/index.ts";

const views = new WeakMap<Harness, Map<string, View | undefined>>();

/** What all parts of a vehicle do in a state; made once. Undefined where the good circuit has no answer in it. */
export function wholeView(harness: Harness, state: VehicleState): View | undefined {
  const known = views.get(harness) ?? new Map<string, View | undefined>();
  views.set(harness, known);
  const key = JSON.stringify(state);
  if (!known.has(key)) {
    const parts = harness.components.flatMap((c) => (c.kind === "load" || c.kind === "device" ? [c.id] : []));
    known.set(key, viewOf(harness, state, [], parts));
  }
  return known.get(key);
}
