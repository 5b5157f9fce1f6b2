import { WIRE_COLOURS } from "../harness/index.ts";
import { WHEN } from "./header.ts";
import type { Item } from "./split.ts";
import type { Span } from "./problem.ts";
import { looksLikeNumber, readValue } from "./values.ts";

/** A wire as written: what is missing is undefined. */
export interface WireItem {
  readonly kind: "wire";
  readonly id: string | undefined;
  readonly colour: string | undefined;
  readonly areaMm2: number | undefined;
  readonly lengthM: number | undefined;
  /** A length was written, though perhaps a wrong one. */
  readonly lengthSaid: boolean;
  /** Segments of loom, from "via=dash,door". */
  readonly segments: readonly string[];
  /** Options under which it exists, from "if=fridge". */
  readonly when: string | undefined;
}

type Complain = (severity: "error" | "warning", code: string, message: string, span: Span) => void;

const COLOUR_LIKE = /^[A-Za-z]{2}([/-][A-Za-z]{2})?$/;
const WIRE_ID = /^[Ww]\d\w{0,22}$/;
const isColour = (text: string): boolean =>
  COLOUR_LIKE.test(text) &&
  text
    .toUpperCase()
    .split(/[/-]/)
    .some((c) => c in WIRE_COLOURS);

/** A wire is written with blanks between its words, or is a wire's number or colour alone. Everything else is a part. */
export function looksLikeWire(text: string): boolean {
  const words = text.replace(/\(.*\)/, "()").split(/\s+/);
  if (words.length === 1) return WIRE_ID.test(text) || looksLikeNumber(text) || isColour(text);
  return words.slice(1).some((w) => !w.startsWith("(")) || WIRE_ID.test(words[0]!) || isColour(words[0]!);
}

/** Reads "W2 RD/YE 4mm2 2m" in any order of its words; a first bare number is the area, a second one the length. */
export function readWireItem(item: Item, complain: Complain): WireItem {
  const segments: string[] = [];
  let when: string | undefined;
  let id: string | undefined;
  let colour: string | undefined;
  let areaMm2: number | undefined;
  let lengthM: number | undefined;
  let areaSaid = false;
  let lengthSaid = false;
  for (const found of item.text.matchAll(/\S+/g)) {
    const word = found[0];
    const span = { start: item.start + found.index, end: item.start + found.index + word.length };
    if (word.toLowerCase().startsWith("if=")) {
      when = word.slice(3);
      if (!WHEN.test(when)) complain("error", "option", `"${when}" is not an option. Write if=fridge, if=!fridge or if=fridge&tow.`, span);
    } else if (word.toLowerCase().startsWith("via=")) {
      const named = word.slice(4).split(",");
      const wrong = named.find((n) => !/^[A-Za-z][A-Za-z0-9_-]{0,23}$/.test(n));
      if (wrong === undefined) segments.push(...named);
      else complain("error", "wire-segment", `"${wrong}" cannot name a segment of loom. Write names with commas: via=dash,door`, span);
    } else if (WIRE_ID.test(word) && id === undefined) id = word.toUpperCase();
    else if (looksLikeNumber(word)) {
      const value = readValue(word);
      if (value.kind === "bad") {
        complain("error", value.code, value.message, span);
        areaSaid = true;
      } else if (value.unit === "mm2" || (value.unit === "" && !areaSaid)) {
        areaSaid = true;
        if (value.value > 0 && value.value <= 500) areaMm2 = value.value;
        else
          complain(
            "error",
            "wire-area",
            `A wire cannot have an area of ${value.value} mm². Write the area from the diagram, such as 2.5mm2.`,
            span,
          );
      } else if (value.unit === "m" || value.unit === "") {
        lengthSaid = true;
        if (value.value > 0 && value.value <= 200) lengthM = value.value;
        else complain("error", "wire-length", `A wire cannot be ${value.value} m long. Write metres, such as 1.5m.`, span);
      } else complain("error", "wire-unit", `A wire has an area in mm2 and a length in m; "${word}" is neither.`, span);
    } else if (COLOUR_LIKE.test(word) && colour === undefined) {
      const letters = word.toUpperCase().replace("-", "/").split("/");
      const wrong = letters.find((c) => !(c in WIRE_COLOURS));
      if (wrong === undefined) colour = letters.join("/");
      else
        complain("error", "wire-colour", `"${wrong}" is not a wire colour. The letters are ${Object.keys(WIRE_COLOURS).join(" ")}.`, span);
    } else
      complain(
        "error",
        "wire-word",
        `"${word}" does not belong in a wire. A wire is: number, colour, area, length, such as W2 RD/YE 4mm2 2m.`,
        span,
      );
  }
  if (!areaSaid)
    complain("error", "wire-area", `This wire has no area. Write it behind the colour, such as ${colour ?? "RD"} 2.5mm2 1.5m.`, item);
  return { kind: "wire", id, colour, areaMm2, lengthM, lengthSaid, segments, when };
}
