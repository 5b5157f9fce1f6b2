import { type Coupling, type Element, type Netlist, type Wave, waveAt } from "../../solver/index.ts";
import { spiceStatements, type Statement } from "./lines.ts";
import { spiceNumber } from "./values.ts";

export interface SpiceProblem {
  /** Counting from 1. */
  readonly line: number;
  readonly message: string;
}

export interface TransientWish {
  readonly printS: number;
  readonly stopS: number;
  readonly startS: number;
  readonly longestS: number | undefined;
  readonly fromInitial: boolean;
}

export interface SpiceFile {
  readonly title: string;
  /** Node 0 is "0" (or "gnd"); names are as in the file, letter case apart from the first mention's. */
  readonly netlist: Netlist;
  readonly transient: TransientWish | undefined;
}

export type SpiceResult =
  { readonly kind: "read"; readonly file: SpiceFile } | { readonly kind: "problems"; readonly problems: readonly SpiceProblem[] };

interface Model {
  readonly kind: "d" | "sw";
  readonly values: ReadonlyMap<string, number>;
}

class Fault extends Error {}

const KNOWN: Record<Model["kind"], readonly string[]> = { d: ["is", "n", "rs"], sw: ["vt", "vh", "ron", "roff"] };

/** Reads the primitives R C L K V I D S with .model D and SW, .op, .tran and .ic-free initial values. Anything else is said, by line. */
export function readSpice(text: string): SpiceResult {
  const { title, statements } = spiceStatements(text);
  const problems: SpiceProblem[] = [];
  const attempt = <T>(s: Statement, work: () => T): T | undefined => {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof Fault)) throw error;
      problems.push({ line: s.line, message: error.message });
      return undefined;
    }
  };
  const models = new Map<string, Model>();
  for (const s of statements) if (/^\.model$/i.test(s.words[0]!)) attempt(s, () => readModel(s, models));

  const nodes = ["0"];
  const indexOf = new Map([
    ["0", 0],
    ["gnd", 0],
  ]);
  const node = (name: string | undefined): number => {
    if (name === undefined) throw new Fault("A node is missing at the end of this line.");
    const key = name.toLowerCase();
    const known = indexOf.get(key);
    if (known !== undefined) return known;
    indexOf.set(key, nodes.length);
    return nodes.push(name) - 1;
  };
  const elements: Element[] = [];
  const couplings: Coupling[] = [];
  const taken = new Set<string>();
  let transient: TransientWish | undefined;
  for (const s of statements) {
    attempt(s, () => {
      const first = s.words[0]!;
      if (first.startsWith(".")) {
        if (/^\.tran$/i.test(first)) transient = readTransient(s);
        else if (!/^\.(model|op|options?|save|print|probe|title)$/i.test(first))
          throw new Fault(`${first} is not understood. Known: .model .op .tran .end`);
        return;
      }
      if (taken.has(first.toLowerCase())) throw new Fault(`There are two elements ${first}. Give one another name.`);
      taken.add(first.toLowerCase());
      if (/^k/i.test(first)) couplings.push(readCoupling(s));
      else elements.push(...readElement(s, node, models, () => nodes.push(`${first}#inner`) - 1));
    });
  }
  for (const c of couplings) {
    for (const id of [c.first, c.second]) {
      if (!elements.some((e) => e.kind === "inductor" && e.id.toLowerCase() === id.toLowerCase()))
        problems.push({ line: 1, message: `${c.id} couples ${id}, which is not an inductor of this file.` });
    }
  }
  if (elements.length === 0 && problems.length === 0)
    problems.push({ line: 1, message: "There is no element in this file. The first line is the title." });
  if (problems.length > 0) return { kind: "problems", problems: problems.sort((p, q) => p.line - q.line) };
  const named = (id: string): string => elements.find((e) => e.id.toLowerCase() === id.toLowerCase())!.id;
  const netlist = { nodes, elements, couplings: couplings.map((c) => ({ ...c, first: named(c.first), second: named(c.second) })) };
  return { kind: "read", file: { title, netlist, transient } };
}

function value(word: string | undefined, what: string): number {
  if (word === undefined) throw new Fault(`${what} is missing at the end of this line.`);
  const read = spiceNumber(word);
  if (read === undefined) throw new Fault(`"${word}" is not a number for ${what}.`);
  return read;
}

function positive(word: string | undefined, what: string): number {
  const read = value(word, what);
  if (!(read > 0)) throw new Fault(`${what} must be above 0, not ${word}.`);
  return read;
}

/** Reads "NAME = value" pairs from a word on. */
function pairs(words: readonly string[], from: number): Map<string, number> {
  const found = new Map<string, number>();
  for (let i = from; i < words.length; i += 3) {
    if (words[i + 1] !== "=") throw new Fault(`"${words[i]}" stands where NAME=value was expected.`);
    found.set(words[i]!.toLowerCase(), value(words[i + 2], words[i]!));
  }
  return found;
}

function readModel(s: Statement, models: Map<string, Model>): void {
  const [, name, type] = s.words;
  if (name === undefined || type === undefined) throw new Fault(".model needs a name and a type, such as .model DX D(IS=1e-14)");
  const kind = type.toLowerCase();
  if (kind !== "d" && kind !== "sw") throw new Fault(`Models of type ${type} are not understood. Known: D and SW.`);
  const values = pairs(s.words, 3);
  for (const key of values.keys()) {
    if (!KNOWN[kind].includes(key))
      throw new Fault(
        `${key.toUpperCase()} of a ${type} model is not understood, and leaving it out would change the answer. Known: ${KNOWN[kind].join(" ").toUpperCase()}`,
      );
  }
  models.set(name.toLowerCase(), { kind, values });
}

function modelOf(models: ReadonlyMap<string, Model>, name: string | undefined, kind: Model["kind"]): ReadonlyMap<string, number> {
  const found = models.get(name?.toLowerCase() ?? "");
  if (found === undefined) throw new Fault(name === undefined ? "The model's name is missing." : `There is no .model ${name}.`);
  if (found.kind !== kind) throw new Fault(`.model ${name} is of another type.`);
  return found.values;
}

function readElement(
  s: Statement,
  node: (name: string | undefined) => number,
  models: ReadonlyMap<string, Model>,
  inner: () => number,
): Element[] {
  const [id, n1, n2, ...rest] = s.words as [string, ...string[]];
  const ends = { id, a: node(n1), b: node(n2) };
  switch (id[0]!.toLowerCase()) {
    case "r": {
      const ohms = value(rest[0], "the resistance");
      if (ohms === 0) throw new Fault("A resistance of 0 is not a resistor. Use a voltage source of 0 V.");
      return [{ ...ends, kind: "resistor", ohms }];
    }
    case "c": {
      const initial = initialOf(rest);
      return [
        {
          ...ends,
          kind: "capacitor",
          farads: positive(rest[0], "the capacitance"),
          ...(initial === undefined ? {} : { initialVolts: initial }),
        },
      ];
    }
    case "l": {
      const initial = initialOf(rest);
      return [
        {
          ...ends,
          kind: "inductor",
          henries: positive(rest[0], "the inductance"),
          ...(initial === undefined ? {} : { initialAmps: initial }),
        },
      ];
    }
    case "v": {
      const { rest: volts, wave } = readSource(rest);
      return [{ ...ends, kind: "source", volts, internalOhms: 0, ...(wave === undefined ? {} : { wave }) }];
    }
    case "i": {
      const { rest: amps, wave } = readSource(rest);
      return [{ ...ends, kind: "current", amps, ...(wave === undefined ? {} : { wave }) }];
    }
    case "d": {
      const model = modelOf(models, rest[0], "d");
      if (rest.length > 1) throw new Fault(`"${rest[1]}" behind the model's name is not understood.`);
      const series = model.get("rs") ?? 0;
      const junction = series > 0 ? inner() : ends.a;
      const diode: Element = {
        ...ends,
        a: junction,
        kind: "diode",
        saturationAmps: model.get("is") ?? 1e-14,
        emission: model.get("n") ?? 1,
      };
      return series > 0 ? [diode, { id: `${id}#rs`, kind: "resistor", a: ends.a, b: junction, ohms: series }] : [diode];
    }
    case "s": {
      const model = modelOf(models, rest[2], "sw");
      const [threshold, half] = [model.get("vt") ?? 0, model.get("vh") ?? 0];
      return [
        {
          ...ends,
          kind: "switch",
          rule: {
            kind: "watcher",
            pace: "contact",
            plus: node(rest[0]),
            minus: node(rest[1]),
            rises: threshold + half,
            falls: threshold - half,
            starts: /^on$/i.test(rest[3] ?? ""),
          },
          onOhms: model.get("ron") ?? 1,
          offOhms: model.get("roff") ?? 1e12,
        },
      ];
    }
    default:
      throw new Fault(`Elements of type ${id[0]!.toUpperCase()} are not understood. Known: R C L K V I D S.`);
  }
}

function initialOf(rest: readonly string[]): number | undefined {
  if (rest.length === 1) return undefined;
  const found = pairs(rest, 1);
  const ic = found.get("ic");
  if (ic === undefined || found.size > 1) throw new Fault(`"${rest.slice(1).join(" ")}" is not understood; only IC=value may follow.`);
  return ic;
}

function readCoupling(s: Statement): Coupling {
  const [id, first, second, factor] = s.words;
  if (first === undefined || second === undefined) throw new Fault("A coupling names two inductors and a factor: K1 L1 L2 0.98");
  const k = value(factor, "the coupling factor");
  if (!(k > 0 && k <= 1)) throw new Fault(`The coupling factor must be above 0 and at most 1, not ${factor}.`);
  return { id: id!, first, second, factor: k };
}

/** "12", "DC 12", "PULSE ...", "DC 0 SIN ...": the value at rest and the course. */
function readSource(words: readonly string[]): { readonly rest: number; readonly wave: Wave | undefined } {
  let at = 0;
  let dc: number | undefined;
  if (/^dc$/i.test(words[at] ?? "")) dc = value(words[++at], "the DC value");
  else if (words[at] !== undefined && spiceNumber(words[at]!) !== undefined) dc = spiceNumber(words[at]!);
  if (dc !== undefined) at++;
  const shape = words[at]?.toLowerCase();
  if (shape === undefined) return { rest: dc ?? 0, wave: undefined };
  const given = words.slice(at + 1).map((w) => value(w, `the ${shape.toUpperCase()} values`));
  const wave = waveOf(shape, given);
  return { rest: dc ?? waveAt(wave, 0), wave };
}

function waveOf(shape: string, v: readonly number[]): Wave {
  switch (shape) {
    case "pulse":
      if (v.length < 7) throw new Fault("PULSE needs its seven values here: low high delay rise fall width period.");
      return {
        kind: "pulse",
        low: v[0]!,
        high: v[1]!,
        delayS: v[2]!,
        riseS: Math.max(v[3]!, 1e-12),
        fallS: Math.max(v[4]!, 1e-12),
        widthS: v[5]!,
        periodS: v[6]!,
      };
    case "sin":
      if (v.length < 3) throw new Fault("SIN needs offset, amplitude and frequency.");
      return { kind: "sine", offset: v[0]!, amplitude: v[1]!, hertz: v[2]!, delayS: v[3] ?? 0, dampingPerS: v[4] ?? 0 };
    case "pwl": {
      if (v.length < 2 || v.length % 2 === 1) throw new Fault("PWL needs pairs of time and value.");
      const points = Array.from({ length: v.length / 2 }, (_, i) => [v[2 * i]!, v[2 * i + 1]!] as const);
      if (points.some(([t], i) => i > 0 && t <= points[i - 1]![0])) throw new Fault("The times of PWL must rise.");
      return { kind: "corners", points };
    }
    default:
      throw new Fault(`A source of shape ${shape.toUpperCase()} is not understood. Known: DC PULSE SIN PWL.`);
  }
}

function readTransient(s: Statement): TransientWish {
  const words = s.words.filter((w) => !/^uic$/i.test(w));
  const printS = positive(words[1], "the print step");
  const stopS = positive(words[2], "the stop time");
  return {
    printS,
    stopS,
    startS: words[3] === undefined ? 0 : value(words[3], "the start time"),
    longestS: words[4] === undefined ? undefined : positive(words[4], "the longest step"),
    fromInitial: words.length < s.words.length,
  };
}
