import { cavityIn, partOfPlace, wiresAt, type Harness } from "../../harness/index.ts";
import type { Evidence } from "./evidence.ts";
import type { Observable } from "./kinds/index.ts";

/** What is compared where a lead goes on: the wire there and the one that the diagram names. */
export const WIRE_COLOUR = "wire colour as drawn";

/** Colours drawn at a place, "WH/RD"; none where it is no plug or nobody gave them. */
export function coloursAt(harness: Harness, place: string): readonly string[] {
  if (partOfPlace(harness, place)?.kind !== "connector") return [];
  return wiresAt(harness, place).flatMap((w) => w.colour ?? []);
}

/** Places at which leads of a test stand that have a wire of a given colour. */
export const colouredLeads = (harness: Harness, o: Observable): readonly string[] =>
  ("red" in o && "black" in o ? [o.red, o.black] : []).filter((p) => coloursAt(harness, p).length > 0);

/** A plug's cavity with both of its sides, "C1.2"; any other place by itself. */
const cavityOf = (harness: Harness, place: string): string => (partOfPlace(harness, place)?.kind === "connector" ? cavityIn(place) : place);

/** Cavities in which another wire was found than is drawn. */
export const othersFound = (harness: Harness, evidence: readonly Evidence[]): ReadonlySet<string> =>
  new Set(
    evidence.flatMap(({ observe: o, result: r }) =>
      o.kind === "check" && o.what === WIRE_COLOUR && r.kind === "word" && r.word === "otherwise" ? [cavityOf(harness, o.at)] : [],
    ),
  );

/** Whether a lead stands at one of these cavities: nobody knows of which wire it tells. */
export const standsAt = (harness: Harness, cavities: ReadonlySet<string>, o: Observable): boolean =>
  cavities.size > 0 && "red" in o && "black" in o && [o.red, o.black].some((p) => cavities.has(cavityOf(harness, p)));
