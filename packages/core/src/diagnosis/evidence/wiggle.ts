import { medianOf, spreadOf } from "../../quantity/index.ts";

/** A value at a moment, s after the session began. */
export interface Sample {
  readonly atS: number;
  readonly value: number;
}

/** From here on this is moved; "" means hands off. */
export interface Mark {
  readonly atS: number;
  readonly at: string;
}

/** Between which values readings went, and their mean, in the unit of the samples. */
export interface Span {
  readonly low: number;
  readonly high: number;
  readonly mean: number;
}

/** What a session says of one spot that was moved. */
export interface Moved {
  readonly at: string;
  /** How long it was moved, s. */
  readonly seconds: number;
  /** How often the reading left its calm band meanwhile. */
  readonly excursions: number;
  /** Farthest from calm, in the unit of the samples. */
  readonly farthest: number;
  /** Of what was read meanwhile; undefined where nothing was. */
  readonly span: Span | undefined;
  /** Undefined where it was not moved long enough. */
  readonly word: "moves" | "steady" | undefined;
}

export interface WiggleJudged {
  /** Middle of the readings with hands off, and the half-width of the band around it that counts as calm. */
  readonly calm: number;
  readonly band: number;
  /** With hands off; undefined where nothing was read so. */
  readonly still: Span | undefined;
  readonly spots: readonly Moved[];
  /** Excursions with hands off: it comes without being moved there. */
  readonly unmoved: number;
}

/** Half-width of the calm band: so many times the spread with hands off, and never less than a share of the value or this much. */
const SPREADS = 6;
const LEAST_SHARE = 0.03;
const LEAST = 0.05;
/** A spot must be moved for so long before it counts as steady, s. */
const LONG_ENOUGH_S = 2;

/**
 * Finds out what was being moved when a reading left its calm band. Calm is the median of what was read with hands off, its spread the median absolute deviation, so that a few
 * jumps do not widen the band. An excursion counts for the spot that was moved when it began. Samples and marks in order of time; undefined with fewer than three samples.
 */
export function judgeWiggle(samples: readonly Sample[], marks: readonly Mark[]): WiggleJudged | undefined {
  if (samples.length < 3) return undefined;
  const spotAt = (t: number): string => marks.findLast((m) => m.atS <= t)?.at ?? "";
  const still = samples.filter((s) => spotAt(s.atS) === "").map((s) => s.value);
  const base = still.length >= 3 ? still : samples.map((s) => s.value);
  const calm = medianOf(base);
  const band = Math.max(SPREADS * spreadOf(base), LEAST_SHARE * Math.abs(calm), LEAST);
  const end = samples.at(-1)!.atS;
  const found = new Map<string, { seconds: number; excursions: number; farthest: number }>();
  const entry = (at: string): { seconds: number; excursions: number; farthest: number } => {
    const made = found.get(at) ?? { seconds: 0, excursions: 0, farthest: 0 };
    found.set(at, made);
    return made;
  };
  marks.forEach((m, i) => (entry(m.at).seconds += Math.max(0, Math.min(end, marks[i + 1]?.atS ?? end) - m.atS)));
  let blamed: string | undefined;
  for (const { atS, value } of samples) {
    const off = value - calm;
    if (Math.abs(off) <= band) {
      blamed = undefined;
      continue;
    }
    if (blamed === undefined) {
      blamed = spotAt(atS);
      entry(blamed).excursions++;
    }
    const there = entry(blamed);
    if (Math.abs(off) > Math.abs(there.farthest)) there.farthest = off;
  }
  const spanAt = (at: string): Span | undefined => spanOf(samples.filter((s) => spotAt(s.atS) === at).map((s) => s.value));
  const spots = [...found].flatMap(([at, m]): Moved[] =>
    at === "" ? [] : [{ at, ...m, span: spanAt(at), word: m.excursions > 0 ? "moves" : m.seconds >= LONG_ENOUGH_S ? "steady" : undefined }],
  );
  return { calm, band, still: spanAt(""), spots, unmoved: found.get("")?.excursions ?? 0 };
}

function spanOf(values: readonly number[]): Span | undefined {
  if (values.length === 0) return undefined;
  return { low: Math.min(...values), high: Math.max(...values), mean: values.reduce((sum, v) => sum + v, 0) / values.length };
}
