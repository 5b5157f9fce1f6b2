import { type Harness, partNameIn, sliceOf } from "@rheonom/core/harness";

/** Larger circuits are drawn in slices, parts. */
const DRAWN_WHOLE = 40;

/** What is drawn of a circuit for a question. */
export interface DrawnPart {
  readonly harness: Harness;
  /** Parts and wires that only share a node with what is asked about. */
  readonly muted: ReadonlySet<string>;
}

const made = new WeakMap<Harness, Map<string, DrawnPart>>();

/** What is drawn of a circuit for these loads: all of a small one, of a whole vehicle only what matters, and with `sharers` what hangs on the same nodes. The same question gives the same object. */
export function drawnPart(harness: Harness, loads: readonly string[], sharers = false): DrawnPart {
  const parts = [...new Set(loads.map((l) => partNameIn(l)))];
  const known = made.get(harness) ?? new Map<string, DrawnPart>();
  made.set(harness, known);
  const key = `${parts.join("+")} ${sharers}`;
  const found = known.get(key) ?? draw(harness, parts, sharers);
  known.set(key, found);
  return found;
}

function draw(harness: Harness, parts: readonly string[], sharers: boolean): DrawnPart {
  if (harness.components.length <= DRAWN_WHOLE) return { harness, muted: new Set() };
  const own = sliceOf(harness, parts, { sharers: false }).harness;
  if (!sharers) return { harness: own, muted: new Set() };
  const all = sliceOf(harness, parts, { sharers: true }).harness;
  const named = (h: Harness): string[] => [...h.components.map((c) => c.id), ...h.wires.map((w) => w.id)];
  const kept = new Set(named(own));
  return { harness: all, muted: new Set(named(all).filter((id) => !kept.has(id))) };
}
