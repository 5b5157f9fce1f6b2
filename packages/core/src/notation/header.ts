import {
  EXPOSURES,
  type Exposure,
  type Harness,
  type Loom,
  type Monitor,
  type Option,
  type Spot,
  type Vehicle,
  type Zone,
} from "../harness/index.ts";
import type { Chain, Item } from "./split.ts";
import type { Span } from "./problem.ts";
import { readValue } from "./values.ts";

type Complain = (severity: "error" | "warning", code: string, message: string, span: Span) => void;

/** What the lines say that are no chains. */
export interface Header {
  name: string;
  nominalVolts: Harness["nominalVolts"];
  vehicle?: Vehicle;
  readonly options: Option[];
  readonly zones: Zone[];
  readonly looms: Loom[];
  readonly monitors: Monitor[];
  /** Page and options that the lines below belong to. */
  sheet?: string;
  when?: string;
  /** Segments of loom that wires run through when they name none. */
  via?: readonly string[];
}

/** What a text is read into before its first line. */
export const newHeader = (): Header => ({ name: "Circuit", nominalVolts: 12, options: [], zones: [], looms: [], monitors: [] });

export const SHORT_NAME = /^[A-Za-z][A-Za-z0-9_-]{0,23}$/;
export const WHEN = /^!?[A-Za-z][A-Za-z0-9_-]{0,23}(&!?[A-Za-z][A-Za-z0-9_-]{0,23}){0,5}$/;

interface Token {
  readonly text: string;
  readonly quoted: boolean;
  readonly span: Span;
}

const tokensOf = (item: Item): Token[] =>
  [...item.text.matchAll(/"([^"]*)"|[^\s"]+/g)].map((m) => ({
    text: m[1] ?? m[0],
    quoted: m[1] !== undefined,
    span: { start: item.start + m.index, end: item.start + m.index + m[0].length },
  }));

/** Reads a line that is no chain. False when the line is one. */
export function readHeader(chain: Chain, header: Header, complain: Complain): boolean {
  if (chain.length !== 1) return false;
  const [word, ...rest] = tokensOf(chain[0]!);
  if (word === undefined || word.quoted) return false;
  const read = READERS[word.text.toLowerCase()];
  if (read === undefined) return false;
  read(rest, header, (message, span) => complain("error", word.text.toLowerCase(), message, span ?? chain[0]!));
  return true;
}

/** Places of a zone on the plan of the vehicle at most. */
const MOST_SPOTS = 8;
const SPOT = /^(\d{1,3}),(-?\d{1,3}),(\d{1,3})$/;
export const SPOT_HELP =
  "Where it is on the plan: plan 60,-90,20 for 60 % of the length from the front, 90 % to the left of the middle (right: 90), 20 % of the height.";
const isSpot = (t: Token | undefined): boolean => t !== undefined && !t.quoted && readSpots(t.text) !== undefined;

/** Spots on the plan as they are written, parted by blanks; undefined when any of them is none. */
export function readSpots(text: string): Spot[] | undefined {
  const spots = text
    .trim()
    .split(/\s+/)
    .map((word) => {
      const [along, across, height] = SPOT.exec(word)?.slice(1).map(Number) ?? [];
      return along === undefined || along > 100 || Math.abs(across!) > 100 || height! > 100
        ? undefined
        : { along, across: across!, height: height! };
    });
  return spots.includes(undefined) ? undefined : (spots as Spot[]);
}
/** The same spots as text. */
export const printSpots = (plan: readonly Spot[]): string => plan.map((s) => `${s.along},${s.across},${s.height}`).join(" ");

type Fault = (message: string, span?: Span) => void;
type Reader = (tokens: readonly Token[], header: Header, fault: Fault) => void;

const READERS: Record<string, Reader | undefined> = {
  circuit: (tokens, header, fault) => {
    if (tokens.length !== 1) return fault('A name stands in quotes, such as circuit "Horn".');
    header.name = tokens[0]!.text.slice(0, 120);
  },
  nominal: (tokens, header, fault) => {
    const value = Number(/^(\d+)v?$/i.exec(tokens.map((t) => t.text).join(""))?.[1]);
    if (value === 6 || value === 12 || value === 24 || value === 48) header.nominalVolts = value;
    else fault(`"${tokens.map((t) => t.text).join(" ")}" is not a nominal voltage. Use 6, 12, 24 or 48 V.`);
  },
  vehicle: (tokens, header, fault) => {
    const [make, model, engine] = tokens.filter((t) => t.quoted).map((t) => t.text);
    const years = tokens.find((t) => !t.quoted)?.text;
    if (make === undefined || make === "" || model === undefined)
      return fault('Write make and model in quotes, such as vehicle "Selwick" "Plover" 2018-2024 "2.0 diesel".');
    header.vehicle = {
      make: make.slice(0, 40),
      model: model.slice(0, 60),
      ...(years === undefined ? {} : { years: years.slice(0, 20) }),
      ...(engine === undefined ? {} : { engine: engine.slice(0, 60) }),
    };
  },
  option: (tokens, header, fault) => {
    const id = named(tokens, header.options, fault, 'option fridge "cold body"');
    if (id !== undefined) header.options.push({ id, text: quoted(tokens, id) });
  },
  zone: (tokens, header, fault) => {
    const id = named(tokens, header.zones, fault, 'zone sill "left sill" 4min water');
    if (id === undefined) return;
    let minutes = 5;
    let outOfBounds: string | undefined;
    const plan: Spot[] = [];
    const exposure: Exposure[] = [];
    for (let i = 1; i < tokens.length; i++) {
      const t = tokens[i]!;
      const said = minutesIn(t);
      if (t.quoted) continue;
      if (said !== undefined) minutes = said;
      else if (t.text === "closed" && tokens[i + 1]?.quoted === true) {
        outOfBounds = tokens[i + 1]!.text.slice(0, 80);
        i++;
      } else if (t.text === "plan") {
        while (isSpot(tokens[i + 1])) plan.push(...(readSpots(tokens[++i]!.text) ?? []));
        if (plan.length === 0) fault(SPOT_HELP, t.span);
      } else if (isExposure(t.text)) exposure.push(t.text);
      else fault(`"${t.text}" says nothing about a zone. Minutes are 4min; exposure is ${EXPOSURES.join(", ")}. ${SPOT_HELP}`, t.span);
    }
    if (plan.length > MOST_SPOTS) fault(`A zone has at most ${MOST_SPOTS} places on the plan.`);
    const text = quoted(tokens, id);
    header.zones.push({
      id,
      text,
      minutes,
      exposure,
      ...(outOfBounds === undefined ? {} : { outOfBounds }),
      ...(plan.length === 0 ? {} : { plan: plan.slice(0, MOST_SPOTS) }),
    });
  },
  loom: (tokens, header, fault) => {
    const id = named(tokens, header.looms, fault, 'loom dash "behind the dash" in cab rub crosses "edge of the bulkhead"');
    if (id === undefined) return;
    const exposure: Exposure[] = [];
    let zone: string | undefined;
    let crosses: string | undefined;
    for (let i = 1; i < tokens.length; i++) {
      const t = tokens[i]!;
      const next = tokens[i + 1];
      if (t.quoted) continue;
      if (t.text === "in" && next !== undefined) {
        zone = next.text;
        i++;
      } else if (t.text === "crosses" && next?.quoted === true) {
        crosses = next.text.slice(0, 80);
        i++;
      } else if (isExposure(t.text)) exposure.push(t.text);
      else fault(`"${t.text}" says nothing about a loom. Write in ZONE, crosses "what", or ${EXPOSURES.join(", ")}.`, t.span);
    }
    const text = quoted(tokens, id);
    header.looms.push({ id, text, ...(zone === undefined ? {} : { zone }), exposure, ...(crosses === undefined ? {} : { crosses }) });
  },
  code: readCode,
  sheet: (tokens, header) => {
    if (tokens[0] === undefined) delete header.sheet;
    else header.sheet = tokens[0].text.slice(0, 40);
  },
  via: (tokens, header, fault) => {
    const named = (tokens[0]?.text ?? "").split(",").filter(Boolean);
    const wrong = named.find((n) => !SHORT_NAME.test(n));
    if (wrong !== undefined)
      return fault(`"${wrong}" cannot name a segment of loom. Write names with commas: via dash,door`, tokens[0]!.span);
    if (named.length === 0) delete header.via;
    else header.via = named;
  },
  if: (tokens, header, fault) => {
    if (tokens[0] === undefined) delete header.when;
    else if (WHEN.test(tokens[0].text)) header.when = tokens[0].text;
    else fault(`"${tokens[0].text}" is not an option. Write if fridge, if !fridge, if fridge&tow, and if alone to end.`, tokens[0].span);
  },
};

const isExposure = (text: string): text is Exposure => (EXPOSURES as readonly string[]).includes(text);
const quoted = (tokens: readonly Token[], otherwise: string): string => tokens.find((t) => t.quoted)?.text.slice(0, 80) ?? otherwise;

/** Minutes from a word such as 5min, 0…600; undefined when it is not one. */
export function minutesIn(t: { readonly text: string }): number | undefined {
  const m = /^(\d+(?:\.\d+)?)min$/i.exec(t.text);
  return m === null || Number(m[1]) > 600 ? undefined : Number(m[1]);
}

function named(tokens: readonly Token[], list: readonly { readonly id: string }[], fault: Fault, example: string): string | undefined {
  const first = tokens[0];
  if (first === undefined || first.quoted || !SHORT_NAME.test(first.text)) {
    fault(`A short name comes first, such as: ${example}`, first?.span);
    return undefined;
  }
  if (list.some((x) => x.id === first.text)) {
    fault(`${first.text} is explained twice. Keep one.`, first.span);
    return undefined;
  }
  return first.text;
}

/** `code P0118 ECM.B6 above 4.8V for 2s "Coolant temperature too high"` or `code U0100 BCM silent ECM "No word from …"`. */
function readCode(tokens: readonly Token[], header: Header, fault: Fault): void {
  const [code, at] = tokens;
  if (code === undefined || !/^[PCBU][0-9A-F]{4}(-[0-9A-F]{2})?$/.test(code.text))
    return fault(`"${code?.text ?? ""}" is not a trouble code. Codes are a letter of P, C, B, U and four digits 0-9, A-F, such as P0118.`);
  const where = at === undefined || at.quoted ? null : /^([A-Za-z]\w{0,23})(?:\.(\w{1,12}))?$/.exec(at.text);
  if (where === null) return fault(`Which module sets ${code.text}? Write it behind the code, such as code ${code.text} ECM.B6`);
  const made: Monitor = { code: code.text, module: where[1]!, ...(where[2] === undefined ? {} : { pin: where[2] }), text: "" };
  for (let i = 2; i < tokens.length; i++) {
    const t = tokens[i]!;
    const next = tokens[i + 1];
    const number = next === undefined ? undefined : readValue(next.text);
    if (t.quoted) made.text = t.text.slice(0, 120);
    else if ((t.text === "above" || t.text === "below") && number?.kind === "value") {
      made[t.text === "above" ? "aboveVolts" : "belowVolts"] = number.value;
      i++;
    } else if (t.text === "for" && /^\d+(\.\d+)?s$/.test(next?.text ?? "")) {
      made.seconds = Number(next!.text.slice(0, -1));
      i++;
    } else if (t.text === "silent" && next !== undefined) {
      made.silent = next.text;
      i++;
    } else
      fault(`"${t.text}" says nothing about a code. Write above 4.8V, below 0.2V, for 2s, silent MODULE, and a text in quotes.`, t.span);
  }
  header.monitors.push(made);
}

/** A free text in quotes; quotes within it and ends of line are what the notation cannot say, and become ' and a blank. */
export const quote = (text: string): string => `"${text.replaceAll('"', "'").replace(/[\r\n]+/g, " ")}"`;

/** The lines of everything that is no chain; reading them gives the same again. */
export function printHeader(h: Harness): string[] {
  const lines = [`circuit ${quote(h.name)}`, `nominal ${h.nominalVolts}V`];
  const v = h.vehicle;
  if (v !== undefined) {
    const engine = v.engine === undefined ? [] : [quote(v.engine)];
    lines.push(["vehicle", quote(v.make), quote(v.model), ...(v.years === undefined ? [] : [v.years]), ...engine].join(" "));
  }
  for (const o of h.options ?? []) lines.push(`option ${o.id} ${quote(o.text)}`);
  for (const z of h.zones ?? [])
    lines.push(
      [
        "zone",
        z.id,
        quote(z.text),
        `${z.minutes}min`,
        ...z.exposure,
        ...(z.outOfBounds === undefined ? [] : ["closed", quote(z.outOfBounds)]),
        ...(z.plan === undefined ? [] : ["plan", printSpots(z.plan)]),
      ].join(" "),
    );
  for (const l of h.looms ?? [])
    lines.push(
      [
        "loom",
        l.id,
        quote(l.text),
        ...(l.zone === undefined ? [] : ["in", l.zone]),
        ...l.exposure,
        ...(l.crosses === undefined ? [] : ["crosses", quote(l.crosses)]),
      ].join(" "),
    );
  return lines;
}

/** Lines of the trouble codes that the circuit's modules watch for. */
export function printMonitors(h: Harness): string[] {
  return (h.monitors ?? []).map((m) =>
    [
      "code",
      m.code,
      m.module + (m.pin === undefined ? "" : `.${m.pin}`),
      ...(m.aboveVolts === undefined ? [] : ["above", `${m.aboveVolts}V`]),
      ...(m.belowVolts === undefined ? [] : ["below", `${m.belowVolts}V`]),
      ...(m.seconds === undefined ? [] : ["for", `${m.seconds}s`]),
      ...(m.silent === undefined ? [] : ["silent", m.silent]),
      quote(m.text),
    ].join(" "),
  );
}
