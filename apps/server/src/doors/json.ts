import { AppError } from "../errors.ts";

/** Bounds on the shape of any JSON that comes in, ahead of its schema. */
export interface ShapeBounds {
  readonly depth: number;
  /** Values of every kind, keys not counted. */
  readonly values: number;
  /** UTF-16 units of one text. */
  readonly text: number;
}

export const MESSAGE_SHAPE: ShapeBounds = { depth: 24, values: 60_000, text: 250_000 };
/** Of a vehicle of 10,000 wires. */
export const HARNESS_SHAPE: ShapeBounds = { depth: 32, values: 1_500_000, text: 20_000 };

const decoder = new TextDecoder("utf-8", { fatal: true });

/**
 * Reads JSON from bytes. Depth is counted over the bytes before anything is built, since a million opening brackets take seconds to build. Every text and name must be
 * printable Unicode: no NUL, no control characters but tab and line ends, no half of a surrogate pair. −0 becomes 0, which is what the database keeps of it.
 * Throws AppError body-not-json or body-shape.
 */
export function readJson(bytes: Uint8Array, bounds: ShapeBounds): unknown {
  const depth = depthOf(bytes);
  if (depth > bounds.depth) throw new AppError("body-shape", { what: `it is nested ${depth} deep, and ${bounds.depth} are taken` });
  let data: unknown;
  try {
    data = JSON.parse(decoder.decode(bytes));
  } catch (error) {
    throw new AppError("body-not-json", { why: printable(error instanceof Error ? error.message : "").slice(0, 120) });
  }
  return inShape(data, bounds);
}

/** Checks what is parsed already. Returns it with every −0 made 0. Throws AppError body-shape. */
export function inShape(data: unknown, bounds: ShapeBounds): unknown {
  let left = bounds.values;
  const walk = (value: unknown, path: string): unknown => {
    if (left-- <= 0) throw new AppError("body-shape", { what: `it holds more than ${bounds.values} values` });
    if (typeof value === "string") return checkText(value, path, bounds.text);
    if (typeof value === "number") return checkNumber(value, path);
    if (typeof value !== "object" || value === null) return value;
    if (Array.isArray(value)) {
      for (let i = 0; i < value.length; i++) value[i] = walk(value[i], `${path}.${i}`);
      return value;
    }
    const record = value as Record<string, unknown>;
    for (const key of Object.keys(record)) {
      checkText(key, path, 200);
      if (key === "__proto__") throw new AppError("body-shape", { what: `${path.slice(1) || "it"} has a field __proto__` });
      record[key] = walk(record[key], `${path}.${key}`);
    }
    return record;
  };
  return walk(data, "");
}

function checkText(text: string, path: string, most: number): string {
  const at = printable(path.slice(1, 120)) || "the text";
  if (text.length > most) throw new AppError("body-shape", { what: `${at} is longer than ${most} characters` });
  const bad = UNPRINTABLE.exec(text);
  if (bad !== null) {
    const code = bad[0].charCodeAt(0).toString(16).toUpperCase().padStart(4, "0");
    throw new AppError("body-shape", { what: `${at} holds the character U+${code}, which is not printable text` });
  }
  if (!isWellFormed(text)) throw new AppError("body-shape", { what: `${at} holds half a character (a lone surrogate)` });
  return text;
}

function checkNumber(value: number, path: string): number {
  if (!Number.isFinite(value)) throw new AppError("body-shape", { what: `${printable(path.slice(1, 120))} is too large a number` });
  // Adding 0 leaves every number as it is but −0.
  return value + 0;
}
const UNPRINTABLE = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\u007F-\u009F\uFFFE\uFFFF]/;
const LONE = /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/;
const isWellFormed = (text: string): boolean => !LONE.test(text);
const printable = (text: string): string => text.replace(/[^\u0020-\u007E\u00A0-\uD7FF]/g, "?");

/** Deepest nesting of arrays and objects in JSON text, whatever else it is; brackets inside texts do not count. */
export function depthOf(bytes: Uint8Array): number {
  let depth = 0;
  let deepest = 0;
  let inText = false;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i]!;
    if (inText) {
      if (byte === 0x5c) i++;
      else if (byte === 0x22) inText = false;
    } else if (byte === 0x22) inText = true;
    else if (byte === 0x5b || byte === 0x7b) deepest = Math.max(deepest, ++depth);
    else if (byte === 0x5d || byte === 0x7d) depth--;
  }
  return deepest;
}
