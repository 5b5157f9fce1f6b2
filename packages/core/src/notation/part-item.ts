import { type Component, type Load, LOAD_SORTS } from "../harness/index.ts";
import type { Item } from "./split.ts";
import type { Span } from "./problem.ts";
import { looksLikeNumber, readValue } from "./values.ts";

export type PartKind = Component["kind"];

/** What the parentheses behind a part's name say. */
export interface PartWords {
  kind?: PartKind;
  sort?: Load["sort"];
  label?: string;
  at?: string;
  on?: string;
  closedBy?: "hand" | "accessory" | "run" | "crank";
  pins?: [string, string];
  /** A rating was written that cannot be; it is complained of where it stands. */
  badRating?: boolean;
  amps?: number;
  watts?: number;
  ohms?: number;
  volts?: number;
  chargeVolts?: number;
  crankAmps?: number;
}

export interface PartItem {
  readonly kind: "part";
  readonly id: string;
  readonly pin: string | undefined;
  readonly words: PartWords;
  /** The name without pin and parentheses. */
  readonly nameSpan: Span;
}

type Complain = (severity: "error" | "warning", code: string, message: string, span: Span) => void;

/** The kind that a name's letters tell, so that the usual parts need no word. */
export function kindOfName(id: string): PartKind | undefined {
  if (/^BAT\d*$/i.test(id)) return "battery";
  if (/^F\d+\w*$/i.test(id)) return "fuse";
  if (/^SW\d*$/i.test(id)) return "switch";
  if (/^[CX]\d+\w*$/i.test(id)) return "connector";
  if (/^S\d+\w*$/i.test(id)) return "splice";
  if (/^G\d+\w*$/i.test(id)) return "ground";
  return undefined;
}

const CLOSED_BY: Record<string, PartWords["closedBy"]> = {
  hand: "hand",
  acc: "accessory",
  accessory: "accessory",
  run: "run",
  crank: "crank",
};
const PLAIN_KINDS: readonly string[] = ["battery", "fuse", "switch", "connector", "splice", "ground"] satisfies PartKind[];

/** Longest name of a part and of a pin, so that "PART.PIN" stays a place that readings can carry. */
const LONGEST_NAME = 24;
const LONGEST_PIN = 12;

/** Words that may stand in the parentheses, for completion in an editor. */
export const PART_WORDS: readonly string[] = [...PLAIN_KINDS, ...LOAD_SORTS, "run", "acc", "crank", "on", "at", "pins", "charge"];

/** Reads "C12.4", "F3(60A)", "FAN(motor 22A \"hold blower\")". */
export function readPartItem(item: Item, complain: Complain): PartItem | undefined {
  const shape = /^([A-Za-z][A-Za-z0-9_]*)(?:\.([A-Za-z0-9_+\-]+))?\s*(?:\((.*?)\)?)?$/s.exec(item.text);
  if (shape === null) {
    const message = `"${item.text.slice(0, 40)}" is neither a part nor a wire. A part is a name such as F3 or C12.4; a wire is colour, area and length with blanks between.`;
    complain("error", "bad-item", message, item);
    return undefined;
  }
  const id = shape[1]!;
  const nameSpan = { start: item.start, end: item.start + id.length };
  if (id.length > LONGEST_NAME || (shape[2]?.length ?? 0) > LONGEST_PIN) {
    complain(
      "error",
      "name-long",
      `A name has at most ${LONGEST_NAME} letters and a pin ${LONGEST_PIN}. Use the short name from the diagram.`,
      nameSpan,
    );
    return undefined;
  }
  const inside = shape[3];
  const words: PartWords = {};
  if (inside !== undefined) readWords(inside, item.start + item.text.indexOf("(") + 1, words, complain);
  return { kind: "part", id, pin: shape[2], words, nameSpan };
}

function readWords(inside: string, offset: number, words: PartWords, complain: Complain): void {
  const tokens = [...inside.matchAll(/"([^"]*)"|[^\s,"]+(?:,\d+[^\s,"]*)?/g)].map((m) => ({
    text: m[1] ?? m[0],
    quoted: m[1] !== undefined,
    span: { start: offset + m.index, end: offset + m.index + m[0].length },
  }));
  for (let i = 0; i < tokens.length; i++) {
    const token = tokens[i]!;
    const word = token.text.toLowerCase();
    const next = tokens[i + 1];
    if (token.quoted) words.label = token.text.slice(0, 80);
    else if (looksLikeNumber(token.text)) readRating(token, words, complain);
    else if (word === "on" && next !== undefined) {
      words.on = next.text.toLowerCase();
      if (!/^[a-z][a-z0-9]{0,23}$/.test(words.on))
        complain("error", "mass-name", `"${next.text}" cannot name a piece of metal. Use one word, such as body or engine.`, next.span);
      i++;
    } else if (word === "at" && next !== undefined) {
      words.at = next.text.slice(0, 80);
      i++;
    } else if (word === "pins" && tokens[i + 2] !== undefined) {
      words.pins = [tokens[i + 1]!.text.slice(0, LONGEST_PIN), tokens[i + 2]!.text.slice(0, LONGEST_PIN)];
      i += 2;
    } else if (word === "charge" && next !== undefined) {
      const value = readValue(next.text);
      if (value.kind === "value" && value.value > 0) words.chargeVolts = value.value;
      else complain("error", "charge-volts", `"${next.text}" is not a charging voltage. Write it like 14.2V.`, next.span);
      i++;
    } else if (word === "crank" && next !== undefined && looksLikeNumber(next.text)) {
      const value = readValue(next.text);
      if (value.kind === "value" && value.value >= 0) words.crankAmps = value.value;
      else complain("error", "crank-amps", `"${next.text}" is not a cranking current. Write it like 180A.`, next.span);
      i++;
    } else if (word in CLOSED_BY) words.closedBy = CLOSED_BY[word]!;
    else if ((LOAD_SORTS as readonly string[]).includes(word)) {
      words.kind = "load";
      words.sort = word as Load["sort"];
    } else if (PLAIN_KINDS.includes(word)) words.kind = word as PartKind;
    else
      complain(
        "error",
        "unknown-word",
        `"${token.text}" is not known here. Known words: ${PART_WORDS.join(", ")}; a free name goes in quotes.`,
        token.span,
      );
  }
}

function readRating(token: { text: string; span: Span }, words: PartWords, complain: Complain): void {
  const value = readValue(token.text);
  words.badRating = true;
  if (value.kind === "bad") return complain("error", value.code, value.message, token.span);
  if (value.value <= 0)
    return complain("error", "rating-zero", `A rating of ${token.text} cannot be. Write what the diagram says.`, token.span);
  if (value.unit !== "m" && value.unit !== "mm2") delete words.badRating;
  switch (value.unit) {
    case "A":
    case "":
      words.amps = value.value;
      return;
    case "W":
      words.watts = value.value;
      return;
    case "ohm":
      words.ohms = value.value;
      return;
    case "V":
      words.volts = value.value;
      return;
    case "m":
    case "mm2":
      complain("error", "rating-unit", `"${token.text}" is no rating of a part. Use A, W, ohm or V.`, token.span);
  }
}
