import { cavityIn } from "./names.ts";
import type { Component, Harness, PinRef, Wire } from "./schema.ts";

/** Finding things by name without walking the lists: a harness is immutable, so that what was once gathered from it holds. */
export interface Lookup {
  readonly parts: ReadonlyMap<string, Component>;
  readonly wires: ReadonlyMap<string, Wire>;
  /** Every pin at which a wire or a direct joint ends. */
  readonly ends: readonly PinRef[];
  /** Cavity numbers in use by connector, in counting order. */
  readonly cavities: ReadonlyMap<string, readonly string[]>;
}

const known = new WeakMap<Harness, Lookup>();

/** Parts, wires and segments of loom by name; made once for a harness. */
export function lookupOf(harness: Harness): Lookup {
  const found = known.get(harness);
  if (found !== undefined) return found;
  const ends = [...harness.wires, ...harness.joints].flatMap((line) => [line.from, line.to]);
  const parts = new Map(harness.components.map((c) => [c.id, c]));
  const used = new Map<string, Set<string>>();
  for (const end of ends) {
    if (parts.get(end.component)?.kind !== "connector") continue;
    const set = used.get(end.component) ?? new Set();
    used.set(end.component, set.add(cavityIn(end.pin)));
  }
  const cavities = new Map([...used].map(([id, set]) => [id, [...set].sort((a, b) => a.localeCompare(b, "en", { numeric: true }))]));
  const made: Lookup = { parts, wires: new Map(harness.wires.map((w) => [w.id, w])), ends, cavities };
  known.set(harness, made);
  return made;
}
