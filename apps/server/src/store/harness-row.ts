import type { Harness } from "@rheonom/core/harness";
import type { HarnessCounts } from "@rheonom/contract/light";

/** A version of a vehicle's wiring on its way into the store. The wiring travels as text, which costs nothing from thread to thread. */
export interface NewVersion {
  readonly name: string;
  readonly counts: HarnessCounts;
  /** The harness as JSON. */
  readonly json: string;
  /** The version it was made from; 0 for a new vehicle. */
  readonly basedOn: number;
  readonly by: string;
  readonly note: string;
  readonly at: Date;
  readonly demo?: boolean;
}

const countsOf = (h: Harness): HarnessCounts => ({
  wires: h.wires.length,
  parts: h.components.length,
  grounds: h.components.filter((c) => c.kind === "ground").length,
  fuses: h.components.filter((c) => c.kind === "fuse" || (c.kind === "device" && c.device === "relay")).length,
  modules: h.components.filter((c) => c.kind === "device" && c.device === "module").length,
});

/** What the row of a version says of its wiring. The harness must be free of errors. */
export const harnessRow = (harness: Harness): Pick<NewVersion, "name" | "counts" | "json"> => ({
  name: harness.name,
  counts: countsOf(harness),
  json: JSON.stringify(harness),
});
