import type { Fault } from "../circuit/index.ts";
import { cavityIn, type Harness, lookupOf, partNameIn, wiresAt } from "../harness/index.ts";

/** Everything whose mending ends a fault: where it is, and where something touches what it should not, the cavity and the wires there, on either side. */
export function placesOfFault(harness: Harness, fault: Fault): readonly string[] {
  const touching = (place: string): readonly string[] => [
    place,
    ...(lookupOf(harness).parts.get(partNameIn(place))?.kind === "connector" ? [cavityIn(place)] : []),
    ...wiresAt(harness, place).map((w) => w.id),
  ];
  switch (fault.kind) {
    case "open":
    case "series":
      return [fault.link];
    case "short to ground":
    case "short to feed":
      return touching(fault.place);
    case "across":
      return [...touching(fault.from), ...touching(fault.to)];
    // A part inside a device is mended by mending or changing the device.
    case "stuck":
      return [partNameIn(fault.link)];
    case "settings":
      return [fault.component];
    case "splice":
      return [fault.splice];
    case "lead":
      return [fault.lead];
  }
}

/** Whether mending what is named ends a fault: the part itself, the connector around it, a side or blade of it, or a wire that touches something there. */
export const endsFault = (harness: Harness, fault: Fault, mended: string): boolean =>
  placesOfFault(harness, fault).some((place) => {
    const [faulty, named] = [place.toLowerCase(), mended.trim().toLowerCase()];
    const within = named.startsWith(faulty) && /^(\.\w+|[ab])$/.test(named.slice(faulty.length));
    return named === faulty || faulty.startsWith(`${named}.`) || within;
  });

/** "C5.3 open", "30 kΩ in C3.1": what was wrong, once it may be told. */
export function faultWords(fault: Fault, ohms: (value: number) => string): string {
  switch (fault.kind) {
    case "open":
      return `${fault.link}: open circuit`;
    case "series":
      return `${fault.link}: high resistance, ${ohms(fault.ohms)}`;
    case "short to ground":
      return `${fault.place}: short to ground`;
    case "short to feed":
      return `${fault.place}: short to supply`;
    case "across":
      return `${fault.from} and ${fault.to}: short between wires`;
    case "stuck":
      return `${fault.link}: stuck ${fault.closed ? "closed" : "open"}`;
    case "settings":
      return `${fault.component}: defective`;
    case "splice":
      return `${fault.splice}: splice with high resistance, ${ohms(fault.ohms)}`;
    case "lead":
      return `${fault.lead} lead of the meter`;
  }
}
