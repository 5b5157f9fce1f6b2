import { type Fault } from "../circuit/index.ts";
import { describeLink, describePlace, type Harness, type Link, linksOf } from "../harness/index.ts";

export type FaultMode = "open" | "resistance" | "short to ground" | "short to feed" | "shorted inside";

/** A way in which one thing can be wrong, over its severities. */
export interface SupposedFault {
  /** Stable name, such as "W5 resistance". */
  readonly id: string;
  /** What would have to be mended: a wire, cavity, part or ground. */
  readonly link: string;
  readonly mode: FaultMode;
  /** In trade words. */
  readonly words: string;
  /** Ω; a single 0 where the mode has no degree. */
  readonly severitiesOhms: readonly number[];
  /** How likely it is before anything is measured, relative to the others of the circuit; all together they sum to 1. */
  readonly prior: number;
  readonly faultAt: (ohms: number) => Fault;
}

/** Corrosion spans decades, from what a low beam notices to what a meter's microamps do not. Ω. */
const RESISTANCES = [0.05, 0.2, 0.5, 1, 3, 10, 100, 1e4, 1e6];
/** From a dead short to a damp one. Ω. */
const SHORTS = [0.05, 0.5, 2, 20, 500];
const NONE = [0];

/** How often each kind of thing fails in each way, relative. Estimates: joints and grounds that see water lead, wires fail where they rub or flex. */
const WEIGHTS: Record<Link["kind"], Partial<Record<FaultMode, number>>> = {
  wire: { open: 2, resistance: 2, "short to ground": 1.5, "short to feed": 0.3 },
  cavity: { open: 2.5, resistance: 5 },
  joint: { open: 0.5, resistance: 0.5 },
  fuse: { open: 4, resistance: 1 },
  switch: { open: 1.5, resistance: 2.5 },
  ground: { open: 2, resistance: 6 },
  load: { open: 4, resistance: 1, "shorted inside": 1 },
};

/** Every single fault of a circuit, generated from what it is made of. */
export function catalogueOf(harness: Harness): SupposedFault[] {
  const raw = linksOf(harness).flatMap((link) =>
    (Object.entries(WEIGHTS[link.kind]) as [FaultMode, number][]).map(([mode, weight]) => ({ link, mode, weight })),
  );
  const total = raw.reduce((sum, r) => sum + r.weight, 0);
  return raw.map(({ link, mode, weight }) => ({
    id: `${link.id} ${mode}`,
    link: link.id,
    mode,
    words: wordsOf(harness, link, mode),
    severitiesOhms: mode === "open" ? NONE : mode === "resistance" ? RESISTANCES : SHORTS,
    prior: weight / total,
    faultAt: (ohms) => faultOf(link, mode, ohms),
  }));
}

function faultOf(link: Link, mode: FaultMode, ohms: number): Fault {
  switch (mode) {
    case "open":
      return { kind: "open", link: link.id };
    case "resistance":
      return { kind: "series", link: link.id, ohms };
    case "short to ground":
    case "short to feed":
      return { kind: mode, place: link.b, ohms };
    case "shorted inside":
      return { kind: "across", from: link.a, to: link.b, ohms };
  }
}

function wordsOf(harness: Harness, link: Link, mode: FaultMode): string {
  const what = describeLink(harness, link);
  switch (mode) {
    case "open":
      return link.kind === "fuse" ? `${what} blown or missing` : `${what} open`;
    case "resistance":
      return link.kind === "ground" ? `${what} loose or corroded` : `too much resistance in ${what}`;
    case "short to ground":
      return `${what} chafed through to ground near ${describePlace(harness, link.b)}`;
    case "short to feed":
      return `${what} touching a live wire near ${describePlace(harness, link.b)}`;
    case "shorted inside":
      return `${what} shorted inside`;
  }
}
