import { buildCircuit, type Fault, faultSchema, REST_STATE, vehicleState, type VehicleState } from "@rheonom/core/circuit";
import { type Harness, harnessSchema, linksOf, lookupOf, parsePlace, resolveVariant, validateHarness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { readFile, readJson, UsageError } from "./usage.ts";

/** Options that say in which state a circuit is and what is wrong with it. */
export const CIRCUIT_OPTIONS = {
  key: { type: "string" },
  engine: { type: "string" },
  on: { type: "string" },
  opened: { type: "string" },
  bridged: { type: "string", multiple: true },
  lamp: { type: "string", multiple: true },
  asleep: { type: "string" },
  input: { type: "string", multiple: true },
  temperature: { type: "string" },
  fault: { type: "string", multiple: true },
  options: { type: "string" },
} as const;

export interface CircuitValues {
  readonly key?: string | undefined;
  readonly engine?: string | undefined;
  readonly on?: string | undefined;
  readonly opened?: string | undefined;
  readonly bridged?: string[] | undefined;
  readonly lamp?: string[] | undefined;
  readonly asleep?: string | undefined;
  readonly input?: string[] | undefined;
  readonly temperature?: string | undefined;
  readonly fault?: string[] | undefined;
  readonly options?: string | undefined;
}

/** A circuit text, or a harness as JSON when the file's name ends so. `options`: what the vehicle has, with commas; all that the file knows when not said. */
export const readCircuit = (file: string, options?: string): Harness =>
  withOptions(file, readWhole(file), options === undefined ? undefined : list(options));

/** The vehicle that has these options; all that the circuit knows when not said. Throws UsageError for one that it does not. */
export function withOptions(file: string, whole: Harness, options: readonly string[] | undefined): Harness {
  const all = (whole.options ?? []).map((o) => o.id);
  const strange = options?.find((o) => !all.includes(o));
  if (strange !== undefined) throw new UsageError(`${file} has no option "${strange}". Options: ${all.join(", ") || "none"}.`);
  return all.length === 0 ? whole : resolveVariant(whole, options ?? all);
}

/** The same with every option still open, as it is written. */
export function readWhole(file: string): Harness {
  if (file.toLowerCase().endsWith(".json")) return readHarness(file);
  const { harness, problems } = parseNotation(readFile(file));
  if (harness !== undefined) return harness;
  throw new UsageError(
    problems
      .filter((p) => p.severity === "error")
      .map((p) => `${file}:${p.line}:${p.column} ${p.message}`)
      .join("\n"),
  );
}

function readHarness(file: string): Harness {
  const parsed = harnessSchema.safeParse(readJson(file));
  if (!parsed.success) throw new UsageError(parsed.error.issues.map((i) => `${file} at ${i.path.join(".")}: ${i.message}`).join("\n"));
  const errors = validateHarness(parsed.data).filter((p) => p.severity === "error");
  if (errors.length > 0) throw new UsageError(errors.map((p) => `${file} at ${p.at}: ${p.message}`).join("\n"));
  return parsed.data;
}

/** Names with commas between, sorted. */
export const list = (text: string | undefined): string[] =>
  (text ?? "")
    .split(",")
    .map((t) => t.trim())
    .filter((t) => t !== "")
    .sort();

export function stateOf(harness: Harness, values: CircuitValues): VehicleState {
  const parsed = vehicleState.safeParse({
    ...REST_STATE,
    ...(values.key === undefined ? {} : { key: values.key }),
    ...(values.engine === undefined ? {} : { engine: values.engine }),
    on: list(values.on),
    opened: list(values.opened),
    bridged: (values.bridged ?? []).map((text) => pairOf(harness, "bridged", text)),
    lamps: (values.lamp ?? []).map((text) => {
      const at = /^(.*):([\d.]+)$/.exec(text);
      if (at === null) throw new UsageError(`--lamp "${text}" is not understood. Write two places and watts, such as F3.1~F3.2:21`);
      return [...pairOf(harness, "lamp", at[1]!), Number(at[2])];
    }),
    asleep: list(values.asleep),
    inputs: Object.fromEntries(
      (values.input ?? []).map((text) => {
        const at = /^([A-Za-z]\w*)=(-?[\d.]+(?:e-?\d+)?)$/i.exec(text);
        if (at === null || !harness.components.some((c) => c.id === at[1]))
          throw new UsageError(`--input "${text}" is not understood. Write a part and a number, such as ECT=80`);
        return [at[1]!, Number(at[2])];
      }),
    ),
    ...(values.temperature === undefined ? {} : { temperatureC: Number(values.temperature) }),
  });
  if (!parsed.success)
    throw new UsageError(
      parsed.error.issues.map((i) => `--${i.path.join(".").replace("temperatureC", "temperature")}: ${i.message}`).join("\n"),
    );
  for (const id of parsed.data.on)
    if (!harness.components.some((c) => c.id === id && c.kind === "switch")) throw new UsageError(`--on: the circuit has no switch ${id}.`);
  for (const id of parsed.data.opened) {
    if (!harness.components.some((c) => c.id === id) && !linksOf(harness).some((l) => l.id === id))
      throw new UsageError(`--opened: the circuit has nothing called ${id}.`);
  }
  for (const id of parsed.data.asleep ?? [])
    if (!harness.components.some((c) => c.id === id && c.kind === "device"))
      throw new UsageError(`--asleep: the circuit has no module ${id}.`);
  return parsed.data;
}

function pairOf(harness: Harness, option: string, text: string): [string, string] {
  const [p, q, more] = text.split("~");
  if (q === undefined || more !== undefined)
    throw new UsageError(`--${option} "${text}" is not understood. Write two places, such as SW1.1~SW1.2`);
  return [placeOf(harness, option, p), placeOf(harness, option, q)];
}

export function placeOf(harness: Harness, option: string, text: string | undefined): string {
  const answer = parsePlace(harness, text ?? "");
  if (answer.kind === "place") return answer.place;
  const near = answer.kind === "ambiguous" ? answer.choices : answer.nearest;
  throw new UsageError(
    `--${option}: ${text === undefined ? "a place is missing" : `"${text}" does not name one place of this circuit`}. Near it: ${near.join(", ")}`,
  );
}

const FAULT_WORDS =
  'Write "open W5", "series C21.4 0.11", "short to ground F3.2 0.2", "short to feed FAN.1 1", "across C4.1a C4.2a 5", "stuck R7.contact closed", "splice S2 5" or "set BAT charge=0.2".';

export function faultsOf(harness: Harness, values: CircuitValues): Fault[] {
  return (values.fault ?? []).map((words) => faultOf(harness, words.trim()));
}

function faultOf(harness: Harness, words: string): Fault {
  const wrong = (why: string): UsageError => new UsageError(`--fault "${words}"${why}`);
  const link = (id: string): string => {
    // Parts inside a device, such as "STA.strap", are no links of the wiring.
    if (!linksOf(harness).some((l) => l.id === id) && !partsOf(harness).has(id)) throw wrong(`: the circuit has nothing called ${id}.`);
    return id;
  };
  const checked = (fault: unknown): Fault => {
    const parsed = faultSchema.safeParse(fault);
    if (!parsed.success) throw wrong(": the resistance must be a number above 0, in ohms.");
    return parsed.data;
  };
  const splice = /^splice\s+(\S+)\s+(\S+)$/.exec(words);
  if (splice !== null) {
    if (lookupOf(harness).parts.get(splice[1]!)?.kind !== "splice") throw wrong(`: the circuit has no splice called ${splice[1]}.`);
    return checked({ kind: "splice", splice: splice[1], ohms: Number(splice[2]) });
  }
  const m =
    /^(?:(open)\s+(.+)|(series)\s+(.+?)(?:\s+([\d.e+-]+))?|(short to ground|short to feed)\s+(\S+)(?:\s+(\S+))?|(across)\s+(\S+)\s+(\S+)\s+(\S+)|(stuck)\s+(.+)\s+(open|closed)|(set)\s+(\w+)\s+(.+))$/.exec(
      words,
    );
  if (m === null) throw wrong(` is not understood. ${FAULT_WORDS}`);
  if (m[1] !== undefined) return { kind: "open", link: link(m[2]!) };
  if (m[3] !== undefined) return checked({ kind: "series", link: link(m[4]!), ohms: Number(m[5]) });
  if (m[6] !== undefined) return checked({ kind: m[6], place: placeOf(harness, "fault", m[7]), ohms: Number(m[8]) });
  if (m[9] !== undefined)
    return checked({ kind: "across", from: placeOf(harness, "fault", m[10]), to: placeOf(harness, "fault", m[11]), ohms: Number(m[12]) });
  if (m[13] !== undefined) return { kind: "stuck", link: link(m[14]!), closed: m[15] === "closed" };
  return setFault(harness, m[17]!, m[18]!, wrong);
}

/** "BAT charge=0.2 wear=1": settings of a battery, fuse or device that are not what they should be. */
function setFault(harness: Harness, component: string, words: string, wrong: (why: string) => UsageError): Fault {
  const settings = Object.fromEntries(
    (words.match(/(?:[^\s"]|"[^"]*")+/g) ?? []).map((pair) => {
      // A value with blanks stands in quotes.
      const at = /^(\w+)=(?:"([^"]*)"|([^"]+))$/.exec(pair);
      if (at === null) throw wrong(`: "${pair}" is not a setting. Write it as name=value, and a value with blanks as name="two words".`);
      const [name, quoted, bare] = [at[1]!, at[2], at[3]!];
      const value = Number(bare);
      return [name, quoted ?? (bare === "true" ? true : bare === "false" ? false : Number.isNaN(value) ? bare : value)];
    }),
  );
  const fault: Fault = { kind: "settings", component, settings };
  try {
    buildCircuit(harness, REST_STATE, [fault]);
  } catch (error) {
    if (error instanceof RangeError) throw wrong(`: ${error.message}`);
    throw error;
  }
  return fault;
}

/** Names of all elements of a circuit, those inside devices among them, with every contact and transistor there. */
const partsOf = (harness: Harness): ReadonlySet<string> =>
  new Set([...buildCircuit(harness, { ...REST_STATE, key: "run", engine: "at speed" }, []).elementOf.keys()]);
