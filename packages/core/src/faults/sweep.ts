import { buildCircuit, type Circuit, type Fault, type VehicleState } from "../circuit/index.ts";
import { batteryPositive, type Harness, type PlaceId } from "../harness/index.ts";
import { type Change, type Element, type Point, prepare, solve } from "../solver/index.ts";
import type { SupposedFault } from "./catalogue.ts";

/** Resistance of a meter on volts between every observed place and battery negative, Ω: with it nothing that is observed floats. */
const METER_OHMS = 10e6;

export interface Sweep {
  readonly places: readonly PlaceId[];
  readonly states: readonly VehicleState[];
  /** One for each fault and severity, in the order of the catalogue. */
  readonly cases: readonly { readonly fault: SupposedFault; readonly ohms: number }[];
  /** V against battery negative without any fault: state after state, place after place. Size states × places. */
  readonly soundVolts: Float64Array;
  /** The same with each case's fault. Size cases × states × places. */
  readonly volts: Float64Array;
  /** 1 where a case has no answer in a state. Size cases × states. */
  readonly unsolved: Uint8Array;
  /** How many of the cases × states were found from the factors of the sound circuit, without a full solution. */
  readonly updated: number;
}

/** What every place reads with every single fault in every state. */
export function sweep(
  harness: Harness,
  catalogue: readonly SupposedFault[],
  states: readonly VehicleState[],
  places: readonly PlaceId[],
): Sweep {
  const cases = catalogue.flatMap((fault) => fault.severitiesOhms.map((ohms) => ({ fault, ohms })));
  const [count, width] = [states.length, places.length];
  const soundVolts = new Float64Array(count * width);
  const volts = new Float64Array(cases.length * count * width);
  const unsolved = new Uint8Array(cases.length * count);
  let updated = 0;
  states.forEach((state, s) => {
    const circuit = metered(buildCircuit(harness, state, []), places);
    const nodes = places.map((p) => circuit.nodeOf.get(p)!);
    const made = prepare(circuit.netlist);
    if (made.kind !== "prepared") {
      for (let c = 0; c < cases.length; c++) unsolved[c * count + s] = 1;
      return;
    }
    const write = (point: Point, into: Float64Array, at: number): void => nodes.forEach((n, i) => (into[at + i] = point.volts[n]!));
    write(made.prepared.base, soundVolts, s * width);
    cases.forEach(({ fault, ohms }, c) => {
      const supposed = fault.faultAt(ohms);
      const change = changeOf(circuit, supposed, harness);
      const quick = change === undefined ? undefined : made.prepared.withChange(change);
      const point = quick ?? inFull(harness, state, supposed, places);
      if (quick !== undefined) updated++;
      if (point === undefined) unsolved[c * count + s] = 1;
      else write(point, volts, (c * count + s) * width);
    });
  });
  return { places, states, cases, soundVolts, volts, unsolved, updated };
}

function metered(circuit: Circuit, places: readonly PlaceId[]): Circuit {
  const meters = places.flatMap((p): Element[] => {
    const node = circuit.nodeOf.get(p);
    if (node === undefined) throw new RangeError(`no place ${p} in this circuit`);
    return node === 0 ? [] : [{ id: `meter ${p}`, kind: "resistor", a: node, b: 0, ohms: METER_OHMS }];
  });
  return { ...circuit, netlist: { ...circuit.netlist, elements: [...circuit.netlist.elements, ...meters] } };
}

function inFull(harness: Harness, state: VehicleState, fault: Fault, places: readonly PlaceId[]): Point | undefined {
  const result = solve(metered(buildCircuit(harness, state, [fault]), places).netlist);
  return result.kind === "solved" ? result : undefined;
}

/** A fault as one changed conductance; undefined when it is not one. */
function changeOf(circuit: Circuit, fault: Fault, harness: Harness): Change | undefined {
  const node = (place: string): number => circuit.nodeOf.get(place as PlaceId)!;
  switch (fault.kind) {
    case "short to ground":
      return { a: node(fault.place), b: 0, siemens: 1 / fault.ohms };
    case "short to feed":
      return { a: node(fault.place), b: node(batteryPositive(harness)), siemens: 1 / fault.ohms };
    case "across":
      return { a: node(fault.from), b: node(fault.to), siemens: 1 / fault.ohms };
    case "open":
    case "series": {
      const index = circuit.elementOf.get(fault.link);
      // What is open already in this state stays as it is.
      if (index === undefined) return { a: 0, b: 0, siemens: 0 };
      const element = circuit.netlist.elements[index]!;
      if (element.kind !== "resistor") return undefined;
      return { a: element.a, b: element.b, siemens: (fault.kind === "open" ? 0 : 1 / (element.ohms + fault.ohms)) - 1 / element.ohms };
    }
  }
}
