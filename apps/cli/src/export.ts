import { buildCircuit, describeState, printSpice } from "@rheonom/core/circuit";
import { CIRCUIT_OPTIONS, faultsOf, readCircuit, stateOf } from "./circuit-options.ts";
import { readOptions, UsageError, type Output } from "./usage.ts";

/** `rheonom export FILE --spice`: a circuit in a state as SPICE text, so that anyone can check it elsewhere. */
export function exportCommand(args: readonly string[], out: Output): number {
  const { file, values } = readOptions(args, { ...CIRCUIT_OPTIONS, spice: { type: "boolean" } });
  if (values.spice !== true) throw new UsageError("Say into what: --spice");
  const harness = readCircuit(file);
  const state = stateOf(harness, values);
  const { netlist } = buildCircuit(harness, state, faultsOf(harness, values));
  out.write(printSpice(netlist, `${harness.name}; ${describeState(state)}`).text);
  return 0;
}
