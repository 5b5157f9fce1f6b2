import { type Fault, faultSchema, REST_STATE, vehicleState, type VehicleState } from "@rheonom/core/circuit";
import { type Harness, linksOf, parsePlace } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { readFile, UsageError } from "./usage.ts";

/** Options that say in which state a circuit is and what is wrong with it. */
export const CIRCUIT_OPTIONS = {
  key: { type: "string" },
  engine: { type: "string" },
  on: { type: "string" },
  opened: { type: "string" },
  temperature: { type: "string" },
  fault: { type: "string", multiple: true },
} as const;

export interface CircuitValues {
  readonly key?: string | undefined;
  readonly engine?: string | undefined;
  readonly on?: string | undefined;
  readonly opened?: string | undefined;
  readonly temperature?: string | undefined;
  readonly fault?: string[] | undefined;
}

export function readCircuit(file: string): Harness {
  const { harness, problems } = parseNotation(readFile(file));
  if (harness !== undefined) return harness;
  throw new UsageError(
    problems
      .filter((p) => p.severity === "error")
      .map((p) => `${file}:${p.line}:${p.column} ${p.message}`)
      .join("\n"),
  );
}

const list = (text: string | undefined): string[] =>
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
  return parsed.data;
}

export function placeOf(harness: Harness, option: string, text: string | undefined): string {
  const answer = parsePlace(harness, text ?? "");
  if (answer.kind === "place") return answer.place;
  const near = answer.kind === "ambiguous" ? answer.choices : answer.nearest;
  throw new UsageError(
    `--${option}: ${text === undefined ? "a place is missing" : `"${text}" is no one place of this circuit`}. Near it: ${near.join(", ")}`,
  );
}

export function faultsOf(harness: Harness, values: CircuitValues): Fault[] {
  return (values.fault ?? []).map((words) => {
    const parts = /^(open|series|short to ground|short to feed)\s+(\S+)(?:\s+(\S+))?$/.exec(words.trim());
    if (parts === null)
      throw new UsageError(
        `--fault "${words}" is not understood. Write "open W5", "series C21.4 0.11", "short to ground F3.2 0.2" or "short to feed FAN.1 1".`,
      );
    const [, kind, at, ohms] = parts as unknown as [string, string, string, string | undefined];
    const where = kind.startsWith("short") ? { place: placeOf(harness, "fault", at) } : { link: at };
    if ("link" in where && !linksOf(harness).some((l) => l.id === at))
      throw new UsageError(`--fault "${words}": the circuit has nothing called ${at}.`);
    const fault = faultSchema.safeParse({ kind, ...where, ...(kind === "open" ? {} : { ohms: Number(ohms) }) });
    if (!fault.success) throw new UsageError(`--fault "${words}": the resistance must be a number above 0, in ohms.`);
    return fault.data;
  });
}
