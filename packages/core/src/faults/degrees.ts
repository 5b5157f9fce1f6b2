import { buildCircuit, deltaOfAll, REST_STATE, speaking, type Fault, type VehicleState } from "../circuit/index.ts";
import { busMembersOf, type Harness } from "../harness/index.ts";
import { createSolver, prepare } from "../solver/index.ts";
import { insulated } from "./sweep.ts";

/** Multiples of the resistance that a link's current sees, V/I: from a drop that rule sets object to, over half of the voltage, to open for all but an ohmmeter. */
const MULTIPLES = [0.004, 0.012, 0.04, 0.12, 0.4, 1.2, 4, 40, 1000] as const;
/** What carries amperes carries milliamps as well, a warning lamp's or a field's: open for them, and for what a module or meter still sees through it, is only beyond some ten thousand ohms. */
const OPEN_FOR_MILLIAMPS_OHMS = 20_000;
/** For what carries nothing that the model knows of, Ω. */
const WITHOUT_CURRENT = [1, 100, 1e4, 1e6] as const;
const LEAST_OHMS = 5e-4;
const MOST_OHMS = 1e6;
const LEAST_AMPS = 1e-6;

/**
 * Resistances worth supposing in an element, Ω, ascending: few, and as fine as its current needs. With 200 A they begin below a milliohm, with 2 A at some tens, in a line that carries
 * milliamps at tens of ohms.
 */
export const resistancesFor = (harness: Harness, element: string): readonly number[] =>
  resistancesAt(harness, mostAmpsOf(harness).get(element) ?? 0);

/** The same for a current, A. */
export function resistancesAt(harness: Harness, amps: number): readonly number[] {
  if (amps < LEAST_AMPS) return WITHOUT_CURRENT;
  const seen = harness.nominalVolts / amps;
  const own = MULTIPLES.map((m) => Number(Math.min(MOST_OHMS, Math.max(LEAST_OHMS, m * seen)).toPrecision(2)));
  return [...new Set(own.at(-1)! < OPEN_FOR_MILLIAMPS_OHMS / 3 ? [...own, OPEN_FOR_MILLIAMPS_OHMS] : own)];
}

const known = new WeakMap<Harness, ReadonlyMap<string, number>>();

/** The most that each element carries in the uses of a sound vehicle, A, by its id: everything switched on, at rest, idling and cranking, and while the modules of its buses speak. */
export function mostAmpsOf(harness: Harness): ReadonlyMap<string, number> {
  const made = known.get(harness) ?? gather(harness);
  known.set(harness, made);
  return made;
}

const USED = { phase: 0, fusesHold: true } as const;

function gather(harness: Harness): ReadonlyMap<string, number> {
  const on = harness.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : []));
  const cranks = harness.components.some(
    (c) => (c.kind === "switch" && c.closedBy === "crank") || (c.kind === "device" && c.device === "starter"),
  );
  const run: VehicleState = { ...REST_STATE, key: "run", on };
  const uses: readonly VehicleState[] = [
    run,
    { ...run, engine: "idling" },
    ...(cranks ? [{ ...run, key: "crank", engine: "cranking" } as const] : []),
  ];
  const most = new Map<string, number>();
  const carries = (id: string, amps: number): void => void most.set(id, Math.max(most.get(id) ?? 0, Math.abs(amps)));
  const solve = createSolver();
  const solved = (state: VehicleState, faults: readonly Fault[]): void => {
    const { netlist } = buildCircuit(harness, state, faults, USED);
    const found = solve(insulated(netlist));
    if (found.kind === "solved") netlist.elements.forEach((e, i) => carries(e.id, found.amps[i]!));
  };
  for (const state of uses) solved(state, []);
  whileSpeaking(harness, run, carries, (member) => solved(run, [member]));
  return most;
}

/** What the wires carry while one module after the other speaks, from the factors of the circuit in which all are silent; `inFull`: for a module with which that does not come to rest. */
function whileSpeaking(
  harness: Harness,
  run: VehicleState,
  carries: (id: string, amps: number) => void,
  inFull: (speaking: Fault) => void,
): void {
  const members = busMembersOf(harness);
  if (members.length === 0) return;
  const circuit = buildCircuit(harness, run, [], USED);
  const silent = prepare(insulated(circuit.netlist));
  for (const member of members) {
    const fault = speaking(harness, member);
    const delta = silent.kind === "prepared" ? deltaOfAll(circuit, harness, run, [fault], USED) : undefined;
    const volts = delta === undefined || silent.kind !== "prepared" ? undefined : silent.prepared.withDelta(delta)?.volts;
    if (volts === undefined) inFull(fault);
    else for (const e of circuit.netlist.elements) if (e.kind === "resistor") carries(e.id, (volts[e.a]! - volts[e.b]!) / e.ohms);
  }
}
