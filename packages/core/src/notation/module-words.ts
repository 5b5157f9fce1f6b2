/**
 * Pins and rules of a module in words instead of JSON:
 *
 *     ECM(module pin A1 supply, pin A2 ground, pin B6 input pullOhms=2200, pin 5 low when=8<4&key=run/crank|engine=idling)
 *
 * A condition is alternatives "|" of terms joined by "&"; a term is PIN<VOLTS, PIN>VOLTS, PIN=pulses, key=…, engine=…, told>VALUE or one of
 * these after "!". What cannot be said so is written as JSON.
 */
import { PIN_SORT_BY_WORD } from "../devices/index.ts";

const WORD_OF_SORT = new Map(Object.entries(PIN_SORT_BY_WORD).map(([word, sort]) => [sort, word]));

type Json = Record<string, unknown>;

export interface ModuleWords {
  readonly pins: Record<string, Json>;
  readonly rules: { pin: string; when: Json }[];
}

/** Reads a condition; undefined when it is none. */
export function readCondition(text: string): Json | undefined {
  const any = text.split("|").map((alternative) => {
    const all = alternative.split("&").map(readTerm);
    return all.includes(undefined) ? undefined : all.length === 1 ? all[0]! : { all };
  });
  if (any.includes(undefined)) return undefined;
  return any.length === 1 ? any[0] : { any };
}

function readTerm(text: string): Json | undefined {
  if (text.startsWith("!")) {
    const inner = readTerm(text.slice(1));
    return inner === undefined ? undefined : { not: inner };
  }
  const listed = /^(key|engine)=([a-z/]+)$/.exec(text);
  if (listed !== null) return { [listed[1]!]: listed[2]!.split("/").map((w) => (w === "atspeed" ? "at speed" : w)) };
  const pulsed = /^(\w{1,12})=pulses$/.exec(text);
  if (pulsed !== null) return { pulsed: pulsed[1]! };
  const compared = /^(\w{1,12})([<>])(-?\d+(?:\.\d+)?)$/.exec(text);
  if (compared === null) return undefined;
  const [, pin, sign, number] = compared as unknown as [string, string, string, string];
  if (pin === "told") return sign === ">" ? { inputAbove: Number(number) } : undefined;
  return { pin, [sign === "<" ? "below" : "above"]: Number(number) };
}

/** Writes a condition as words; undefined when words do not reach. */
export function printCondition(when: unknown): string | undefined {
  const c = when as Json;
  const parts = Array.isArray(c.any) ? (c.any as unknown[]) : [c];
  if (Array.isArray(c.any) && parts.length < 2) return undefined;
  const written = parts.map((p) => {
    const all = (p as Json).all;
    if (!Array.isArray(all)) return printTerm(p as Json);
    const terms = all.map((t) => printTerm(t as Json));
    return all.length < 2 || terms.includes(undefined) ? undefined : terms.join("&");
  });
  const text = written.includes(undefined) ? undefined : written.join("|");
  return text !== undefined && JSON.stringify(readCondition(text)) === JSON.stringify(when) ? text : undefined;
}

function printTerm(c: Json): string | undefined {
  if (c.not !== undefined) {
    const inner = printTerm(c.not as Json);
    return inner === undefined ? undefined : `!${inner}`;
  }
  for (const word of ["key", "engine"])
    if (Array.isArray(c[word])) return `${word}=${(c[word] as string[]).map((w) => w.replace("at speed", "atspeed")).join("/")}`;
  if (typeof c.pulsed === "string") return `${c.pulsed}=pulses`;
  if (typeof c.inputAbove === "number") return `told>${c.inputAbove}`;
  if (typeof c.pin !== "string") return undefined;
  return typeof c.below === "number" ? `${c.pin}<${c.below}` : typeof c.above === "number" ? `${c.pin}>${c.above}` : undefined;
}

const PIN = /(^|[\s,])pin\s+(\w{1,12})\s+([a-z]+)((?:\s+[A-Za-z]+=[^\s,]+)*)/g;

/**
 * Takes the pins said in words out of the parentheses and leaves blanks in their place. `value` reads what stands behind "=";
 * `fault` is told of what is wrong and where in the text.
 */
export function takePins(
  inside: string,
  value: (text: string) => unknown,
  fault: (message: string, from: number, to: number) => void,
): { readonly rest: string; readonly words: ModuleWords | undefined } {
  const words: ModuleWords = { pins: {}, rules: [] };
  const rest = inside.replace(PIN, (all, before: string, pin: string, sort: string, attributes: string, offset: number) => {
    if ((inside.slice(0, offset).split('"').length - 1) % 2 === 1) return all; // inside a quoted name
    const known = PIN_SORT_BY_WORD[sort];
    const at = offset + before.length;
    if (known === undefined)
      fault(`"${sort}" is not a sort of pin. Sorts are ${Object.keys(PIN_SORT_BY_WORD).join(", ")}.`, at, offset + all.length);
    if (words.pins[pin] !== undefined) fault(`Pin ${pin} is said twice. Keep one.`, at, offset + all.length);
    const made: Json = { sort: known ?? "input" };
    for (const attribute of attributes.trim().split(/\s+/).filter(Boolean)) {
      const [name, said] = [attribute.slice(0, attribute.indexOf("=")), attribute.slice(attribute.indexOf("=") + 1)];
      if (name === "when") {
        const when = readCondition(said);
        if (when === undefined)
          fault(`"${said}" is not a condition. Write such as when=8<4&key=run/crank|engine=idling`, at, offset + all.length);
        else words.rules.push({ pin, when });
      } else made[name] = value(said);
    }
    words.pins[pin] = made;
    return " ".repeat(all.length);
  });
  return { rest, words: Object.keys(words.pins).length > 0 ? words : undefined };
}

const SIMPLE = /^[A-Za-z][A-Za-z0-9-]*$/;

/** Pins and rules as words, and the settings that they do not cover; undefined when words would not give the same back. */
export function printPins(settings: Json): { readonly words: readonly string[]; readonly rest: Json } | undefined {
  const { pins, rules = [], ...rest } = settings as { pins?: Record<string, Json>; rules?: { pin: string; when: unknown }[] } & Json;
  if (pins === undefined || Object.keys(pins).length === 0) return undefined;
  const order: string[] = [];
  const words: string[] = [];
  for (const [pin, said] of Object.entries(pins)) {
    const { sort, ...more } = said;
    const word = WORD_OF_SORT.get(String(sort));
    const own = rules.filter((r) => r.pin === pin);
    const conditions = own.map((r) => printCondition(r.when));
    const values = Object.entries(more);
    if (word === undefined || conditions.includes(undefined) || values.some(([name, v]) => name === "when" || !isPlain(v)))
      return undefined;
    order.push(...own.map(() => pin));
    words.push(["pin", pin, word, ...values.map(([name, v]) => `${name}=${String(v)}`), ...conditions.map((c) => `when=${c}`)].join(" "));
  }
  const said = "rules" in settings;
  // Rules in another order than the pins would come back changed, and an empty list as none.
  if (order.join(" ") !== rules.map((r) => r.pin).join(" ") || said !== rules.length > 0) return undefined;
  return { words, rest };
}

const isPlain = (v: unknown): boolean => typeof v === "number" || typeof v === "boolean" || (typeof v === "string" && SIMPLE.test(v));
