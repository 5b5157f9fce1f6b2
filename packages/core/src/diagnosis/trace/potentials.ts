/** A voltage reading as evidence: red minus black. */
export interface VoltFact {
  readonly id: string;
  readonly red: string;
  readonly black: string;
  readonly volts: number;
  /** Value of the last digit shown, V. */
  readonly resolutionVolts: number;
}

/** How two places differ according to the readings. */
export interface Difference {
  readonly volts: number;
  readonly uncertaintyVolts: number;
  /** Readings that it rests on. */
  readonly readings: readonly string[];
}

export interface Conflict {
  readonly reading: string;
  /** What the other readings say it should show, V. */
  readonly expectedVolts: number;
}

/** Gain error of a usual meter, as a share, and error of the last digits, in counts. */
const GAIN = 0.005;
const COUNTS = 2;

interface Edge {
  readonly to: string;
  /** Potential here minus potential there, V. */
  readonly volts: number;
  readonly fact: VoltFact;
}

/** Potentials joined up from readings, like a survey from height differences. */
export interface Potentials {
  /** Undefined when no chain of readings joins the two places. */
  readonly difference: (from: string, to: string) => Difference | undefined;
  /** Older readings that newer ones contradict. */
  readonly conflicts: readonly Conflict[];
  readonly facts: readonly VoltFact[];
}

/** `facts` in order of time. Of two readings of the same pair the later counts; a contradicted reading is left out. */
export function joinPotentials(facts: readonly VoltFact[]): Potentials {
  const edges = new Map<string, Edge[]>();
  const conflicts: Conflict[] = [];
  const kept: VoltFact[] = [];
  const pairs = new Set<string>();

  /** Fewest readings first, so that a direct drop beats a difference of two long ones. */
  function difference(from: string, to: string): Difference | undefined {
    if (from === to) return { volts: 0, uncertaintyVolts: 0, readings: [] };
    const seen = new Set([from]);
    let front: { at: string; volts: number; facts: VoltFact[] }[] = [{ at: from, volts: 0, facts: [] }];
    while (front.length > 0) {
      const next: typeof front = [];
      for (const here of front) {
        for (const edge of edges.get(here.at) ?? []) {
          if (seen.has(edge.to)) continue;
          seen.add(edge.to);
          const step = { at: edge.to, volts: here.volts + edge.volts, facts: [...here.facts, edge.fact] };
          if (edge.to === to) return differenceOf(step.volts, step.facts);
          next.push(step);
        }
      }
      front = next;
    }
    return undefined;
  }

  for (const fact of [...facts].reverse()) {
    const pair = [fact.red, fact.black].sort().join("~");
    if (fact.red === fact.black || pairs.has(pair)) continue;
    pairs.add(pair);
    const known = difference(fact.red, fact.black);
    if (known !== undefined && Math.abs(known.volts - fact.volts) > known.uncertaintyVolts + COUNTS * fact.resolutionVolts + 0.05) {
      conflicts.push({ reading: fact.id, expectedVolts: known.volts });
      continue;
    }
    kept.push(fact);
    edges.set(fact.red, [...(edges.get(fact.red) ?? []), { to: fact.black, volts: fact.volts, fact }]);
    edges.set(fact.black, [...(edges.get(fact.black) ?? []), { to: fact.red, volts: -fact.volts, fact }]);
  }
  return { difference, conflicts, facts: kept.reverse() };
}

/** One meter took all readings, so its gain error scales the difference; the last digits add up as independent errors. */
function differenceOf(volts: number, facts: readonly VoltFact[]): Difference {
  const counts = Math.hypot(...facts.map((f) => COUNTS * f.resolutionVolts));
  return { volts, uncertaintyVolts: GAIN * Math.abs(volts) + counts, readings: facts.map((f) => f.id) };
}
