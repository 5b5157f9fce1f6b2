import type { MeterSaid } from "./meter.ts";

/** A reading as it stands in a line of a meter that sends by itself. */
export interface LineReading {
  readonly quantity: "volts" | "ohms" | "amps";
  readonly said: MeterSaid;
}
export type LineReader =
  { readonly kind: "reader"; readonly read: (line: string) => LineReading | undefined } | { readonly kind: "bad"; readonly why: string };

const UNITS: Readonly<Record<string, readonly [LineReading["quantity"], number]>> = {
  V: ["volts", 1],
  MV: ["volts", 1e-3],
  A: ["amps", 1],
  MA: ["amps", 1e-3],
  UA: ["amps", 1e-6],
  OHM: ["ohms", 1],
  OHMS: ["ohms", 1],
  KOHM: ["ohms", 1e3],
};
const PARTS: Readonly<Record<string, string>> = {
  value: "(?<value>[+-]?\\s*(?:\\d+(?:[.,]\\d*)?|[.,]\\d+)(?:[eE][+-]?\\d+)?|[+-]?\\s*[O0]\\.?L\\.?)",
  unit: "(?<unit>[A-Za-zµμΩΩ]{1,6})",
  any: "[^\\n]*?",
};
const MOST_LINE = 200;

/**
 * Reads lines by a stated pattern: {value} stands for the number (or OL), {unit} for its unit, {any} for whatever else; blanks stand for any number of them,
 * all other signs for themselves. "DC {value} {unit}" reads "DC +12.31 V". Without {unit} a line is in `quantity`'s own unit.
 */
export function lineReader(pattern: string, quantity: LineReading["quantity"]): LineReader {
  const names = [...pattern.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!);
  const unknown = names.find((n) => PARTS[n] === undefined);
  if (unknown !== undefined) return { kind: "bad", why: `{${unknown}} is not known; there are {value}, {unit} and {any}` };
  if (names.filter((n) => n === "value").length !== 1) return { kind: "bad", why: "it needs {value}, once" };
  if (names.filter((n) => n === "unit").length > 1) return { kind: "bad", why: "{unit} stands in it twice" };
  if (names.filter((n) => n === "any").length > 2) return { kind: "bad", why: "two {any} are the most" };
  const source = pattern
    .trim()
    .split(/(\{\w+\}|\s+)/)
    .filter((p) => p !== "")
    .map((p) => (p.startsWith("{") ? PARTS[p.slice(1, -1)]! : /^\s+$/.test(p) ? "\\s*" : p.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")))
    .join("");
  const form = new RegExp(`^\\s*${source}\\s*$`, "u");
  return {
    kind: "reader",
    read: (line) => {
      const groups = line.length > MOST_LINE ? undefined : form.exec(line)?.groups;
      if (groups === undefined) return undefined;
      const unit = groups["unit"];
      const known = unit === undefined ? ([quantity, 1] as const) : unitOf(unit);
      if (known === undefined) return undefined;
      const text = groups["value"]!.replace(/\s+/g, "").replace(",", ".");
      if (/L/i.test(text)) return { quantity: known[0], said: { kind: "over" } };
      const value = Number(text) * known[1];
      return Number.isFinite(value) ? { quantity: known[0], said: { kind: "value", value } } : undefined;
    },
  };
}

/** mV and MΩ differ by the size of their first letter alone; µ is written in two ways, and Ω too. */
function unitOf(text: string): readonly [LineReading["quantity"], number] | undefined {
  const plain = text.replace(/[µμ]/g, "u").replace(/[ΩΩ]/g, "Ohm");
  if (/^M(ohms?)$/i.test(plain) && plain.startsWith("M")) return ["ohms", 1e6];
  return UNITS[plain.toUpperCase()];
}
