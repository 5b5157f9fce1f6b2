import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import { stateInWhich, type ResultWord } from "../diagnosis/index.ts";
import { deviceOf, type Component, type Harness } from "../harness/index.ts";
import { DOES, GENERIC, OPPOSITES, SAME_THING, WHOLE } from "./symptom-words.ts";

/** One line of a complaint: a part, what it does, and when. */
export interface SymptomLine {
  readonly part: string;
  readonly label: string;
  readonly word: ResultWord;
  /** It should be otherwise. */
  readonly wrong: boolean;
  /** Where the words say so. */
  readonly engine?: VehicleState["engine"];
}

/** Lines that are offered for the same words: nothing is taken without a tap. */
export interface SymptomOffer {
  /** The words that it was read from. */
  readonly from: string;
  readonly lines: readonly SymptomLine[];
}

const MOST_OFFERS = 6;
/** Parts that equally fit a few words are offered up to so many. */
const MOST_ALIKE = 4;
/** Share of a label that must be said, how near the best others must come, and what a place in a label counts that a word for a place names. */
const LEAST_FIT = 0.5;
const NEAR_BEST = 0.15;
const BY_PLACE = 0.4;
const PLACES: ReadonlySet<string> = new Set([...OPPOSITES.flat(), "back"]);

/** Words of a text, in small letters. */
const tokensOf = (text: string): readonly string[] => text.toLowerCase().match(/[a-z0-9]+(?:'[a-z]+)?/g) ?? [];
/** One lamp or several. */
const singular = (word: string): string => (word.length > 3 && word.endsWith("s") && !word.endsWith("ss") ? word.slice(0, -1) : word);

const meanings = new Map<string, readonly number[]>();
SAME_THING.forEach((group, i) => group.map(singular).forEach((w) => meanings.set(w, [...(meanings.get(w) ?? []), i])));
const isSame = (p: string, q: string): boolean => areSame(singular(p), singular(q));
const areSame = (a: string, b: string): boolean => a === b || (meanings.get(a) ?? []).some((i) => meanings.get(b)?.includes(i) === true);

/** Parts of a vehicle whose doing somebody tells of: loads, motors, lamps, gauges, modules. */
export const namedParts = (harness: Harness): readonly Component[] =>
  harness.components.filter(
    (c) =>
      c.kind === "load" || (c.kind === "device" && (["load", "module"].includes(deviceOf(c).device.family) || c.device === "alternator")),
  );

const labelOf = (part: Component): string => part.label ?? "";
/** A part as it is named: short name and label. */
export const partWords = (part: Component): string => [part.id, labelOf(part)].filter(Boolean).join(" ");

/**
 * How well words name a part: the share of its label that is said, 1 for its own short name. 0 where the words place it elsewhere, as "left" does for one on the right, or
 * where nothing but a place is said.
 */
export function namesPart(said: readonly string[], part: Component): number {
  if (said.includes(part.id.toLowerCase()) && part.id.length > 1) return 1;
  const label = tokensOf(labelOf(part)).filter((t) => t !== "of" && t !== "and");
  if (label.length === 0) return 0;
  const says = (word: string): boolean => said.some((s) => isSame(s, word));
  for (const [a, b] of OPPOSITES) {
    if (label.includes(a) && !label.includes(b) && said.includes(b) && !says(a)) return 0;
    if (label.includes(b) && !label.includes(a) && said.includes(a) && !says(b)) return 0;
  }
  const things = label.filter((t) => !PLACES.has(t) || label.length === 1);
  const weightOf = (t: string): number => (GENERIC.includes(t) && things.length > 1 ? 0.3 : 1);
  const sum = (of: readonly string[]): number => of.reduce((n, t) => n + weightOf(t), 0);
  // "the rear one" is not yet the tail light.
  const isByPlace = (t: string): boolean => said.filter((s) => isSame(s, t)).every((s) => PLACES.has(singular(s)));
  const found = things.filter(says).reduce((n, t) => n + (isByPlace(t) ? BY_PLACE : weightOf(t)), 0);
  // What it is counts more than where it is.
  const placed = label.filter((t) => PLACES.has(t) && says(t)).length;
  return found === 0 ? 0 : (found + 0.25 * placed) / (sum(things) + 0.25 * (label.length - things.length));
}

/** Clauses of a text: what is said of one thing after the other. */
const clausesOf = (text: string): readonly string[] =>
  text
    .split(/[.;!?\n]|\bbut\b|\bwhile\b/i)
    .map((s) => s.trim())
    .filter((s) => s !== "");

const says = (clause: string, phrase: string): boolean => ` ${tokensOf(clause).join(" ")} `.includes(` ${phrase} `);
const doesIn = (clause: string): (typeof DOES)[number] | undefined => DOES.find((d) => d.says.some((p) => says(clause, p)));

/** The state in which a symptom shows: one in which a sound part works, or, where it runs by itself, the same with nobody asking for it. */
export function symptomState(harness: Harness, { part, word, wrong, engine }: Omit<SymptomLine, "label">): VehicleState {
  const from: VehicleState =
    engine === "cranking"
      ? { ...REST_STATE, key: "crank", engine }
      : engine === "idling"
        ? { ...REST_STATE, key: "run", engine }
        : REST_STATE;
  const runs = stateInWhich(harness, part, from) ?? { ...from, key: from.key === "off" ? "run" : from.key };
  return word === "full" && wrong ? { ...runs, on: [] } : runs;
}

const lineOf = (part: Component, word: ResultWord, wrong: boolean, engine?: VehicleState["engine"]): SymptomLine => ({
  part: part.id,
  label: labelOf(part),
  word,
  wrong,
  ...(engine === undefined ? {} : { engine }),
});

const isModule = (part: Component): boolean => part.kind === "device" && part.device === "module";

/** A text without a phrase that was read already. */
const without = (text: string, phrases: readonly string[]): string =>
  phrases.reduce((left, phrase) => left.replaceAll(new RegExp(`\\b${phrase}\\b`, "gi"), ""), text);

/** Parts that a symptom of the whole vehicle may come from. */
const partsOfWhole = (harness: Harness, { devices, label }: (typeof WHOLE)[number]): readonly Component[] =>
  devices.flatMap((device) =>
    harness.components.filter((c) => c.kind === "device" && c.device === device && (label?.test(labelOf(c)) ?? true)),
  );

/** Symptoms of the whole vehicle that this one has parts for, as words that `symptomsIn` reads: "does not crank". */
export const wholeSymptoms = (harness: Harness): readonly string[] =>
  WHOLE.filter((w) => partsOfWhole(harness, w).length > 0).map((w) => w.words);

/** Symptom lines that a customer's words may mean on this vehicle, the likeliest first; none where nothing fits. */
export function symptomsIn(harness: Harness, words: string): readonly SymptomOffer[] {
  const offers: SymptomOffer[] = [];
  const lower = tokensOf(words).join(" ");
  const whole = WHOLE.find((w) => w.says.some((p) => ` ${lower} `.includes(` ${p} `)));
  if (whole !== undefined) {
    offers.push(
      ...partsOfWhole(harness, whole)
        .slice(0, MOST_ALIKE)
        .map((p) => ({ from: whole.words, lines: [lineOf(p, whole.word, true, whole.engine)] })),
    );
  }
  const rest = whole === undefined ? words : without(words, whole.says);
  for (const clause of clausesOf(rest)) {
    const said = tokensOf(clause);
    const does = doesIn(clause) ?? doesIn(rest);
    if (does === undefined) continue;
    const ranked = namedParts(harness)
      .filter((part) => does.word === "none" || !isModule(part))
      .map((part) => ({ part, fit: namesPart(said, part) }))
      .filter(({ fit }) => fit >= LEAST_FIT)
      .sort((p, q) => q.fit - p.fit);
    const best = ranked[0]?.fit ?? 0;
    const alike = ranked.filter(({ fit }) => fit > best - NEAR_BEST).slice(0, MOST_ALIKE);
    const isBoth = said.some((t) => ["both", "all", "every"].includes(t));
    const lines = alike.map(({ part }) => lineOf(part, does.word, does.wrong));
    if (lines.length === 0) continue;
    if (isBoth && lines.length > 1) offers.push({ from: clause, lines });
    else offers.push(...lines.map((line) => ({ from: clause, lines: [line] })));
  }
  const known = new Set<string>();
  return offers
    .filter(({ lines }) => {
      const key = lines.map((l) => `${l.part} ${l.word}`).join();
      return known.has(key) ? false : known.add(key);
    })
    .slice(0, MOST_OFFERS);
}
