import { type Component, deviceOf, type Harness, type PinRef, validateHarness } from "../harness/index.ts";
import { newHeader, readHeader } from "./header.ts";
import { createLocator, type NotationProblem, type Span } from "./problem.ts";
import { splitChains, type Chain, type Item } from "./split.ts";
import { componentFrom } from "./component.ts";
import { readPartItem, type PartItem, type PartWords } from "./part-item.ts";
import { looksLikeWire, readWireItem, type WireItem } from "./wire-item.ts";

/** Longest circuit text taken, in characters: some 4,000 wires. */
export const MAX_NOTATION_LENGTH = 200_000;

export interface ParseResult {
  /** Undefined when there is an error. */
  readonly harness: Harness | undefined;
  /** What was read, when it could be read at all, errors of the wiring included: what fixes apply to. */
  readonly draft?: Harness;
  readonly problems: readonly NotationProblem[];
}

interface Drawn {
  readonly item: Item;
  readonly content: PartItem | WireItem;
}

/** A chain with the page and the options of the lines that it stands among. */
interface DrawnChain {
  readonly items: readonly Drawn[];
  readonly sheet: string | undefined;
  readonly when: string | undefined;
  readonly via: readonly string[] | undefined;
}

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

  const header = newHeader();
  const drawn: DrawnChain[] = [];
  for (const chain of chains) {
    if (chain.some((item) => item.broken) || readHeader(chain, header, complain)) continue;
    drawn.push({ items: readChain(chain, complain), sheet: header.sheet, when: header.when, via: header.via });
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
    ...(header.vehicle === undefined ? {} : { vehicle: header.vehicle }),
    ...(header.options.length === 0 ? {} : { options: header.options }),
    ...(header.zones.length === 0 ? {} : { zones: header.zones }),
    ...(header.looms.length === 0 ? {} : { looms: header.looms }),
    ...(header.monitors.length === 0 ? {} : { monitors: header.monitors }),
  };
  if (chains.length === 0)
    complain("error", "empty", "There is no circuit yet. Start at the battery: BAT -- RD 2.5mm2 1m -- F1(10A)", { start: 0, end: 1 });
  if (problems.some((p) => p.severity === "error")) return { harness: undefined, problems: sorted(problems) };
  for (const p of validateHarness(harness)) {
    const span = parts.get(p.at.toLowerCase())?.span ?? { start: 0, end: 1 };
    problems.push({
      severity: p.severity,
      code: p.code,
      message: p.message,
      ...locate(span),
      ...(p.fix === undefined ? {} : { fix: p.fix }),
    });
  }
  const usable = !problems.some((p) => p.severity === "error");
  return { harness: usable ? harness : undefined, draft: harness, problems: sorted(problems) };
}

const sorted = (problems: readonly NotationProblem[]): NotationProblem[] =>
  [...problems].sort((p, q) => p.line - q.line || p.column - q.column);

type Complain = (severity: "error" | "warning", code: string, message: string, span: Span) => void;

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
function declareParts(drawn: readonly DrawnChain[], nominalVolts: number, complain: Complain): Map<string, Declared> {
  const mentions = new Map<string, { id: string; words: PartWords; span: Span }>();
  for (const { content, sheet, when } of drawn.flatMap((d) => d.items.map((i) => ({ ...i, sheet: d.sheet, when: d.when })))) {
    if (content.kind !== "part") continue;
    const known = mentions.get(content.id.toLowerCase());
    if (known === undefined)
      mentions.set(content.id.toLowerCase(), {
        id: content.id,
        words: { ...(sheet === undefined ? {} : { sheet }), ...(when === undefined ? {} : { when }), ...content.words },
        span: content.nameSpan,
      });
    else {
      for (const [key, value] of Object.entries(content.words)) {
        const before = known.words[key as keyof PartWords];
        if (key !== "settings" && before !== undefined && String(before) !== String(value)) {
          complain(
            "error",
            "said-twice",
            `${known.id} was said to be ${String(before)} before, and is ${String(value)} here. Keep one.`,
            content.nameSpan,
          );
        }
      }
      const settings = { ...known.words.settings, ...content.words.settings };
      Object.assign(known.words, content.words, Object.keys(settings).length > 0 ? { settings } : {});
    }
  }
  const parts = new Map<string, Declared>();
  for (const [key, m] of mentions) {
    const component = componentFrom(m.id, m.words, nominalVolts, (code, message) => complain("error", code, message, m.span));
    if (component !== undefined) parts.set(key, { component, span: m.span });
  }
  return parts;
}

/** Walks the chains and makes the wires and direct joints between the pins. */
function joinChains(drawn: readonly DrawnChain[], parts: Map<string, Declared>, complain: Complain): Pick<Harness, "wires" | "joints"> {
  const wires: Harness["wires"] = [];
  const joints: Harness["joints"] = [];
  const taken = new Set<string>();
  for (const { content } of drawn.flatMap((d) => d.items)) if (content.kind === "wire" && content.id !== undefined) taken.add(content.id);
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

  for (const { items: chain, sheet, when: whenAll, via } of drawn) {
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
        if (pending === undefined) joints.push({ from: last, to: enter, ...(whenAll === undefined ? {} : { when: whenAll }) });
        else {
          const w = pending.wire;
          const when = w.when ?? whenAll;
          const segments = w.segments.length > 0 ? w.segments : (via ?? []);
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
            ...(segments.length > 0 ? { segments: [...segments] } : {}),
            ...(when === undefined ? {} : { when }),
            ...(sheet === undefined ? {} : { sheet }),
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
      if (shape === null) return wrong(`"${said}" is not a cavity of ${part.id}. Cavities are numbers, such as ${part.id}.4`);
      return pin(shape[1]! + (shape[2] === "" ? (way === "enter" ? "a" : "b") : shape[2]!.toLowerCase()));
    }
    case "device": {
      const { device, settings } = deviceOf(part);
      const names = device.terminals(settings).map((t) => t.name);
      if (said === undefined && names.length === 2) return pin(names[way === "enter" ? 0 : 1]!);
      const found = names.find((n) => n.toLowerCase() === said?.toLowerCase());
      if (found !== undefined) return pin(found);
      return wrong(
        said === undefined
          ? `Which terminal of ${part.id}? Write it with a point, such as ${part.id}.${names[0]}. It has ${names.join(", ")}.`
          : `${part.id} has the terminals ${names.join(", ")}, not ${said}.`,
      );
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
