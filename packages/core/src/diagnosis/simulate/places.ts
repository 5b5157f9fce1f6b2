import type { SupposedFault } from "../../faults/index.ts";
import {
  allPlaces,
  batteryNegative,
  type Harness,
  isInnerPlace,
  linkOf,
  moduleGround,
  moduleSupply,
  onlyPlace,
  partOfPlace,
  type PlaceId,
} from "../../harness/index.ts";

/** Places at which a fault bites: a short stands somewhere. */
export function placesOfFault(f: SupposedFault): readonly string[] {
  const fault = f.faultAt(f.severities[0]!);
  if (fault.kind === "splice") return [fault.splice];
  return fault.kind === "across" ? [fault.from, fault.to] : "place" in fault ? [fault.place] : [];
}

/** Where leads may go: every place of the links in question, of the parts looked at, and what is inside their modules. */
export function placesOfInterest(harness: Harness, faults: readonly SupposedFault[], parts: ReadonlySet<string>): readonly PlaceId[] {
  const found = new Set<PlaceId>([batteryNegative(harness)]);
  for (const f of faults) {
    const link = linkOf(harness, f.link);
    if (link !== undefined) found.add(link.a).add(link.b);
    for (const p of placesOfFault(f)) if (!isInnerPlace(p)) found.add(onlyPlace(p));
  }
  for (const p of allPlaces(harness)) {
    const part = partOfPlace(harness, p);
    if (part === undefined || parts.has(part.id) || part.kind === "battery") found.add(p);
  }
  for (const part of harness.components)
    if (part.kind === "device" && part.device === "module") found.add(moduleGround(part.id)).add(moduleSupply(part.id));
  return [...found];
}

/** Places whose pulses matter: the ends of the links on the way. */
export const endsOf = (harness: Harness, links: Iterable<string>): readonly PlaceId[] => [
  ...new Set(
    [...links].flatMap((id) => {
      const link = linkOf(harness, id);
      return link === undefined ? [] : [link.a, link.b];
    }),
  ),
];
