import { acrossPlug, lookupOf, type Harness } from "../harness/index.ts";

/** One place in which a vehicle is not as its diagram says. */
export interface Deviation {
  readonly kind: "cavities swapped" | "splice beyond the plug";
  readonly words: string;
  /** Wires that end otherwise than drawn. */
  readonly wires: readonly string[];
  /** The vehicle as it is. */
  readonly vehicle: Harness;
}

type Wire = Harness["wires"][number];
type End = Wire["from"];

/**
 * Vehicles that work and are not as drawn in one place: two wires of a plug in each other's cavity on both of its sides, or a branch that leaves the splice drawn before a plug behind that plug.
 */
export const deviationsOf = (harness: Harness): readonly Deviation[] => [...swapped(harness), ...moved(harness)];

const ends = (w: Wire): readonly End[] => [w.from, w.to];
const isConnector = (harness: Harness, id: string): boolean => lookupOf(harness).parts.get(id)?.kind === "connector";

/** The harness with the ends of wires changed. */
function withEnds(harness: Harness, change: (end: End, wire: Wire) => End): Harness {
  return { ...harness, wires: harness.wires.map((w) => ({ ...w, from: change(w.from, w), to: change(w.to, w) })) };
}

function swapped(harness: Harness): readonly Deviation[] {
  return [...lookupOf(harness).cavities].flatMap(([plug, cavities]) =>
    cavities.slice(1).map((x, i): Deviation => {
      const y = cavities[i]!;
      const other = new Map([x, y].flatMap((c) => ["a", "b"].map((side) => [c + side, (c === x ? y : x) + side] as const)));
      const at = (e: End): boolean => e.component === plug && other.has(e.pin);
      return {
        kind: "cavities swapped",
        words: `${plug}: what is drawn in cavity ${x} is in ${y}, and the other way round`,
        wires: harness.wires.filter((w) => ends(w).some(at)).map((w) => w.id),
        vehicle: withEnds(harness, (e) => (at(e) ? { ...e, pin: other.get(e.pin)! } : e)),
      };
    }),
  );
}

function moved(harness: Harness): readonly Deviation[] {
  const splices = harness.components.filter((c) => c.kind === "splice").map((c) => c.id);
  return splices.flatMap((splice): readonly Deviation[] => {
    const here = harness.wires.filter((w) => ends(w).some((e) => e.component === splice));
    const farEnd = (w: Wire): End => (w.from.component === splice ? w.to : w.from);
    const through = here.find((w) => isConnector(harness, farEnd(w).component));
    const branch = here.find((w) => w !== through && lookupOf(harness).parts.get(farEnd(w).component)?.kind === "load");
    if (through === undefined || branch === undefined) return [];
    const { component, pin } = farEnd(through);
    const beyond = { component, pin: acrossPlug(pin) };
    if (!harness.wires.some((w) => ends(w).some((e) => e.component === beyond.component && e.pin === beyond.pin))) return [];
    return [
      {
        kind: "splice beyond the plug",
        words: `${branch.id} leaves behind ${component} and not at ${splice}`,
        wires: [branch.id, through.id],
        vehicle: withEnds(harness, (e, w) => (w.id === branch.id && e.component === splice ? beyond : e)),
      },
    ];
  });
}
