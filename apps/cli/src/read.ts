import { linkOf } from "@rheonom/core/harness";
import { displayText, type Leads, predictReading } from "@rheonom/core/instruments";
import { CIRCUIT_OPTIONS, faultsOf, placeOf, readCircuit, stateOf } from "./circuit-options.ts";
import { readOptions, UsageError, type Output } from "./usage.ts";

/** `rheonom read FILE`: places an instrument and says what it shows. */
export function readCommand(args: readonly string[], out: Output, err: Output): number {
  const { file, values } = readOptions(args, {
    ...CIRCUIT_OPTIONS,
    red: { type: "string" },
    black: { type: "string", default: "-" },
    around: { type: "string" },
    quantity: { type: "string", default: "volts" },
    json: { type: "boolean" },
  });
  const harness = readCircuit(file);
  const state = stateOf(harness, values);
  const leads = ((): Leads => {
    if (values.around !== undefined) {
      const link = linkOf(harness, values.around);
      if (link === undefined) throw new UsageError(`--around: the circuit has nothing called ${values.around}.`);
      return { quantity: "amps", around: link.id };
    }
    if (values.quantity !== "volts" && values.quantity !== "ohms")
      throw new UsageError("--quantity is volts or ohms; a clamp is placed with --around.");
    return { quantity: values.quantity, red: placeOf(harness, "red", values.red), black: placeOf(harness, "black", values.black) };
  })();
  const reading = predictReading(harness, state, faultsOf(harness, values), leads);
  if (values.json === true) out.write(`${JSON.stringify(reading)}\n`);
  else {
    switch (reading.kind) {
      case "value":
        out.write(`${displayText(reading.quantity, reading.value)}\n`);
        break;
      case "over":
        out.write("OL\n");
        break;
      case "void":
        out.write("void: circuit is live\n");
        break;
      case "unsolved":
        err.write(`The circuit has no answer: ${reading.why} at ${reading.at}\n`);
    }
  }
  return reading.kind === "unsolved" ? 1 : 0;
}
