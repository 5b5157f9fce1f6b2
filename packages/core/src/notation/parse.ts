import { type Component, type Harness, type PinRef, validateHarness } from "../harness/index.ts";
import { createLocator, type NotationProblem, type Span } from "./problem.ts";
import { splitChains, type Chain, type Item } from "./split.ts";
import { kindOfName, readPartItem, type PartItem, type PartKind, type PartWords } from "./part-item.ts";
import { looksLikeWire, readWireItem, type WireItem } from "./wire-item.ts";

/** Longest circuit text taken, in characters: some 4,000 wires. */
export const MAX_NOTATION_LENGTH = 200_000;

export interface ParseResult {
  /** Undefined when there is an error. */
  readonly harness: Harness | undefined;
  readonly problems: readonly NotationProblem[];
}

interface Drawn {
  readonly item: Item;
  readonly content: PartItem | WireItem;
}

const DEFAULT_NOMINAL = 12;

/**
 * Reads a circuit text. Lines are chains of parts and wires joined by "--":
 *
 *     BAT -- RD 16mm2 1.2m -- F3(60A) -- RD/YE 4mm2 2m -- C12.4 -- RD/YE 4mm2 0.8m -- FAN(motor 22A) -- BK 4mm2 0.6m -- G5
 *     G1 -- BK 25mm2 0.5m -- BAT
 *
 * A part without a pin is entered at pin 1 (side a, battery negative) and left at pin 2 (side b, battery positive).
 * docs/formats/notation.md describes the whole language.
 */
export function parseNotation(text: string): ParseResult {
  if (text.length > MAX_NOTATION_LENGTH) {
    const message = `This text has ${text.length.toLocaleString("en")} characters; a circuit text has at most ${MAX_NOTATION_LENGTH.toLocaleString("en")}. Paste only the circuit.`;
    return { harness: undefined, problems: [{ severity: "error", code: "too-long", message, line: 1, column: 1, length: 1 }] };
  }
  const locate = createLocator(text);
  const problems: NotationProblem[] = [];
  const complain = (severity: "error" | "warning", code: string, message: string, span: Span): void => {
    problems.push({ severity, code, message, ...locate(span) });
  };

  const { chains, complaints } = splitChains(text);
  for (const c of complaints) complain("error", c.code, c.message, c.span);

  const header = { name: "Circuit", nominalVolts: DEFAULT_NOMINAL as Harness["nominalVolts"] };
  const drawn: Drawn[][] = [];
  for (const chain of chains) {
    if (readHeader(chain, header, complain) || chain.some((item) => item.broken)) continue;
    drawn.push(readChain(chain, complain));
  }

  const parts = declareParts(drawn, header.nominalVolts, complain);
  const lines = joinChains(drawn, parts, complain);
  const harness: Harness = {
    format: "rheonom-harness",
    version: 1,
    name: header.name,
    nominalVolts: header.nominalVolts,
    components: [...parts.values()].map((p) => p.component),
    wires: lines.wires,
    joints: lines.joints,
  };
  if (chains.length === 0)
    complain("error", "empty", "There is no circuit yet. Start at the battery: BAT -- RD 2.5mm2 1m -- F1(10A)", { start: 0, end: 1 });
  if (problems.some((p) => p.severity === "error")) return { harness: undefined, problems: sorted(problems) };
  for (const p of validateHarness(harness)) {
    complain(p.severity, p.code, p.message, parts.get(p.at.toLowerCase())?.span ?? { start: 0, end: 1 });
  }
  const usable = !problems.some((p) => p.severity === "error");
  return { harness: usable ? harness : undefined, problems: sorted(problems) };
}

const sorted = (problems: readonly NotationProblem[]): NotationProblem[] =>
  [...problems].sort((p, q) => p.line - q.line || p.column - q.column);

type Complain = (severity: "error" | "warning", code: string, message: string, span: Span) => void;

/** `circuit "name"` and `nominal 24V`. True when the chain was one of them. */
function readHeader(chain: Chain, header: { name: string; nominalVolts: Harness["nominalVolts"] }, complain: Complain): boolean {
  if (chain.length !== 1) return false;
  const item = chain[0]!;
  const name = /^circuit\s+"([^"]*)"?$/i.exec(item.text);
  if (name !== null) {
    header.name = name[1]!.slice(0, 120);
    return true;
  }
  const nominal = /^nominal\s+(\S+)$/i.exec(item.text);
  if (nominal === null) return false;
  const value = Number(/^(\d+)\s*v?$/i.exec(nominal[1]!)?.[1]);
  if (value === 6 || value === 12 || value === 24 || value === 48) header.nominalVolts = value;
  else complain("error", "nominal", `"${nominal[1]}" is no nominal voltage. Use 6, 12, 24 or 48 V.`, item);
  return true;
}

function readChain(chain: Chain, complain: Complain): Drawn[] {
  return chain.flatMap((item) => {
    const content = looksLikeWire(item.text) ? readWireItem(item, complain) : readPartItem(item, complain);
    return content === undefined ? [] : [{ item, content }];
  });
}

interface Declared {
  readonly component: Component;
  /** The first mention. */
  readonly span: Span;
}

/** Gathers what every mention says of each part; parts keep the order of first mention. Keys are lower case. */
function declareParts(drawn: readonly Drawn[][], nominalVolts: number, complain: Complain): Map<string, Declared> {
  const mentions = new Map<string, { id: string; words: PartWords; span: Span }>();
  for (const { content } of drawn.flat()) {
    if (content.kind !== "part") continue;
    const known = mentions.get(content.id.toLowerCase());
    if (known === undefined)
      mentions.set(content.id.toLowerCase(), { id: content.id, words: { ...content.words }, span: content.nameSpan });
    else {
      for (const [key, value] of Object.entries(content.words)) {
        const before = known.words[key as keyof PartWords];
        if (before !== undefined && String(before) !== String(value)) {
          complain(
            "error",
            "said-twice",
            `${known.id} was said to be ${String(before)} before, and is ${String(value)} here. Keep one.`,
            content.nameSpan,
          );
        }
      }
      Object.assign(known.words, content.words);
    }
  }
  const parts = new Map<string, Declared>();
  for (const [key, m] of mentions) {
    const component = componentFrom(m.id, m.words, nominalVolts, (code, message) => complain("error", code, message, m.span));
    if (component !== undefined) parts.set(key, { component, span: m.span });
  }
  return parts;
}

function componentFrom(
  id: string,
  words: PartWords,
  nominalVolts: number,
  fault: (code: string, message: string) => void,
): Component | undefined {
  const rated = words.amps ?? words.watts ?? words.ohms;
  const kind: PartKind | undefined = words.kind ?? kindOfName(id) ?? (rated === undefined ? undefined : "load");
  const shared = { id, ...(words.label === undefined ? {} : { label: words.label }), ...(words.at === undefined ? {} : { at: words.at }) };
  if (kind === undefined) {
    fault("unknown-part", `What is ${id}? Say it once in parentheses, such as ${id}(motor 12A) or ${id}(switch).`);
    return undefined;
  }
  switch (kind) {
    case "battery": {
      const scale = nominalVolts / 12;
      return {
        ...shared,
        kind,
        restVolts: words.volts ?? 12.6 * scale,
        internalOhms: words.ohms ?? 0.008,
        chargeVolts: words.chargeVolts ?? 14.2 * scale,
        crankAmps: words.crankAmps ?? 200,
      };
    }
    case "fuse":
      if (words.amps === undefined && words.badRating === true) return undefined;
      if (words.amps === undefined) {
        fault("fuse-rating", `Fuse ${id} has no rating. Write it once, such as ${id}(15A).`);
        return undefined;
      }
      return { ...shared, kind, ratingAmps: words.amps };
    case "switch":
      return { ...shared, kind, closedBy: words.closedBy ?? "hand" };
    case "connector":
    case "splice":
      return { ...shared, kind };
    case "ground":
      return { ...shared, kind, on: words.on ?? "body" };
    case "load": {
      const rating =
        words.amps !== undefined
          ? { amps: words.amps }
          : words.watts !== undefined
            ? { watts: words.watts }
            : words.ohms !== undefined
              ? { ohms: words.ohms }
              : undefined;
      if (rating === undefined && words.badRating === true) return undefined;
      if (rating === undefined) {
        fault(
          "load-rating",
          `${id} has no rating. Write its current, power or resistance once, such as ${id}(${words.sort ?? "motor"} 12A).`,
        );
        return undefined;
      }
      return { ...shared, kind, sort: words.sort ?? "load", rating, pins: words.pins ?? ["1", "2"] };
    }
  }
}

/** Walks the chains and makes the wires and direct joints between the pins. */
function joinChains(drawn: readonly Drawn[][], parts: Map<string, Declared>, complain: Complain): Pick<Harness, "wires" | "joints"> {
  const wires: Harness["wires"] = [];
  const joints: Harness["joints"] = [];
  const taken = new Set<string>();
  for (const { content } of drawn.flat()) if (content.kind === "wire" && content.id !== undefined) taken.add(content.id);
  const used = new Set<string>();
  let counter = 0;
  const nameWire = (said: string | undefined, span: Span): string => {
    if (said !== undefined) {
      if (used.has(said)) complain("error", "wire-twice", `There are two wires ${said}. Give one another number.`, span);
      used.add(said);
      return said;
    }
    do counter++;
    while (taken.has(`W${counter}`));
    return `W${counter}`;
  };

  for (const chain of drawn) {
    if (chain.length === 1) {
      const only = chain[0]!;
      const bare = only.content.kind === "part" && Object.keys(only.content.words).length === 0;
      if (bare)
        complain(
          "error",
          "alone",
          `"${only.item.text}" stands alone. Join it with "--", such as ${only.item.text} -- BK 2.5mm2 1m -- G1`,
          only.item,
        );
      if (only.content.kind === "part") continue;
    }
    let last: PinRef | undefined;
    let pending: { wire: WireItem; item: Item } | undefined;
    for (const [index, { item, content }] of chain.entries()) {
      if (content.kind === "wire") {
        if (index === 0) complain("error", "wire-end", "A chain starts with a part, not with a wire. Name where this wire begins.", item);
        else if (pending !== undefined)
          complain("error", "two-wires", "Two wires meet with no part between. Put a splice there, such as S1, or a connector.", item);
        pending = { wire: content, item };
        continue;
      }
      const part = parts.get(content.id.toLowerCase())?.component;
      if (part === undefined) {
        last = undefined;
        pending = undefined;
        continue;
      }
      const enter = pinOf(part, content, "enter", complain);
      const leave = pinOf(part, content, "leave", complain);
      if (index > 0 && last !== undefined && enter !== undefined) {
        if (pending === undefined) joints.push({ from: last, to: enter });
        else {
          const w = pending.wire;
          if (!w.lengthSaid && w.areaMm2 !== undefined) {
            complain(
              "warning",
              "length-assumed",
              "No length given: 1 m is taken. Write it behind the area when you know it.",
              pending.item,
            );
          }
          wires.push({
            id: nameWire(w.id, pending.item),
            from: last,
            to: enter,
            ...(w.colour === undefined ? {} : { colour: w.colour }),
            areaMm2: w.areaMm2 ?? 1,
            lengthM: w.lengthM ?? 1,
            ...(w.lengthM === undefined ? { lengthAssumed: true } : {}),
          });
        }
      }
      pending = undefined;
      last = leave;
    }
    if (pending !== undefined)
      complain("error", "wire-end", "A chain ends with a part, not with a wire. Name where this wire ends, such as G1.", pending.item);
  }
  return { wires, joints };
}

/** The pin at which a chain enters or leaves a part. */
function pinOf(part: Component, content: PartItem, way: "enter" | "leave", complain: Complain): PinRef | undefined {
  const said = content.pin;
  const pin = (name: string): PinRef => ({ component: part.id, pin: name });
  const wrong = (message: string): undefined => {
    if (way === "enter") complain("error", "pin", message, content.nameSpan);
    return undefined;
  };
  switch (part.kind) {
    case "splice":
    case "ground":
      return said === undefined || said === "1" ? pin("1") : wrong(`${part.id} is one point and has no pin .${said}. Leave the pin out.`);
    case "battery":
      if (said === undefined) return pin(way === "enter" ? "-" : "+");
      return said === "+" || said === "-" ? pin(said) : wrong(`A battery has the posts ${part.id}.+ and ${part.id}.-, not .${said}.`);
    case "connector": {
      if (said === undefined) return wrong(`Which cavity of ${part.id}? Write it with a point, such as ${part.id}.4`);
      const shape = /^(\d{1,3})([abAB]?)$/.exec(said);
      if (shape === null) return wrong(`"${said}" is no cavity of ${part.id}. Cavities are numbers, such as ${part.id}.4`);
      return pin(shape[1]! + (shape[2] === "" ? (way === "enter" ? "a" : "b") : shape[2]!.toLowerCase()));
    }
    case "fuse":
    case "switch":
    case "load": {
      const pins = part.kind === "load" ? part.pins : (["1", "2"] as const);
      if (said === undefined) return pin(way === "enter" ? pins[0] : pins[1]);
      const found = pins.find((p) => p.toLowerCase() === said.toLowerCase());
      const hint = part.kind === "load" ? ` Its own names go in parentheses: ${part.id}(pins ${said} B).` : "";
      return found === undefined ? wrong(`${part.id} has the pins ${pins[0]} and ${pins[1]}, not ${said}.${hint}`) : pin(found);
    }
  }
}
