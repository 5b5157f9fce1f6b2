import type { Harness } from "../../harness/index.ts";
import type { Result } from "./evidence.ts";
import { isScale } from "./kind.ts";
import { kindOf, type Observable } from "./kinds/index.ts";
import type { Predicted } from "./predicted.ts";

/** "volts, red on C1.2a, black on battery negative". */
export const observableWords = (harness: Harness, o: Observable): string => kindOf(o).describe(o, harness);
/** How it is said what a part does or a module answers; other words stay as they are. */
const SAID: Readonly<Record<string, string>> = {
  full: "works",
  none: "dead",
  flickers: "intermittent",
  yes: "responds",
  no: "no response",
};
/** A result or prediction as a technician says it. */
export const inWords = (word: string): string => (word in SAID ? SAID[word]! : word);
/** What was observed, in the few words of a log. */
export const loggedWords = (o: Observable): string => kindOf(o).logged(o);
/** Where hands or leads go for an observation. */
export const handsAt = (o: Observable): readonly string[] => kindOf(o).places(o);
/** Names that a circuit must hold for an observation to mean anything, with what each must be. */
export const namesIn = (o: Observable): readonly (readonly [is: "place" | "current" | "part" | "thing", name: string])[] =>
  kindOf(o).names(o);

/** A result as it is read off or said. */
export function resultWords(o: Observable, r: Result): string {
  switch (r.kind) {
    case "word":
      return r.word;
    case "over":
      return "OL";
    case "swings":
      // On ohms no number stands where volts do; those are what is said then.
      return o.kind === "ohms" ? `no resistance: ${r.high.toFixed(2)} V stand there` : `${number(o, r.low)} … ${number(o, r.high)}`;
    case "value":
      return number(o, r.value);
  }
}

function number(o: Observable, value: number): string {
  const { read } = kindOf(o);
  const unit = isScale(read) ? read.unit : "";
  if (unit === "Ω") return value === Infinity ? "OL" : ohms(Math.max(0, value));
  const digits = unit === "%" ? 0 : Math.abs(value) < 1 ? 3 : 2;
  return `${(Math.abs(value) < 0.0005 ? 0 : value).toFixed(digits)} ${unit}`;
}

/** What a prediction looks like on the instrument, or the word that it comes to. */
export function predictedWords(o: Observable, p: Predicted): string {
  const { read } = kindOf(o);
  if (Number.isNaN(p.value)) return "not predicted";
  if (p.oscillating === true) return read.unsteady;
  if (isScale(read)) return number(o, p.value);
  return read.expected?.(p.value) ?? read.words[read.likeliest(p.value)]!;
}

/** With two figures. */
export function ohms(value: number): string {
  const [n, unit] = value >= 1e6 ? [value / 1e6, "MΩ"] : value >= 1000 ? [value / 1000, "kΩ"] : [value, "Ω"];
  return `${Number(n.toPrecision(2))} ${unit}`;
}
