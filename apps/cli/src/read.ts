import type { Fault, VehicleState } from "@rheonom/core/circuit";
import { type Harness, linkOf } from "@rheonom/core/harness";
import {
  displayText,
  type Leads,
  measure,
  observe,
  type Placement,
  predictReading,
  predictShown,
  predictTrace,
  type Reading,
  silentModules,
} from "@rheonom/core/instruments";
import { CIRCUIT_OPTIONS, faultsOf, placeOf, readCircuit, stateOf } from "./circuit-options.ts";
import { readOptions, UsageError, type Output } from "./usage.ts";

interface Asked {
  readonly red?: string | undefined;
  readonly black?: string | undefined;
  readonly around?: string | undefined;
  readonly quantity?: string | undefined;
  readonly instrument?: string | undefined;
  readonly scope?: string | undefined;
  readonly resolution?: string | undefined;
  readonly probe?: string | undefined;
  readonly json?: boolean | undefined;
}

/** `rheonom read FILE`: places an instrument and says what it shows. */
export function readCommand(args: readonly string[], out: Output, err: Output): number {
  const { file, values } = readOptions(args, {
    ...CIRCUIT_OPTIONS,
    red: { type: "string" },
    black: { type: "string", default: "-" },
    around: { type: "string" },
    quantity: { type: "string", default: "volts" },
    instrument: { type: "string" },
    scope: { type: "string" },
    resolution: { type: "string" },
    probe: { type: "string", default: "1" },
    look: { type: "boolean" },
    json: { type: "boolean" },
  });
  const harness = readCircuit(file, values.options);
  const state = stateOf(harness, values);
  const faults = faultsOf(harness, values);
  if (values.look === true) return look(harness, state, faults, values.json === true, out, err);
  if (values.scope !== undefined) return trace(harness, state, faults, values, out, err);
  if (values.instrument !== undefined) return shown(harness, state, faults, values, out, err);
  const reading = predictReading(harness, state, faults, leadsOf(harness, values));
  if (values.json === true) out.write(`${JSON.stringify(reading)}\n`);
  else say(reading, out, err);
  return reading.kind === "unsolved" ? 1 : 0;
}

function leadsOf(harness: Harness, values: Asked): Leads {
  if (values.around !== undefined) return { quantity: "amps", around: linkNamed(harness, values.around) };
  if (values.quantity !== "volts" && values.quantity !== "ohms")
    throw new UsageError("--quantity is volts or ohms; a clamp is placed with --around.");
  return { quantity: values.quantity, red: placeOf(harness, "red", values.red), black: placeOf(harness, "black", values.black) };
}

function linkNamed(harness: Harness, id: string): string {
  const link = linkOf(harness, id);
  if (link === undefined) throw new UsageError(`--around: the circuit has nothing called ${id}.`);
  return link.id;
}

function say(reading: Reading, out: Output, err: Output): void {
  switch (reading.kind) {
    case "value":
      out.write(`${displayText(reading.quantity, reading.value)}\n`);
      return;
    case "over":
      out.write("OL\n");
      return;
    case "void":
      out.write(reading.why === "live" ? "void: circuit is live\n" : "void: no instrument may touch an igniter\n");
      return;
    case "unsolved":
      if (reading.between === undefined) err.write(`The circuit has no answer: ${reading.why} at ${reading.at}\n`);
      else
        err.write(`It swings from ${reading.between.map((v) => v.toFixed(2)).join(" to ")}: ${reading.at} opens and closes without end.\n`);
  }
}

const INSTRUMENTS = ["lamp5", "lamp21", "led", "continuity", "probe-feed", "probe-ground"] as const;

function shown(harness: Harness, state: VehicleState, faults: readonly Fault[], values: Asked, out: Output, err: Output): number {
  const name = INSTRUMENTS.find((i) => i === values.instrument);
  if (name === undefined) throw new UsageError(`--instrument is one of ${INSTRUMENTS.join(", ")}; a meter needs no word.`);
  const red = placeOf(harness, "red", values.red);
  const black = placeOf(harness, "black", values.black);
  const placement = ((): Placement => {
    switch (name) {
      case "lamp5":
      case "lamp21":
        return { instrument: "lamp", watts: name === "lamp5" ? 5 : 21, red, black };
      case "led":
        return { instrument: "led tester", red, black };
      case "continuity":
        return { instrument: "continuity", red, black };
      case "probe-feed":
      case "probe-ground":
        return { instrument: "powered probe", tip: red, gives: name === "probe-feed" ? "feed" : "ground" };
    }
  })();
  const seen = predictShown(harness, state, faults, placement);
  if (values.json === true) out.write(`${JSON.stringify(seen)}\n`);
  else {
    switch (seen.kind) {
      case "light":
        out.write(`${seen.look}: ${displayText("volts", seen.volts)}, ${displayText("amps", seen.amps)}\n`);
        break;
      case "led":
        out.write(seen.lit === "none" ? "dark\n" : `lit for ${seen.lit}: ${(1000 * Math.abs(seen.amps)).toFixed(1)} mA\n`);
        break;
      case "beep":
        out.write(seen.beeps ? `beeps: ${displayText("ohms", seen.ohms)}\n` : "no beep\n");
        break;
      case "probe":
        out.write(
          `${seen.tripped ? "tripped" : "holds"}: ${displayText("volts", seen.volts)} at the tip, ${displayText("amps", seen.amps)}\n`,
        );
        break;
      case "void":
      case "unsolved":
        say(seen, out, err);
    }
  }
  return seen.kind === "unsolved" ? 1 : 0;
}

function trace(harness: Harness, state: VehicleState, faults: readonly Fault[], values: Asked, out: Output, err: Output): number {
  const seconds = Number(values.scope);
  const resolutionS = values.resolution === undefined ? seconds / 1000 : Number(values.resolution);
  if (!(seconds > 0 && resolutionS > 0 && seconds / resolutionS >= 2 && seconds / resolutionS <= 1e6))
    throw new UsageError(
      "--scope and --resolution are seconds, with 2 to 1,000,000 points between them, such as --scope 0.1 --resolution 1e-5",
    );
  if (values.probe !== "1" && values.probe !== "10") throw new UsageError("--probe is 1 or 10.");
  const at =
    values.around === undefined
      ? { red: placeOf(harness, "red", values.red), black: placeOf(harness, "black", values.black) }
      : { around: linkNamed(harness, values.around) };
  const result = predictTrace(harness, state, faults, { at, probe: values.probe === "1" ? 1 : 10, seconds, resolutionS });
  if (result.kind === "void") return (say({ kind: "void", why: result.why }, out, err), 0);
  if (result.kind === "unsolved") {
    err.write(`The course stops at ${result.atS} s: ${result.why.kind}\n`);
    return 1;
  }
  if (values.json === true) out.write(`${JSON.stringify(measure(result))}\n`);
  else {
    const head = values.around === undefined ? "time_s,V" : "time_s,A";
    const rows = Array.from(result.values, (v, i) => `${Number((i * resolutionS).toPrecision(9))},${Number(v.toPrecision(7))}`);
    out.write(`${[head, ...rows].join("\n")}\n`);
  }
  return 0;
}

function look(harness: Harness, state: VehicleState, faults: readonly Fault[], json: boolean, out: Output, err: Output): number {
  const seen = observe(harness, state, faults);
  if (!Array.isArray(seen)) {
    err.write(`The circuit has no answer: ${seen.kind}\n`);
    return 1;
  }
  const silent = silentModules(harness, state, faults);
  if (json) out.write(`${JSON.stringify({ seen, silent })}\n`);
  else {
    for (const { component, sight } of seen) {
      const words = Object.entries(sight).map(([key, value]) =>
        key === "kind" ? String(value) : `${key} ${typeof value === "number" ? Number(value.toPrecision(3)) : String(value)}`,
      );
      out.write(`${component.padEnd(12)} ${words.join(", ")}\n`);
    }
    if (silent.length > 0) out.write(`silent on the bus: ${silent.join(", ")}\n`);
  }
  return 0;
}
