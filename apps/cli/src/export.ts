import { buildCircuit, describeState, printSpice } from "@rheonom/core/circuit";
import { solve } from "@rheonom/core/solver";
import { CIRCUIT_OPTIONS, faultsOf, readCircuit, stateOf } from "./circuit-options.ts";
import { readOptions, UsageError, type Output } from "./usage.ts";

/** `rheonom export FILE --spice`: a circuit in a state as SPICE text, so that anyone can check it elsewhere. */
export function exportCommand(args: readonly string[], out: Output, err: Output): number {
  const { file, values } = readOptions(args, { ...CIRCUIT_OPTIONS, spice: { type: "boolean" } });
  if (values.spice !== true) throw new UsageError("Say into what: --spice");
  const harness = readCircuit(file, values.options);
  const state = stateOf(harness, values);
  const { netlist } = buildCircuit(harness, state, faultsOf(harness, values));
  const rest = solve(netlist);
  // Contacts stand as they come to rest; where they never do, as in the first of their phases.
  const point = rest.kind === "solved" ? rest : rest.kind === "chatter" ? rest.points[0] : undefined;
  out.write(printSpice(netlist, `${harness.name}; ${describeState(state, harness)}`, ".op", point).text);
  if (rest.kind === "chatter")
    err.write(`No rest: ${rest.elements.join(", ")} open and close without end. Written as they stand in one phase.\n`);
  return 0;
}
