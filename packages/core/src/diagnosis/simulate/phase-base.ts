import {
  blownFuses,
  buildCircuit,
  type BuildOptions,
  type Circuit,
  type Fault,
  phasesOf,
  reduceCircuit,
  type VehicleState,
} from "../../circuit/index.ts";
import { insulated } from "../../faults/index.ts";
import type { Harness, PlaceId } from "../../harness/index.ts";
import { createSolver, prepare, type Prepared } from "../../solver/index.ts";

/** How a state is looked at. */
export interface ViewOptions {
  /** All sources at rest, for an ohmmeter. */
  readonly dead?: boolean;
  /** Pretend that this is wrong beside whatever is supposed: a bus driver held, a second fault. */
  readonly also?: readonly Fault[];
  /** Elements in question; what is left out is stood in for by what it carries in the sound circuit. All when not said. */
  readonly keep?: (element: string) => boolean;
  /** Places whose pulses matter; those of others are taken at one moment. All when left out. */
  readonly watch?: readonly PlaceId[];
  /** Places whose levels are kept phase by phase, by the name of their node. */
  readonly levels?: readonly string[];
  /** One moment in the period of pulses instead of their mean. */
  readonly phase?: number;
}

/** The sound circuit in one phase of its pulses, prepared for changes; it stands for the phases that are like it. */
export interface PhaseBase {
  /** Share of the time. */
  readonly share: number;
  readonly how: BuildOptions & { readonly phase: number };
  readonly circuit: Circuit;
  readonly prepared: Prepared;
  /** Node index by place index. */
  readonly nodes: Int32Array;
  /** V by place index by which the mean over the phases taken as this one differs from it while all is sound. */
  readonly shift: Float64Array;
  /** Fuses that have blown in it while all is sound. */
  readonly blown: readonly Fault[];
}

/** A phase that moves the mean by less at every watched place is taken as another, with what it moves while all is sound added, V. */
const SAME_VOLTS = 0.15;

/** The phases of a state that differ, the longest first; undefined when the sound circuit has no answer in one of them. */
export function phaseBasesOf(
  harness: Harness,
  state: VehicleState,
  places: readonly PlaceId[],
  options: ViewOptions,
): readonly PhaseBase[] | undefined {
  const bases: PhaseBase[] = [];
  // The longest comes first and stands for those that are like it.
  for (const { at, share, fusesHold } of phasesFor(harness, state, options)) {
    const how = { phase: at, fusesHold, dead: options.dead ?? false };
    const made = baseIn(harness, state, places, options, how, share, bases[0]?.blown ?? []);
    if (made === undefined) return undefined;
    // A phase in which nothing that is watched stands otherwise than in one before needs no look of its own.
    const watched = (options.watch ?? places).flatMap((p) => made.circuit.nodeOf.get(p) ?? []);
    const kept = (options.levels ?? []).flatMap((p) => made.circuit.nodeOf.get(p) ?? []);
    const apart = (b: PhaseBase, n: number): number => Math.abs(b.prepared.base.volts[n]! - made.prepared.base.volts[n]!);
    const same = bases.findIndex(
      (b) => watched.every((n) => share * apart(b, n) < SAME_VOLTS) && kept.every((n) => apart(b, n) < SAME_VOLTS),
    );
    if (same < 0) bases.push(made);
    else bases[same] = withPhase(bases[same]!, made);
  }
  return bases;
}

const phasesFor = (harness: Harness, state: VehicleState, { dead, phase }: ViewOptions): ReturnType<typeof phasesOf> =>
  dead === true || phase !== undefined ? [{ at: phase ?? 0, share: 1, fusesHold: false }] : phasesOf(harness, state);

function baseIn(
  harness: Harness,
  state: VehicleState,
  places: readonly PlaceId[],
  { also = [], keep }: ViewOptions,
  how: PhaseBase["how"],
  share: number,
  blownBefore: readonly Fault[],
): PhaseBase | undefined {
  const whole = buildCircuit(harness, state, [...also, ...blownBefore], how);
  const circuit = cutDown(whole, keep, places);
  const made = circuit === undefined ? undefined : prepare(insulated(circuit.netlist));
  if (circuit === undefined || made?.kind !== "prepared") return undefined;
  const { prepared } = made;
  return {
    share,
    how,
    circuit,
    prepared,
    nodes: Int32Array.from(places, (p) => circuit.nodeOf.get(p) ?? 0),
    shift: new Float64Array(places.length),
    blown: blownFuses(harness, circuit, prepared.base.closed),
  };
}

/** A base that stands for a further phase as well. */
function withPhase(base: PhaseBase, { share, prepared, nodes }: PhaseBase): PhaseBase {
  const all = base.share + share;
  const shift = base.shift.map((known, i) => {
    const by = prepared.base.volts[nodes[i]!]! - base.prepared.base.volts[base.nodes[i]!]!;
    return (known * base.share + (share * Math.abs(by) < SAME_VOLTS ? by * share : 0)) / all;
  });
  return { ...base, share: all, shift };
}

/** The circuit without what is not in question; undefined when it has no answer to begin with. */
export function cutDown(whole: Circuit, keep: ViewOptions["keep"], places: readonly PlaceId[]): Circuit | undefined {
  if (keep === undefined) return whole;
  const solved = wholeSolver(insulated(whole.netlist));
  if (solved.kind !== "solved") return undefined;
  return reduceCircuit(whole, solved, keep, places);
}
const wholeSolver = createSolver();
