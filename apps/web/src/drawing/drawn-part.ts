import { type Harness, partNameIn, sliceOf } from "@rheonom/core/harness";

/** Larger circuits are drawn in slices, parts. */
const DRAWN_WHOLE = 40;

const made = new WeakMap<Harness, Map<string, Harness>>();

/** What is drawn of a circuit for these loads: all of a small one, of a whole vehicle only what matters. The same question gives the same object. */
export function drawnPart(harness: Harness, loads: readonly string[]): Harness {
  if (harness.components.length <= DRAWN_WHOLE) return harness;
  const parts = [...new Set(loads.map((l) => partNameIn(l)))];
  const known = made.get(harness) ?? new Map<string, Harness>();
  made.set(harness, known);
  const key = parts.join("+");
  const found = known.get(key) ?? sliceOf(harness, parts, { sharers: false }).harness;
  known.set(key, found);
  return found;
}
