import type { Circumstance } from "../diagnosis/index.ts";
import { toldOfDigest, type JobDigest } from "./digest.ts";

/** What a job is compared by. */
export interface CaseFeatures extends Pick<JobDigest, "vehicle" | "registration" | "words" | "wiring"> {
  readonly parts: readonly string[];
  readonly codes: readonly string[];
}
/** Them of a job as its digest has them. */
export const caseFeatures = (d: JobDigest): CaseFeatures => ({ ...d, ...toldOfDigest(d) });

/** How alike two jobs are: 0 for nothing in common. */
export interface Likeness {
  readonly score: number;
  /** What they have in common, in words, the weightiest first. */
  readonly common: readonly string[];
}

/** Weights of what two jobs can have in common. Estimates: a code or a part tells more than the customer's words. */
const SAME_WIRING = 2;
const SAME_NAME = 1;
const SHARED_PART = 3;
const SHARED_CODE = 3;
const ALL_WORDS = 2;
/** Parts and codes that count at most, each. */
const MOST_COUNTED = 2;
/** Below this share of the words in common they say nothing. */
const LEAST_WORDS = 0.34;
/** Two jobs are alike from so much on; the vehicle alone is less. */
export const LEAST_SCORE = 3;

/** What two jobs have in common. `a`: the one that is open. */
export function likeness(a: CaseFeatures, b: CaseFeatures): Likeness {
  const sameWiring = a.wiring !== null && a.wiring.id === b.wiring?.id;
  const sameName = !sameWiring && a.vehicle !== "" && a.vehicle.toLowerCase() === b.vehicle.toLowerCase();
  // Short names stand for the same part on the same wiring only.
  const parts = sameWiring ? shared(a.parts, b.parts) : [];
  const codes = shared(a.codes, b.codes);
  const [mine, theirs] = [contentWords(a.words), contentWords(b.words)];
  const words = [...mine.keys()].filter((w) => theirs.has(w));
  const share = words.length / Math.max(1, Math.min(mine.size, theirs.size));
  const says = words.length >= 2 && share >= LEAST_WORDS;
  const about =
    SHARED_PART * Math.min(MOST_COUNTED, parts.length) +
    SHARED_CODE * Math.min(MOST_COUNTED, codes.length) +
    (says ? ALL_WORDS * share : 0);
  if (about === 0) return { score: 0, common: [] };
  const sameCar =
    a.registration !== "" && a.registration.replace(/\s/g, "").toLowerCase() === b.registration.replace(/\s/g, "").toLowerCase();
  return {
    score: about + (sameWiring ? SAME_WIRING : sameName ? SAME_NAME : 0),
    common: [
      ...(parts.length === 0 ? [] : [`part ${parts.join(", ")}`]),
      ...(codes.length === 0 ? [] : [`code ${codes.join(", ")}`]),
      ...(sameCar ? ["this very vehicle"] : sameWiring ? ["same type of vehicle"] : sameName ? ["same name of vehicle"] : []),
      ...(says ? [`words: ${words.map((w) => mine.get(w)!).join(", ")}`] : []),
    ],
  };
}

const shared = (a: readonly string[], b: readonly string[]): readonly string[] => a.filter((x) => b.includes(x));

/** Words that say nothing of what is wrong. */
const EMPTY: ReadonlySet<string> = new Set(
  "the and that this with when then than but not its was are has had have does did only any all more very just they there what from for off out now can will one two too his her she him who it is on in at to of a an no so as by or if be do up".split(
    " ",
  ),
);
/** "lamps" and "lamp", "dimmed" and "dims" are one word. */
const stem = (word: string): string =>
  word.replace(/(?:ing|ed|es|s|ly)$/, (end) => (word.length - end.length >= 3 ? "" : end)).replace(/([b-df-hj-np-tv-z])\1$/, "$1");
/** Words that say something, by their stems, each as it was said first. */
function contentWords(text: string): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const word of text.toLowerCase().match(/[a-z0-9]{3,}/g) ?? [])
    if (!EMPTY.has(word) && !found.has(stem(word))) found.set(stem(word), word);
  return found;
}

/** Tokens that a job is found by: what it has in common with another stands in both. No search language reads anything into them. */
export function caseTokens({ wiring, parts, codes }: CaseFeatures): readonly string[] {
  return [...parts.map((p) => token("p", `${wiring?.id ?? ""} ${p}`)), ...codes.map((c) => token("c", c))];
}

/** Words of a complaint that a job is searched by, in the order said. */
export const caseSearchWords = ({ words }: Pick<CaseFeatures, "words">): readonly string[] => [...contentWords(words).values()];

/** A word of small letters and digits for any text (FNV-1a). Two texts may share one: what is found is compared itself. */
function token(kind: string, text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return `x${kind}${(hash >>> 0).toString(36)}x`;
}

/** A closed job that is like an open one. */
export interface SimilarCase {
  readonly places: readonly string[];
  /** Its places are places of this vehicle too. */
  readonly isSameWiring: boolean;
}

/** What similar cases make likelier: each place at which they ended, once for every case that did. */
export function casesAsCircumstances(cases: readonly SimilarCase[]): readonly Circumstance[] {
  const counts = new Map<string, number>();
  for (const { isSameWiring, places } of cases)
    if (isSameWiring) for (const at of new Set(places)) counts.set(at, (counts.get(at) ?? 0) + 1);
  return [...counts].flatMap(([at, count]) => (at.length > MOST_NAME ? [] : [{ kind: "similar" as const, at, cases: count }]));
}
const MOST_NAME = 40;
