import { z } from "zod";
import { faultSchema, REST_STATE, vehicleState, type VehicleState } from "@rheonom/core/circuit";
import { linkOf, lookupOf, type Harness } from "@rheonom/core/harness";

/** What is done to the simulated vehicle by hand. */
export type Command =
  | { readonly do: "state"; readonly state: VehicleState }
  | { readonly do: "faults"; readonly faults: readonly z.infer<typeof faultSchema>[] }
  /** Undefined: nothing is moved any more. */
  | { readonly do: "move"; readonly at: string | undefined }
  | { readonly do: "crank" }
  /** So many cycles of key on, drive, key off. */
  | { readonly do: "drive"; readonly cycles: number }
  | { readonly do: "tell" };

export type ReadCommand = { readonly kind: "command"; readonly command: Command } | { readonly kind: "bad"; readonly message: string };

const asJson = z.discriminatedUnion("do", [
  z.object({ do: z.literal("state"), state: vehicleState }),
  z.object({ do: z.literal("faults"), faults: z.array(faultSchema).max(20) }),
  z.object({ do: z.literal("move"), at: z.string().max(40).optional() }),
  z.object({ do: z.literal("crank") }),
  z.object({ do: z.literal("drive"), cycles: z.number().int().min(1).max(100) }),
  z.object({ do: z.literal("tell") }),
]);

export const COMMAND_HELP = `key off|accessory|run · crank · engine stopped|idling|"at speed" · on SW1 · off SW1 · unplug C4 · plug C4
move LOOM-OR-PLUG · still · temperature 5 · input ECT 80 · drive [CYCLES] · tell · quit`;

/** A JSON object of the given shape; `bad` says in words what is wrong with it. */
export function readJson<T>(
  text: string,
  shape: z.ZodType<T>,
): { readonly kind: "json"; readonly data: T } | { readonly kind: "bad"; readonly message: string } {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return { kind: "bad", message: error instanceof Error ? error.message : "no JSON" };
  }
  const read = shape.safeParse(data);
  return read.success
    ? { kind: "json", data: read.data }
    : { kind: "bad", message: read.error.issues.map((i) => `${i.path.join(".")}: ${i.message}`).join("; ") };
}

/** Reads one line: a JSON object for programs, or words for people. The state's changes are made from the state as it is. */
export function readCommand(line: string, harness: Harness, state: VehicleState): ReadCommand {
  const text = line.trim();
  const bad = (message: string): ReadCommand => ({ kind: "bad", message });
  if (text.startsWith("{")) {
    const read = readJson(text, asJson);
    if (read.kind === "bad") return read;
    const command: Command = read.data.do === "move" ? { do: "move", at: read.data.at } : read.data;
    return { kind: "command", command };
  }
  const [verb = "", ...rest] = text.split(/\s+/);
  const what = rest.join(" ");
  const set = (change: Partial<VehicleState>): ReadCommand => {
    const read = vehicleState.safeParse({ ...state, ...change });
    return read.success
      ? { kind: "command", command: { do: "state", state: read.data } }
      : bad(read.error.issues.map((i) => i.message).join("; "));
  };
  const exists = (id: string): boolean => lookupOf(harness).parts.has(id) || linkOf(harness, id) !== undefined;
  switch (verb.toLowerCase()) {
    case "key":
      return set({ key: what as VehicleState["key"], ...(what === "run" ? {} : { engine: "stopped" as const }) });
    case "engine":
      return set({ engine: what.replaceAll('"', "") as VehicleState["engine"], ...(what === "stopped" ? {} : { key: "run" as const }) });
    case "on":
      return exists(what) ? set({ on: [...new Set([...state.on, what])] }) : bad(`There is no ${what} on this vehicle.`);
    case "off":
      return set({ on: state.on.filter((x) => x !== what) });
    case "unplug":
      return exists(what) ? set({ opened: [...new Set([...state.opened, what])] }) : bad(`There is no ${what} on this vehicle.`);
    case "plug":
      return set({ opened: state.opened.filter((x) => x !== what) });
    case "temperature":
      return set({ temperatureC: Number(what) });
    case "input":
      return set({ inputs: { ...state.inputs, [rest[0] ?? ""]: Number(rest[1]) } });
    case "move":
      return what === "" ? bad("move what? A loom, a plug, a ground or a part.") : { kind: "command", command: { do: "move", at: what } };
    case "still":
      return { kind: "command", command: { do: "move", at: undefined } };
    case "crank":
      return { kind: "command", command: { do: "crank" } };
    case "drive": {
      const cycles = what === "" ? 1 : Number(what);
      return Number.isInteger(cycles) && cycles >= 1 && cycles <= 100
        ? { kind: "command", command: { do: "drive", cycles } }
        : bad("drive a whole number of cycles, 1 to 100.");
    }
    case "tell":
      return { kind: "command", command: { do: "tell" } };
    default:
      return bad(`“${verb}” is not a command. ${COMMAND_HELP}`);
  }
}

/** How a simulated vehicle begins: key off, everything plugged in. */
export const startState = (temperatureC: number): VehicleState => ({ ...REST_STATE, temperatureC });
