import { CircuitExplorer } from "../../explore/circuit-explorer.tsx";
import { useVehicle } from "./vehicle-context.ts";

/** The slice for a question: typed, picked, or in the address. */
export function CircuitTab() {
  const { harness, whole, options, state, volts, ask, query, id } = useVehicle();
  return <CircuitExplorer {...{ harness, whole, options, state, volts, ask, query }} name={id} />;
}
