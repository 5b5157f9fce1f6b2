import { cavitiesOf, type Harness, type Link, linkOf, linksOf, lookupOf, type PlaceId } from "../harness/index.ts";

/** Two things that lie beside each other, so that one may come to touch the other. */
export interface Touching {
  readonly first: Link;
  readonly second: Link;
  /** Where on the first and on the second. */
  readonly place: PlaceId;
  readonly other: PlaceId;
  /** "cavities" of one connector, or the name of a segment of loom. */
  readonly how: string;
}

/** Neighbours in each loom segment and in each connector. Each pair once: the first segment that two wires share counts. */
export function neighboursOf(harness: Harness): Touching[] {
  const found: Touching[] = [];
  const paired = new Set<string>();
  const bySegment = new Map<string, Link[]>();
  for (const link of linksOf(harness)) {
    if (link.kind !== "wire") continue;
    for (const segment of lookupOf(harness).wires.get(link.id)?.segments ?? [])
      bySegment.set(segment, [...(bySegment.get(segment) ?? []), link]);
  }
  for (const [segment, links] of bySegment) {
    for (const [i, first] of links.entries()) {
      for (const second of links.slice(i + 1)) {
        const key = `${first.id} ${second.id}`;
        // Wires that meet at a place are one node there; touching changes nothing.
        if (paired.has(key) || [first.a, first.b].some((p) => p === second.a || p === second.b)) continue;
        paired.add(key);
        found.push({ first, second, place: first.b, other: second.b, how: segment });
      }
    }
  }
  for (const part of harness.components) {
    if (part.kind !== "connector") continue;
    const numbers = cavitiesOf(harness, part.id);
    numbers.slice(1).forEach((n, i) => {
      if (Number(n) !== Number(numbers[i]!) + 1) return;
      const [first, second] = [linkOf(harness, `${part.id}.${numbers[i]!}`)!, linkOf(harness, `${part.id}.${n}`)!];
      found.push({ first, second, place: first.a, other: second.a, how: "cavities" });
    });
  }
  return found;
}
