import { DEVICE_NAMES, LOAD_SORTS } from "../devices/index.ts";
import type { Component, Load } from "../harness/index.ts";
import { SHORT_NAME, WHEN } from "./header.ts";
import type { Item } from "./split.ts";
import type { Span } from "./problem.ts";
import { takePins } from "./module-words.ts";
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
  charge?: number;
  wear?: number;
  /** Kind of a device and what was said of it as name=value. */
  device?: string;
  settings?: Record<string, unknown>;
  /** Where the part is and how it is built; the same words for every kind. */
  zone?: string;
  when?: string;
  sheet?: string;
  box?: string;
  slot?: string;
  tool?: string;
  accessMinutes?: number;
  ways?: number;
  rows?: number;
  sealed?: boolean;
  backProbe?: boolean;
}

const TEXTS = { zone: 24, if: 160, sheet: 40, box: 40, slot: 12, tool: 40 } as const;
const COUNTS = { minutes: "accessMinutes", ways: "ways", rows: "rows" } as const;
/** Words that say where a part is or how its face looks, for completion in an editor. */
export const PLACE_WORDS: readonly string[] = [...Object.keys(TEXTS), ...Object.keys(COUNTS)].map((w) => `${w}=`);

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
export const PART_WORDS: readonly string[] = [
  ...PLAIN_KINDS,
  ...LOAD_SORTS,
  ...DEVICE_NAMES,
  "run",
  "acc",
  "crank",
  "on",
  "at",
  "pins",
  "charge",
];

/** Reads "C12.4", "F3(60A)", "FAN(motor 22A \"hold blower\")". */
export function readPartItem(item: Item, complain: Complain): PartItem | undefined {
  const shape = /^([A-Za-z][A-Za-z0-9_]*)(?:\.([A-Za-z0-9_+\-]+))?\s*(?:\((.*?)(?:\)(?:\.([A-Za-z0-9_+\-]+))?)?)?$/s.exec(item.text);
  if (shape === null) {
    const message = `"${item.text.slice(0, 40)}" is neither a part nor a wire. A part is a name such as F3 or C12.4; a wire is colour, area and length with blanks between.`;
    complain("error", "bad-item", message, item);
    return undefined;
  }
  const id = shape[1]!;
  // "R7(relay).30" says the same as "R7.30(relay)".
  const pin = shape[2] ?? shape[4];
  const nameSpan = { start: item.start, end: item.start + id.length };
  if (id.length > LONGEST_NAME || (pin?.length ?? 0) > LONGEST_PIN) {
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
  return { kind: "part", id, pin, words, nameSpan };
}

function readWords(inside: string, offset: number, words: PartWords, complain: Complain): void {
  const { rest: withoutPins, words: module } = takePins(inside, valueOfSetting, (message, from, to) =>
    complain("error", "module-pin", message, { start: offset + from, end: offset + to }),
  );
  if (module !== undefined) {
    words.settings = { ...words.settings, pins: module.pins, ...(module.rules.length > 0 ? { rules: module.rules } : {}) };
  }
  const rest = readSettings(withoutPins, offset, words, complain);
  const tokens = [...rest.matchAll(/"([^"]*)"|[^\s,"]+(?:,\d+[^\s,"]*)?/g)].map((m) => ({
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
    else if (word === "sealed") words.sealed = true;
    else if (word === "noprobe") words.backProbe = false;
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
    else if (DEVICE_NAMES.includes(word)) {
      words.kind = "device";
      words.device = word;
    } else
      complain(
        "error",
        "unknown-word",
        `"${token.text}" is not known here. Known words: ${PART_WORDS.join(", ")}; a free name goes in quotes.`,
        token.span,
      );
  }
}

/**
 * Takes name=value out of the parentheses and returns what is left, with blanks in its place so that columns stay. A value is a number, true or false, a word, or
 * JSON in brackets or braces.
 */
function readSettings(inside: string, offset: number, words: PartWords, complain: Complain): string {
  let rest = inside;
  const name = /(?<![\w"])([A-Za-z][A-Za-z0-9]*)=/g;
  for (let m = name.exec(rest); m !== null; m = name.exec(rest)) {
    if ((rest.slice(0, m.index).split('"').length - 1) % 2 === 1) continue; // inside a quoted name
    const from = m.index + m[0].length;
    const end = /[[{]/.test(rest[from] ?? "") ? endOfJson(rest, from) : from + /^("[^"]*"?|[^\s,"]*)/.exec(rest.slice(from))![0].length;
    const text = rest.slice(from, end);
    const span = { start: offset + m.index, end: offset + end };
    const value = valueOfSetting(text);
    if (m[1]! in TEXTS || m[1]! in COUNTS) readPlaceWord(m[1]!, text, words, (message) => complain("error", "place-word", message, span));
    else if (value === undefined)
      complain("error", "setting", `"${text.slice(0, 40)}" is not a value for ${m[1]}. Write a number, a word, or JSON in braces.`, span);
    else words.settings = { ...words.settings, [m[1]!]: value };
    rest = rest.slice(0, m.index) + " ".repeat(end - m.index) + rest.slice(end);
  }
  return rest;
}

function readPlaceWord(name: string, text: string, words: PartWords, fault: (message: string) => void): void {
  const said = text.startsWith('"') ? text.slice(1).replace(/"$/, "") : text;
  if (name in COUNTS) {
    const value = Number(said);
    const key = COUNTS[name as keyof typeof COUNTS];
    const most = { accessMinutes: 600, ways: 200, rows: 12 }[key];
    const whole = key === "accessMinutes" || Number.isInteger(value);
    if (said === "" || !(value >= (key === "accessMinutes" ? 0 : 1)) || value > most || !whole)
      fault(`${name}=${said} cannot be. Write a number up to ${most}, such as ${name}=4.`);
    else words[key] = value;
    return;
  }
  const shape = { zone: SHORT_NAME, if: WHEN }[name] ?? /^.+$/s;
  if (!shape.test(said))
    return fault(`${name}=${said} cannot be read. Write such as ${name === "if" ? "if=fridge or if=!fridge" : `${name}=left`}`);
  words[name === "if" ? "when" : (name as "zone" | "sheet" | "box" | "slot" | "tool")] = said.slice(0, TEXTS[name as keyof typeof TEXTS]);
}

/** Value of a setting: a bare word, true, false, a number, or JSON in brackets; undefined when it is none of them. */
export function valueOfSetting(text: string): unknown {
  if (text === "") return undefined;
  if (/^[A-Za-z][A-Za-z0-9-]*$/.test(text)) return text === "true" ? true : text === "false" ? false : text;
  try {
    const value: unknown = JSON.parse(text);
    return value === null ? undefined : value;
  } catch {
    return undefined;
  }
}

/** Index behind the bracket that closes the one at `from`; the text's end when none does. */
function endOfJson(text: string, from: number): number {
  let depth = 0;
  let quoted = false;
  for (let i = from; i < text.length; i++) {
    const c = text[i]!;
    if (quoted) {
      if (c === "\\") i++;
      else if (c === '"') quoted = false;
    } else if (c === '"') quoted = true;
    else if (c === "[" || c === "{") depth++;
    else if ((c === "]" || c === "}") && --depth === 0) return i + 1;
  }
  return text.length;
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
      complain("error", "rating-unit", `"${token.text}" is not a rating of a part. Use A, W, ohm or V.`, token.span);
  }
}
