import type { Harness } from "../harness/index.ts";
import { neighboursAtRisk } from "../repair/index.ts";
import type { JobView } from "./fold.ts";

/** Damage that does not stop at one wire: what lies beside it was rubbed, heated or wetted too. */
const SPREADS: readonly string[] = ["chafed through", "burnt", "melted", "water", "green copper"];

/** What is still to be said of the wires beside a repaired place. */
export interface NeighboursLeft {
  readonly of: string;
  /** Wires nobody has said anything of, and nobody has said why. */
  readonly untold: readonly string[];
  /** Nicked ones that were not mended. */
  readonly nicked: readonly string[];
}

/** Repaired places whose damage spreads, with the neighbours that are still open; those with none are left out. */
export function neighboursLeft(harness: Harness, view: JobView): readonly NeighboursLeft[] {
  const mends = view.mends.filter((m) => m.struck === undefined);
  const mended = new Set(mends.map((m) => m.data.at));
  return mends.flatMap(({ data: { at, damage } }) => {
    if (damage === undefined || !SPREADS.includes(damage.kind)) return [];
    const beside = neighboursAtRisk({ harness, at, segment: damage.segment || undefined, suspected: new Map(), volts: new Map() });
    const said = view.neighbours.find((n) => n.of === at);
    const told = new Map(said?.told.map((t) => [t.wire, t.verdict]));
    const untold =
      said?.left === undefined ? beside.flatMap(({ wire }) => (told.has(wire.id) || mended.has(wire.id) ? [] : [wire.id])) : [];
    const nicked = [...told].flatMap(([wire, verdict]) => (verdict === "nicked" && !mended.has(wire) ? [wire] : []));
    return untold.length + nicked.length === 0 ? [] : [{ of: at, untold, nicked }];
  });
}
