import {
  blownFuses,
  buildCircuit,
  type BuildOptions,
  type Circuit,
  commandPinsOf,
  type CommandPin,
  type Fault,
  isTold,
  type Levels,
  phasesOf,
  speaking,
  untoldParts,
  type VehicleState,
} from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { type Element, createSolver, type Memory, type Point, type SolveFailure } from "../solver/index.ts";

/** One moment of a circuit that has come to rest, and the share of time that it stands for. */
export interface Moment {
  readonly share: number;
  /** Where in the period of pulses it is, 0 to 1. */
  readonly at: number;
  readonly circuit: Circuit;
  readonly point: Point;
}

export interface SteadyState {
  readonly kind: "steady";
  /** One for a steady circuit; one for each phase of pulses; the points of a circuit that chatters. Shares sum to 1. */
  readonly moments: readonly Moment[];
  /** What opens and closes without end; empty when all rests. */
  readonly oscillating: readonly string[];
  /** What follows from the faults: parts that lost their command, fuses that blew. */
  readonly follows: readonly Fault[];
}

export type NoSteadyState = Exclude<SolveFailure, { kind: "chatter" }>;

type Adds = (node: (place: string) => number) => readonly Element[];

/**
 * Solves a circuit with what an instrument adds to it, through all its phases. `adds`: elements on the nodes of the circuit. Parts at whose command pins no pulses stand do what
 * they do without, which is solved again until no more of them lose theirs.
 */
export function solveSteadyState(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  options: BuildOptions,
  adds: Adds,
): SteadyState | NoSteadyState {
  const pins = options.phase === undefined && options.dead !== true ? commandPinsOf(harness, state) : [];
  const untold = new Set<CommandPin>();
  for (;;) {
    const lost = untoldParts(harness, [...untold], faults);
    const solved = throughPhases(harness, state, [...faults, ...lost], options, adds);
    if (solved.kind !== "steady") return solved;
    const more = pins.filter((p) => !untold.has(p) && !isToldIn(harness, state, faults, options, solved, p));
    if (more.length === 0) return { ...solved, follows: [...lost, ...solved.follows] };
    for (const p of more) untold.add(p);
  }
}

/** Pins at which pulses are waited for and none stand, as "ALT.C". */
export function untoldPins(harness: Harness, state: VehicleState, faults: readonly Fault[]): readonly string[] {
  const pins = commandPinsOf(harness, state);
  if (pins.length === 0) return [];
  const solved = solveSteadyState(harness, state, faults, {}, () => []);
  return solved.kind === "steady" ? pins.flatMap((p) => (isToldIn(harness, state, faults, {}, solved, p) ? [] : [p.at])) : [];
}

/** Whether a part is told something at a pin: by the pulses there, or by its level once the master of the line holds it. */
function isToldIn(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  options: BuildOptions,
  still: SteadyState,
  pin: CommandPin,
): boolean {
  const levels = levelsAt(still, pin);
  if (pin.speaker === undefined) return isTold(pin, levels);
  const held = throughPhases(harness, state, [...faults, speaking(harness, pin.speaker, faults)], options, () => []);
  return held.kind === "steady" && isTold(pin, [levelsAt(held, pin)[0], levels[1]]);
}

function levelsAt({ moments }: SteadyState, { at, against }: CommandPin): Levels {
  const each = moments.map(({ circuit, point }) => point.volts[nodeAt(circuit, at)]! - point.volts[nodeAt(circuit, against)]!);
  return [Math.min(...each), Math.max(...each)];
}

function throughPhases(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  options: BuildOptions,
  adds: Adds,
): SteadyState | NoSteadyState {
  const moments: Moment[] = [];
  const oscillating = new Set<string>();
  let blown: readonly Fault[] = [];
  // What a relay holds in the longest it goes on holding in the others.
  let longest: (() => Memory) | undefined;
  for (const { at, share, fusesHold } of options.phase === undefined
    ? phasesOf(harness, state)
    : [{ at: options.phase, share: 1, fusesHold: false }]) {
    const bare = buildCircuit(harness, state, [...faults, ...blown], { ...options, phase: at, fusesHold });
    const added = adds((place) => nodeAt(bare, place));
    const elements = added.length === 0 ? bare.netlist.elements : [...bare.netlist.elements, ...added];
    const circuit: Circuit = { ...bare, netlist: { ...bare.netlist, elements } };
    const result = solverOf(harness)(circuit.netlist, longest?.());
    if (result.kind === "solved") {
      if (!fusesHold) longest = result.memory;
      moments.push({ share, at, circuit, point: result });
      if (!fusesHold) blown = blownFuses(harness, circuit, result.closed);
    } else if (result.kind === "chatter") {
      for (const point of result.points) moments.push({ share: share / result.points.length, at, circuit, point });
      for (const id of result.elements) oscillating.add(id);
    } else return result;
  }
  return { kind: "steady", moments, oscillating: [...oscillating], follows: blown };
}

const solvers = new WeakMap<Harness, ReturnType<typeof createSolver>>();
/** One solver for each harness: its states and readings mostly have one shape. */
function solverOf(harness: Harness): ReturnType<typeof createSolver> {
  const known = solvers.get(harness) ?? createSolver();
  solvers.set(harness, known);
  return known;
}

/** Throws RangeError for a place that the circuit does not hold. */
export function nodeAt(circuit: Circuit, place: string): number {
  const found = circuit.nodeOf.get(place);
  if (found === undefined) throw new RangeError(`no place ${place} in this circuit`);
  return found;
}

/** Mean over the moments, as a slow instrument forms it. */
export const meanOf = (steady: SteadyState, value: (moment: Moment) => number): number =>
  steady.moments.reduce((sum, m) => sum + m.share * value(m), 0);

/** V between two nodes of a moment, by node index. */
export const across = ({ point }: Moment, a: number, b: number): number => point.volts[a]! - point.volts[b]!;

/** A through the element of that name, from its first node to its second; 0 where it is not there. */
export function ampsOf(m: Pick<Moment, "circuit" | "point">, id: string): number {
  const index = m.circuit.elementOf.get(id) ?? addedIn(m.circuit).get(id);
  return index === undefined ? 0 : m.point.amps[index]!;
}

const added = new WeakMap<Circuit, ReadonlyMap<string, number>>();

/** Indices of the elements that a circuit does not know by name: an instrument's, what is inside of devices. The first of each name. */
function addedIn(circuit: Circuit): ReadonlyMap<string, number> {
  const known = added.get(circuit);
  if (known !== undefined) return known;
  const made = new Map<string, number>();
  circuit.netlist.elements.forEach((e, i) => made.has(e.id) || made.set(e.id, i));
  added.set(circuit, made);
  return made;
}

/** Resistance of the instrument's own leads, Ω, from the faults of the measuring. */
export const leadOhms = (faults: readonly Fault[]): number => faults.reduce((sum, f) => (f.kind === "lead" ? sum + f.ohms : sum), 0);
