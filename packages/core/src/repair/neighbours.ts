import {
  besideCavity,
  busMap,
  cavityIn,
  faceOf,
  lookupOf,
  neighboursOf,
  partNameIn,
  pinNameIn,
  placeOf,
  type Harness,
  type Wire,
} from "../harness/index.ts";

/** A wire that lies beside a damaged place. */
export interface Neighbour {
  readonly wire: Wire;
  /** The higher, the sooner it is damaged too; 1 for one that only runs through the same segment. */
  readonly risk: number;
  /** Why, in words. */
  readonly why: readonly string[];
}

/** V from which two conductors that touch are a fault of their own. */
const APART_VOLTS = 1;

export interface NeighbourQuestion {
  readonly harness: Harness;
  /** The wire, cavity or connector that is damaged. */
  readonly at: string;
  /** Segment of loom in which it is; every one the wire runs through when left out. */
  readonly segment?: string | undefined;
  /** Share of the belief by element. */
  readonly suspected: ReadonlyMap<string, number>;
  /** What each place has on a sound vehicle in the state of the complaint, V. */
  readonly volts: ReadonlyMap<string, number | undefined>;
}

/**
 * The wires beside a damaged place, the most endangered first: those of its segment of loom, or of the cavities around it. More endangered are wires that end at the same connector (they lie in
 * one sheath), that stand at another potential (feed beside ground: together they are a short), the other line of a bus pair, and what is suspected already.
 */
export function neighboursAtRisk(question: NeighbourQuestion): readonly Neighbour[] {
  const { harness, at } = question;
  const { wires, parts } = lookupOf(harness);
  const own = wires.get(at);
  const beside = own !== undefined ? inSegment(question) : parts.get(partNameIn(at))?.kind === "connector" ? aroundCavity(harness, at) : [];
  const ownVolts = own === undefined ? (question.volts.get(at) ?? question.volts.get(`${at}a`)) : voltsOf(question, own);
  const sheath = new Set(own === undefined ? [] : connectorsOf(harness, own));
  const bus = own === undefined ? undefined : busPairOf(harness, own);
  return beside
    .map(({ wire, where }): Neighbour => {
      const volts = voltsOf(question, wire);
      const shared = connectorsOf(harness, wire).filter((c) => sheath.has(c));
      const suspected = question.suspected.get(wire.id) ?? 0;
      const apart = ownVolts !== undefined && volts !== undefined && Math.abs(volts - ownVolts) >= APART_VOLTS;
      const why = [
        { weight: 1, words: where },
        ...(shared.length > 0 ? [{ weight: 1, words: `same sheath to ${shared[0]!}` }] : []),
        ...(apart ? [{ weight: 1.5, words: `${Math.abs(volts - ownVolts).toFixed(1)} V apart` }] : []),
        ...(bus !== undefined && busPairOf(harness, wire) === bus ? [{ weight: 2, words: "other line of the same bus" }] : []),
        ...(suspected >= 0.01 ? [{ weight: 3 * suspected + 0.5, words: `suspected already, ${Math.round(100 * suspected)} %` }] : []),
      ];
      return { wire, risk: why.reduce((sum, w) => sum + w.weight, 0), why: why.map((w) => w.words) };
    })
    .sort((p, q) => q.risk - p.risk || p.wire.id.localeCompare(q.wire.id, "en", { numeric: true }));
}

const inSegment = ({ harness, at, segment }: NeighbourQuestion): readonly { readonly wire: Wire; readonly where: string }[] =>
  neighboursOf(harness, at).flatMap(({ wire, segments }) => {
    const shared = segment === undefined ? segments : segments.filter((s) => s === segment);
    return shared.length === 0 ? [] : [{ wire, where: `in ${shared.join(", ")}` }];
  });

/** Wires of the cavities around one, and the other wires of a connector where no cavity is named. */
function aroundCavity(harness: Harness, at: string): readonly { readonly wire: Wire; readonly where: string }[] {
  const connector = partNameIn(at);
  const pin = pinNameIn(at);
  const cavity = /[ab]$/.test(pin) ? cavityIn(at).slice(connector.length + 1) : pin;
  const found = new Map<string, { readonly wire: Wire; readonly where: string }>();
  for (const half of ["a", "b"] as const) {
    const face = faceOf(harness, connector, half, "wire side");
    const around = cavity === "" ? face.rows.flat() : besideCavity(face, cavity);
    for (const c of around)
      for (const wire of c.wires) if (!found.has(wire.id)) found.set(wire.id, { wire, where: `cavity ${c.number}, side ${half}` });
  }
  return [...found.values()];
}

const voltsOf = ({ harness, volts }: NeighbourQuestion, wire: Wire): number | undefined =>
  volts.get(placeOf(harness, wire.from)) ?? volts.get(placeOf(harness, wire.to));

const connectorsOf = (harness: Harness, wire: Wire): readonly string[] =>
  [wire.from.component, wire.to.component].filter((id) => lookupOf(harness).parts.get(id)?.kind === "connector");

/** Lines of a bus that come in pairs. */
const PAIRED: readonly string[] = ["can high", "can low"];

const pairs = new WeakMap<Harness, ReadonlyMap<string, string>>();

/** The pair that a wire is one line of, named by the modules on it; undefined for any other wire. */
export function busPairOf(harness: Harness, wire: Wire): string | undefined {
  const known =
    pairs.get(harness) ??
    new Map(
      busMap(harness).flatMap((b) => {
        const name = [...new Set(b.members.map((p) => partNameIn(p)))].sort().join("+");
        return PAIRED.includes(b.sort) ? b.wires.map((w) => [w, name] as const) : [];
      }),
    );
  pairs.set(harness, known);
  return known.get(wire.id);
}
