import { buildCircuit, type Circuit, deltaOfAll, type Fault, type VehicleState } from "../../circuit/index.ts";
import { insulated } from "../../faults/index.ts";
import type { Harness, PlaceId } from "../../harness/index.ts";
import { conducts, createSolver, type Delta, type Element } from "../../solver/index.ts";
import { createRowFiller } from "./fill-row.ts";
import { cutDown, type PhaseBase, type ViewOptions } from "./phase-base.ts";
import type { RowBeingFilled } from "./row.ts";
import { pointWith, type SolvedPoint } from "./solved-point.ts";

/** What one phase leaves to those after it. */
export interface PhaseEnd {
  /** Which links are closed. */
  readonly closed: SolvedPoint["closed"];
  /** Watchers that moved by the faults; undefined where that is not known. */
  readonly moved?: ReadonlySet<number> | undefined;
}

/** One point where all rests, those between which it goes where something chatters. */
interface QuickPoints {
  readonly points: readonly SolvedPoint[];
  readonly moved?: PhaseEnd["moved"];
  /** Driving-point resistance of a node; undefined where something chatters. */
  readonly ohms?: (node: number) => number;
  /** The same between two nodes. */
  readonly ohmsBetween?: (a: number, b: number) => number;
}

/** Solves supposed faults in one phase, from the factors of the sound circuit or in full, and adds what they show to a row. */
export interface PhaseSolver {
  readonly deltaFor: (base: PhaseBase, faults: readonly Fault[]) => Delta | undefined;
  /** From the factors; undefined where that is not good enough. `before`: the phase before; `meter`: what an instrument adds. */
  readonly quickPoints: (
    base: PhaseBase,
    faults: readonly Fault[],
    before: PhaseEnd | undefined,
    meter?: readonly Element[],
  ) => QuickPoints | undefined;
  /** Adds a phase from the factors, the last one with how weak each place is; undefined, and nothing added, where that is not good enough. */
  readonly addQuick: (
    base: PhaseBase,
    faults: readonly Fault[],
    before: PhaseEnd | undefined,
    row: RowBeingFilled,
    isLast: boolean,
  ) => PhaseEnd | undefined;
  /** The same solved in full; marks the row as unsolved where there is no answer. */
  readonly addInFull: (base: PhaseBase, faults: readonly Fault[], row: RowBeingFilled) => PhaseEnd;
}

/** `places`, `parts` and `levels`: those of the rows. */
export function createPhaseSolver(
  harness: Harness,
  state: VehicleState,
  places: readonly PlaceId[],
  parts: readonly string[],
  levels: readonly string[],
  options: ViewOptions,
): PhaseSolver {
  const also = options.also ?? [];
  const filler = createRowFiller(harness, state, parts, levels, also);
  const solver = createSolver();
  const deltaFor = (base: PhaseBase, faults: readonly Fault[]): Delta | undefined =>
    deltaOfAll(base.circuit, harness, state, faults, base.how);

  const quickPoints: PhaseSolver["quickPoints"] = (base, faults, before, meter = []) => {
    const own = deltaFor(base, faults);
    const delta = own === undefined || meter.length === 0 ? own : { ...own, added: [...(own.added ?? []), ...meter] };
    const found = delta === undefined ? undefined : base.prepared.cycleWith(delta, before?.moved);
    if (delta === undefined || found === undefined) return undefined;
    return found.kind === "rests"
      ? {
          points: [pointWith(base.circuit, delta, found.changed)],
          moved: found.changed.moved(),
          ohms: (node) => found.changed.drivingPointOhms(node),
          ohmsBetween: found.changed.ohmsBetween,
        }
      : { points: found.points.map((p) => pointWith(base.circuit, delta, p)) };
  };

  /** How weak a place is there is known from the sound circuit, which is near enough. */
  function useSoundOhms(base: PhaseBase, row: RowBeingFilled): void {
    const calm = base.prepared.withDelta({});
    if (calm !== undefined) for (let i = 0; i < base.nodes.length; i++) row.drivingPointOhms[i] = calm.drivingPointOhms(base.nodes[i]!);
  }

  function addQuick(
    base: PhaseBase,
    faults: readonly Fault[],
    before: PhaseEnd | undefined,
    row: RowBeingFilled,
    isLast: boolean,
  ): PhaseEnd | undefined {
    const found = quickPoints(base, faults, before);
    if (found === undefined) return undefined;
    filler.add(base, found.points, faults, row);
    const { ohms } = found;
    if (isLast && ohms === undefined) useSoundOhms(base, row);
    if (isLast && ohms !== undefined) base.nodes.forEach((node, i) => (row.drivingPointOhms[i] = ohms(node)));
    return { closed: found.points.at(-1)!.closed, moved: found.moved };
  }

  function addInFull(base: PhaseBase, faults: readonly Fault[], row: RowBeingFilled): PhaseEnd {
    const circuit =
      faultyCircuit(base, deltaFor(base, faults)) ??
      cutDown(buildCircuit(harness, state, [...also, ...faults], base.how), options.keep, places) ??
      buildCircuit(harness, state, [...also, ...faults], base.how);
    const solved = solver(insulated(circuit.netlist));
    if (solved.kind !== "solved" && solved.kind !== "chatter") {
      row.unsolved = true;
      return { closed: () => true };
    }
    const points = (solved.kind === "solved" ? [solved] : solved.points).map((point): SolvedPoint => ({
      volts: point.volts,
      amps: (id) => point.amps[circuit.elementOf.get(id) ?? -1] ?? 0,
      closed: (id) => {
        const index = circuit.elementOf.get(id);
        return index !== undefined && conducts(circuit.netlist.elements[index], point.closed[index] === 1);
      },
    }));
    filler.add({ ...base, circuit }, points, faults, row);
    useSoundOhms(base, row);
    return { closed: points.at(-1)!.closed };
  }

  return { deltaFor, quickPoints, addQuick, addInFull };
}

/** The sound circuit with a change put in, cut down as it was; undefined where the change cannot be said so. */
function faultyCircuit({ circuit }: PhaseBase, delta: Delta | undefined): Circuit | undefined {
  if (delta === undefined) return undefined;
  const elements = circuit.netlist.elements.flatMap((e, i) => (delta.replaced?.has(i) !== true ? [e] : (delta.replaced.get(i) ?? [])));
  const all = [...elements, ...(delta.added ?? [])];
  return { ...circuit, netlist: { ...circuit.netlist, elements: all }, elementOf: new Map(all.map((e, i) => [e.id, i])) };
}
