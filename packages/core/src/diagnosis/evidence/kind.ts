import { z } from "zod";
import { describeLink, describePlace, linkOf, lookupOf, type Harness } from "../../harness/index.ts";
import type { Predicted } from "./predicted.ts";

/** Name of a place, part, wire or code. */
export const name = z.string().min(1).max(40);

/** The scale of what is measured: how far a reading may be off, and how it is written. */
export interface Scale {
  readonly unit: "V" | "A" | "Ω" | "%";
  /** A value on the scale on which readings are compared. */
  readonly scaled: (value: number) => number;
  /** One standard deviation of a reading around what the model says, in the unit of `scaled`. */
  readonly sigma: (value: number) => number;
  /** Probability density of a reading that says nothing, per unit of `scaled`. */
  readonly broad: number;
  /** How far along the scale a value is, in standard deviations of a reading; undefined beyond its end. */
  readonly steps: (value: number) => number | undefined;
  /** What is said of a reading that does not stand still. */
  readonly unsteady: string;
}

/** What a person answers with one of some words. */
export interface Wording {
  readonly words: readonly string[];
  /** Chance of each word, in the order of `words`. */
  readonly shares: (p: Predicted) => Readonly<Record<string, number>>;
  /** The likeliest word, as its place among `words`. */
  readonly likeliest: (value: number) => number;
  /** What is expected, in words for a person; the likeliest word when left out. */
  readonly expected?: (value: number) => string;
  readonly unsteady: string;
  /** The prediction is the chance that something is so. */
  readonly isChance: boolean;
  /** What a sound vehicle is answered with where no circuit decides it; left out where one does. */
  readonly sound?: string;
}

/** One kind of evidence, whole: what is recorded, how well a prediction explains it, where hands go, how it is said. Predicting it stands in predict/. */
export interface EvidenceKind<O extends { readonly kind: string } = never> {
  readonly read: Scale | Wording;
  /** "volts, red on …, black on …". */
  readonly describe: (o: O, harness: Harness) => string;
  /** The same in the few words of a log, without the circuit. */
  readonly logged: (o: O) => string;
  /** What the circuit must hold for it to mean anything. "current": what a clamp goes around, a link or the battery; "thing": anything with a name. */
  readonly names: (o: O) => readonly (readonly [is: "place" | "current" | "part" | "thing", name: string])[];
  /** Where hands or leads go. */
  readonly places: (o: O) => readonly string[];
  /** Places and parts that the model must hold to say anything. */
  readonly needs: (o: O) => readonly string[];
  /** Places whose levels must be known phase by phase; none when left out. */
  readonly levels?: (o: O) => readonly string[];
  /** Work of the hands once there, min. Estimates of a practised hand. */
  readonly minutes: (o: O, harness: Harness) => number;
  /** What it is to the vehicle, for what an instrument may not do. */
  readonly act: "volts" | "ohms" | "lamp" | "touch";
  /** An instrument says so, and not the eye or somebody's word. */
  readonly byInstrument: boolean;
  /** It tells of one wire and not of its neighbour on the same nets. */
  readonly isOwn: boolean;
  readonly caution?: string;
}

/** Chance that a look, a word or a scan is mistaken. */
const MISTAKEN = 0.02;

/** Shares with what is said by mistake spread over all words. */
export function withMistakes(shares: Readonly<Record<string, number>>): Readonly<Record<string, number>> {
  const n = Object.keys(shares).length;
  return Object.fromEntries(Object.entries(shares).map(([w, s]) => [w, (1 - MISTAKEN) * s + MISTAKEN / n]));
}

/** An answer of yes or no, whose prediction is the chance of yes. */
export const yesOrNo = (words: readonly [yes: string, no: string], sound?: string): Wording => ({
  words,
  ...(sound === undefined ? {} : { sound }),
  shares: ({ value }) => withMistakes({ [words[0]]: value, [words[1]]: 1 - value }),
  likeliest: (value) => (value > 0.5 ? 0 : 1),
  unsteady: "swings",
  isChance: true,
});

/** Whether a kind of evidence is a number; else it is one of its words. */
export const isScale = (read: Scale | Wording): read is Scale => "scaled" in read;

/** A wire, part or anything else that has a name, for a person. */
export function describeThing(harness: Harness, id: string): string {
  const part = lookupOf(harness).parts.get(id);
  if (part !== undefined) return `${id}${part.label === undefined ? "" : ` (${part.label})`}`;
  const link = linkOf(harness, id);
  return link === undefined ? id : describeLink(harness, link);
}

/** What holds of everything that is read between two leads. */
export const betweenLeads = {
  names: ({ red, black }) => [
    ["place", red],
    ["place", black],
  ],
  places: ({ red, black }) => [red, black],
  needs: ({ red, black }) => [red, black],
  byInstrument: true,
  isOwn: false,
} as const satisfies Partial<EvidenceKind<{ readonly kind: string; readonly red: string; readonly black: string }>>;

/** A place, for a person. */
export const describeSpot = (harness: Harness, place: string): string => describePlace(harness, place);
