import type { Circuit } from "../../circuit/index.ts";
import { conducts, curveOf, type Delta, type Element, type Prepared } from "../../solver/index.ts";

/** What can be read off a solved point, by node and element. */
export interface SolvedPoint {
  /** V by node index. */
  readonly volts: Float64Array;
  readonly amps: (id: string) => number;
  readonly closed: (id: string) => boolean;
}

function elementIn(circuit: Circuit, delta: Delta, id: string): Element | undefined {
  const added = delta.added?.find((e) => e.id === id);
  if (added !== undefined) return added;
  const index = circuit.elementOf.get(id);
  if (index === undefined) return undefined;
  return delta.replaced?.has(index) === true ? delta.replaced.get(index) : circuit.netlist.elements[index];
}

/** A through an element of a circuit with a change. */
function ampsIn(circuit: Circuit, delta: Delta, volts: Float64Array, closed: Uint8Array, id: string): number {
  const e = elementIn(circuit, delta, id);
  if (e === undefined) return 0;
  const index = circuit.elementOf.get(id);
  return curveOf(e, index !== undefined && closed[index] === 1)?.(volts[e.a]! - volts[e.b]!).amps ?? 0;
}

/** What can be read off a circuit with a change. */
export const pointWith = (circuit: Circuit, delta: Delta, { volts, closed }: { volts: Float64Array; closed: Uint8Array }): SolvedPoint => ({
  volts,
  amps: (id) => ampsIn(circuit, delta, volts, closed, id),
  closed: (id) => closedIn(circuit, delta, closed, id),
});

const closedIn = (circuit: Circuit, delta: Delta, closed: Uint8Array, id: string): boolean => {
  const index = circuit.elementOf.get(id);
  return conducts(elementIn(circuit, delta, id), index !== undefined && closed[index] === 1);
};

/** A by element index while nothing is changed. */
export function ampsByElement(circuit: Circuit, prepared: Prepared): Float64Array {
  return Float64Array.from(circuit.netlist.elements, (_, i) => prepared.base.amps[i] ?? 0);
}
