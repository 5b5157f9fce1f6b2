import { buildCircuit, type BuildOptions, type Circuit, type Fault, type VehicleState } from "../circuit/index.ts";
import { type Harness, linkOf, linksOf, type PlaceId } from "../harness/index.ts";
import { type Element, prepare, solve, type SolveResult } from "../solver/index.ts";
import type { Leads, Reading } from "./leads.ts";

/** Input resistance of a digital meter on volts, Ω. */
const METER_OHMS = 10e6;
/** The meter on ohms: open-circuit voltage in V behind a resistance in Ω, and the highest resistance it shows, Ω. */
const OHMS_TEST_VOLTS = 3;
const OHMS_TEST_INTERNAL = 1e4;
const OHMS_RANGE = 40e6;
/** Voltage between the leads above which ohms are void. */
const LIVE_VOLTS = 0.05;

/**
 * What an instrument would show: (circuit, state, faults, leads) → reading. The meter's own loading is part of the
 * circuit, so that an open wire reads as it does in the bay. Throws RangeError for places that the harness does not hold.
 */
export function predictReading(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  leads: Leads,
  options: BuildOptions = {},
): Reading {
  switch (leads.quantity) {
    case "volts":
      return readVolts(harness, state, faults, leads.red, leads.black, options);
    case "ohms":
      return readOhms(harness, state, faults, leads.red, leads.black);
    case "amps":
      return readAmps(harness, state, faults, leads.around, options);
  }
}

function solved(circuit: Circuit, extra: Element | undefined): Extract<SolveResult, { kind: "solved" }> | Reading {
  const elements = extra === undefined ? circuit.netlist.elements : [...circuit.netlist.elements, extra];
  const result = solve({ nodes: circuit.netlist.nodes, elements });
  if (result.kind === "singular") return { kind: "unsolved", why: "singular", at: result.node };
  if (result.kind === "diverged") return { kind: "unsolved", why: "diverged", at: result.element };
  if (result.kind === "chatter") return { kind: "unsolved", why: "chatter", at: result.elements.join(", ") };
  return result;
}

function nodesOf(circuit: Circuit, red: string, black: string): readonly [number, number] {
  const find = (p: string): number => {
    const found = circuit.nodeOf.get(p as PlaceId);
    if (found === undefined) throw new RangeError(`no place ${p} in this circuit`);
    return found;
  };
  return [find(red), find(black)];
}

function readVolts(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  red: string,
  black: string,
  options: BuildOptions,
): Reading {
  const circuit = buildCircuit(harness, state, faults, options);
  const [p, q] = nodesOf(circuit, red, black);
  if (p === q) return { kind: "value", quantity: "volts", value: 0 };
  const result = solved(circuit, { id: "meter", kind: "resistor", a: p, b: q, ohms: METER_OHMS });
  if (result.kind !== "solved") return result;
  const held = result.floating[p] === 1 && result.floating[q] === 1;
  return { kind: "value", quantity: "volts", value: held ? 0 : result.volts[p]! - result.volts[q]! };
}

/**
 * Volts between two places as a function of a resistance added in series to a link, Ω → V. Made once, it answers from the factors of the sound circuit;
 * only where that is not good enough is the faulty circuit solved in full.
 */
export function voltsBySeries(
  harness: Harness,
  state: VehicleState,
  link: string,
  red: string,
  black: string,
  options: BuildOptions = {},
): (addedOhms: number) => number {
  const inFull = (ohms: number): number => {
    const reading = readVolts(harness, state, [{ kind: "series", link, ohms }], red, black, options);
    return reading.kind === "value" ? reading.value : 0;
  };
  const circuit = buildCircuit(harness, state, [], options);
  const [p, q] = nodesOf(circuit, red, black);
  const index = circuit.elementOf.get(link);
  const element = index === undefined ? undefined : circuit.netlist.elements[index];
  if (element?.kind !== "resistor" || p === q) return inFull;
  const elements: Element[] = [...circuit.netlist.elements, { id: "meter", kind: "resistor", a: p, b: q, ohms: METER_OHMS }];
  const made = prepare({ nodes: circuit.netlist.nodes, elements });
  if (made.kind !== "prepared") return inFull;
  return (ohms) => {
    const point = made.prepared.withChange({ a: element.a, b: element.b, siemens: 1 / (element.ohms + ohms) - 1 / element.ohms });
    return point === undefined ? inFull(ohms) : point.volts[p]! - point.volts[q]!;
  };
}

function readOhms(harness: Harness, state: VehicleState, faults: readonly Fault[], red: string, black: string): Reading {
  const live = readVolts(harness, state, faults, red, black, {});
  if (live.kind !== "value") return live;
  if (Math.abs(live.value) > LIVE_VOLTS) return { kind: "void", why: "live" };
  const dead = buildCircuit(harness, state, faults, { dead: true });
  const [p, q] = nodesOf(dead, red, black);
  if (p === q) return { kind: "value", quantity: "ohms", value: 0 };
  const meter: Element = { id: "meter", kind: "source", a: p, b: q, volts: OHMS_TEST_VOLTS, internalOhms: OHMS_TEST_INTERNAL };
  const result = solved(dead, meter);
  if (result.kind !== "solved") return result;
  const current = -result.amps.at(-1)!;
  const ohms = (result.volts[p]! - result.volts[q]!) / current;
  const apart = result.floating[p] === 1 || result.floating[q] === 1;
  return apart || !(ohms < OHMS_RANGE) ? { kind: "over", quantity: "ohms" } : { kind: "value", quantity: "ohms", value: ohms };
}

function readAmps(harness: Harness, state: VehicleState, faults: readonly Fault[], around: string, options: BuildOptions): Reading {
  const circuit = buildCircuit(harness, state, faults, options);
  const index = circuit.elementOf.get(around);
  if (index === undefined) {
    if (linkOf(harness, around) === undefined) throw new RangeError(`nothing called ${around} in this circuit`);
    return { kind: "value", quantity: "amps", value: 0 };
  }
  const result = solved(circuit, undefined);
  if (result.kind !== "solved") return result;
  return { kind: "value", quantity: "amps", value: result.amps[index]! };
}

/** Potentials of all places and currents of all links in one go, for drawing. */
export interface Prediction {
  /** V against battery negative; undefined where the place floats. */
  readonly volts: ReadonlyMap<PlaceId, number | undefined>;
  /** A from a to b by link id; 0 where the link is open. */
  readonly amps: ReadonlyMap<string, number>;
}

export function predictAll(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  options: BuildOptions = {},
): Prediction | Reading {
  const circuit = buildCircuit(harness, state, faults, options);
  const result = solved(circuit, undefined);
  if (result.kind !== "solved") return result;
  const volts = new Map([...circuit.nodeOf].map(([p, n]) => [p, result.floating[n] === 1 ? undefined : result.volts[n]!]));
  const amps = new Map(
    linksOf(harness).map((l) => {
      const index = circuit.elementOf.get(l.id);
      return [l.id, index === undefined ? 0 : result.amps[index]!];
    }),
  );
  return { volts, amps };
}
