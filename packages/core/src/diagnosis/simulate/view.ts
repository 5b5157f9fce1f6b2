import {
  blownFuses,
  buildCircuit,
  type BuildOptions,
  type Circuit,
  deltaOfAll,
  type Fault,
  phasesOf,
  reduceCircuit,
  type VehicleState,
} from "../../circuit/index.ts";
import { insulated } from "../../faults/index.ts";
import type { Harness, PlaceId } from "../../harness/index.ts";
import { comesAndGoes, type PointReader, shareShown, workAt } from "../../instruments/index.ts";
import { conducts, createSolver, type Delta, prepare, type Prepared } from "../../solver/index.ts";
import { ampsByElement, pointWith, type SolvedPoint } from "./solved-point.ts";

/** What hangs on more than this hangs on insulation, Ω. */
const FLOATS_OHMS = 5e7;

/** What one case shows in one state. */
export interface Row {
  /** V against battery negative without a meter, mean over pulses, by place index. */
  readonly volts: Float64Array;
  /** Resistance that a meter there looks into, Ω, by place index. */
  readonly drivingPointOhms: Float32Array;
  /** What each part does, by part index: a share of what it does when rated, or rpm; NaN where it shows nothing. */
  readonly work: Float64Array;
  /** 1 for each part that goes on and off without end, by part index; empty when all rests. */
  readonly flickers: Uint8Array;
  /** V by place index at the points between which it goes while something chatters, for each phase in which it does; empty when all rests. */
  readonly swings: readonly (readonly Float64Array[])[];
  /** Without an answer: the circuit is singular or diverged. */
  readonly unsolved: boolean;
}

interface Filling {
  volts: Float64Array;
  drivingPointOhms: Float32Array;
  work: Float64Array;
  flickers: Uint8Array;
  swings: Float64Array[][];
  unsolved: boolean;
}
const NONE = new Uint8Array(0);

/** A state of the vehicle, ready to be asked what any supposed fault shows in it. */
export interface View {
  readonly state: VehicleState;
  readonly sound: Row;
  /** The row of supposed faults; the same object as `sound` where they change nothing. */
  readonly rowOf: (faults: readonly Fault[]) => Row;
  /** The row of supposed faults where the factors of the sound circuit give it; undefined where it would have to be solved in full. */
  readonly quickRowOf: (faults: readonly Fault[]) => Row | undefined;
  /** The largest move, V, that a fault makes at any pin of a part, told by the tangents alone; undefined where it cannot be told so. */
  readonly firstOrderMove: (fault: Fault, part: string) => number | undefined;
  /** A through a link with supposed faults; undefined when there is no answer. */
  readonly ampsOf: (faults: readonly Fault[], link: string) => number | undefined;
  readonly placeIndex: ReadonlyMap<string, number>;
  readonly partIndex: ReadonlyMap<string, number>;
}

export interface ViewOptions {
  /** All sources at rest, for an ohmmeter. */
  readonly dead?: boolean;
  /** Pretend that this is wrong beside whatever is supposed: a bus driver held, a second fault. */
  readonly also?: readonly Fault[];
  /** Elements in question; what is left out is stood in for by what it carries in the sound circuit. All when not said. */
  readonly keep?: (element: string) => boolean;
  /** Places whose pulses matter; those of others are taken at one moment. All when left out. */
  readonly watch?: readonly PlaceId[];
  /** One moment in the period of pulses instead of their mean. */
  readonly phase?: number;
}

/** Current below which a link counts as carrying nothing, A: resistance in it is not seen. */
const NOTHING_AMPS = 1e-9;
/** A phase that moves the mean by less at every watched place is taken as another, with what it moves while all is sound added, V. */
const SAME_VOLTS = 0.15;

interface Base {
  share: number;
  readonly how: BuildOptions & { readonly phase: number };
  readonly circuit: Circuit;
  readonly prepared: Prepared;
  readonly nodes: Int32Array;
  /** V by place index by which the mean over the phases taken as this one differs from it while all is sound. */
  readonly shift: Float64Array;
  /** Fuses that have blown in it while all is sound. */
  readonly blown: readonly Fault[];
}

/**
 * Prepares a state. `places` and `parts`: where leads may go and what may be looked at. Undefined when the sound circuit itself has no
 * answer in this state.
 */
export function viewOf(
  harness: Harness,
  state: VehicleState,
  places: readonly PlaceId[],
  parts: readonly string[],
  options: ViewOptions = {},
): View | undefined {
  const also = options.also ?? [];
  const bases: Base[] = [];
  // The longest comes first and stands for those that are like it.
  for (const { at, share, fusesHold } of phasesFor(harness, state, options)) {
    const how = { phase: at, fusesHold, dead: options.dead ?? false };
    const whole = buildCircuit(harness, state, [...also, ...(bases.length === 0 ? [] : bases[0]!.blown)], how);
    const circuit = cutDown(whole, options.keep, places);
    if (circuit === undefined) return undefined;
    const made = prepare(insulated(circuit.netlist));
    if (made.kind !== "prepared") return undefined;
    const nodes = Int32Array.from(places, (p) => circuit.nodeOf.get(p) ?? 0);
    // A phase in which nothing that is watched stands otherwise than in one before needs no look of its own.
    const watched = (options.watch ?? places).flatMap((p) => circuit.nodeOf.get(p) ?? []);
    const same = bases.find((b) =>
      watched.every((n) => share * Math.abs(b.prepared.base.volts[n]! - made.prepared.base.volts[n]!) < SAME_VOLTS),
    );
    if (same === undefined) {
      const blown = blownFuses(harness, circuit.elementOf, made.prepared.base.closed);
      bases.push({ share, how, circuit, prepared: made.prepared, nodes, shift: new Float64Array(places.length), blown });
    } else addTo(same, share, (i) => made.prepared.base.volts[nodes[i]!]!);
  }
  const soundAmps = bases.map((b) => ampsByElement(b.circuit, b.prepared));
  const solver = createSolver();
  const fuses = harness.components.flatMap((c) => (c.kind === "fuse" ? [c.id] : []));

  const emptyRow = (): Filling => ({
    volts: new Float64Array(places.length),
    drivingPointOhms: new Float32Array(places.length),
    work: new Float64Array(parts.length),
    flickers: NONE,
    swings: [],
    unsolved: false,
  });

  function addTo(base: Base, share: number, voltsAt: (place: number) => number): void {
    const all = base.share + share;
    for (let i = 0; i < places.length; i++) {
      const by = voltsAt(i) - base.prepared.base.volts[base.nodes[i]!]!;
      base.shift[i] = (base.shift[i]! * base.share + (share * Math.abs(by) < SAME_VOLTS ? by * share : 0)) / all;
    }
    base.share = all;
  }

  function rowOf(faults: readonly Fault[]): Row {
    const row = emptyRow();
    let supposed = faults;
    for (const base of bases) {
      const closed = addQuick(base, supposed, row) ?? addInFull(base, supposed, row);
      if (base === bases[0]) supposed = withBlown(base, faults, closed);
    }
    return row;
  }

  function quickRowOf(faults: readonly Fault[]): Row | undefined {
    if (faults.every(isIdle)) return sound;
    const row = emptyRow();
    let supposed = faults;
    for (const base of bases) {
      const closed = addQuick(base, supposed, row);
      if (closed === undefined) return undefined;
      if (base === bases[0]) supposed = withBlown(base, faults, closed);
    }
    return row;
  }

  const pins = new Map<string, readonly Int32Array[]>();
  function firstOrderMove(fault: Fault, part: string): number | undefined {
    const nodes =
      pins.get(part) ??
      bases.map(({ circuit }) => Int32Array.from([...circuit.nodeOf].flatMap(([p, n]) => (p.startsWith(`${part}.`) ? [n] : []))));
    pins.set(part, nodes);
    let most = 0;
    for (const [i, base] of bases.entries()) {
      const delta = deltaFor(base, [fault]);
      const move = delta === undefined ? undefined : base.prepared.firstOrderMove(delta, nodes[i]!);
      if (move === undefined) return undefined;
      most = Math.max(most, move);
    }
    return most;
  }

  /** What has blown by the faults in the longest phase is open in the others. */
  function withBlown(base: Base, faults: readonly Fault[], closed: (id: string) => boolean): readonly Fault[] {
    if (bases.length === 1) return faults;
    const known = new Set([...base.blown, ...faults].map((f) => ("link" in f ? f.link : "")));
    const blown = fuses.filter((id) => !known.has(id) && base.circuit.elementOf.has(id) && !closed(id));
    return blown.length === 0 ? faults : [...faults, ...blown.map((link): Fault => ({ kind: "open", link }))];
  }

  /** The faulty circuit whole, cut down as the sound one was. */
  function withFault(base: Base, faults: readonly Fault[], delta: Delta | undefined): Circuit {
    if (delta !== undefined) {
      const elements = base.circuit.netlist.elements.flatMap((e, i) =>
        delta.replaced?.has(i) !== true ? [e] : (delta.replaced.get(i) ?? []),
      );
      const all = [...elements, ...(delta.added ?? [])];
      return { ...base.circuit, netlist: { ...base.circuit.netlist, elements: all }, elementOf: new Map(all.map((e, i) => [e.id, i])) };
    }
    const whole = buildCircuit(harness, state, [...also, ...faults], base.how);
    return cutDown(whole, options.keep, places) ?? whole;
  }

  /** Whether a fault leaves this state as it is: resistance where no current flows. */
  function isIdle(fault: Fault): boolean {
    if (fault.kind === "lead") return true;
    // An ohmmeter brings its own current.
    if (options.dead === true) return false;
    if (fault.kind !== "series" || fault.ohms > 1e5) return false;
    return bases.every((b, i) => {
      const index = b.circuit.elementOf.get(fault.link);
      return index === undefined || Math.abs(soundAmps[i]![index]!) < NOTHING_AMPS;
    });
  }

  const deltaFor = (base: Base, faults: readonly Fault[]): Delta | undefined => deltaOfAll(base.circuit, harness, state, faults, base.how);

  /** Adds a phase from the factors of the sound circuit, and tells which links are closed; undefined, and nothing added, where that is not good enough. */
  function addQuick(base: Base, faults: readonly Fault[], row: Filling): SolvedPoint["closed"] | undefined {
    const found = quickPoints(base, faults);
    if (found === undefined) return undefined;
    addPoints(base, found.points, faults, row);
    if (found.drivingPointOhms === undefined) useSoundOhms(base, row);
    else for (let i = 0; i < base.nodes.length; i++) row.drivingPointOhms[i] = found.drivingPointOhms(base.nodes[i]!);
    return found.points.at(-1)!.closed;
  }

  /** One point where all rests, those between which it goes where something chatters. */
  function quickPoints(
    base: Base,
    faults: readonly Fault[],
  ): { readonly points: readonly SolvedPoint[]; readonly drivingPointOhms?: (node: number) => number } | undefined {
    const delta = deltaFor(base, faults);
    const found = delta === undefined ? undefined : base.prepared.cycleWith(delta);
    if (delta === undefined || found === undefined) return undefined;
    return found.kind === "rests"
      ? { points: [pointWith(base.circuit, delta, found.changed)], drivingPointOhms: (node) => found.changed.drivingPointOhms(node) }
      : { points: found.phases.map((p) => pointWith(base.circuit, delta, p)) };
  }

  function addInFull(base: Base, faults: readonly Fault[], row: Filling): SolvedPoint["closed"] {
    const circuit = withFault(base, faults, deltaFor(base, faults));
    const solved = solver(insulated(circuit.netlist));
    if (solved.kind !== "solved" && solved.kind !== "chatter") {
      row.unsolved = true;
      return () => true;
    }
    const points = (solved.kind === "solved" ? [solved] : solved.phases).map((point): SolvedPoint => ({
      volts: point.volts,
      amps: (id) => point.amps[circuit.elementOf.get(id) ?? -1] ?? 0,
      closed: (id) => {
        const index = circuit.elementOf.get(id);
        return index !== undefined && conducts(circuit.netlist.elements[index], point.closed[index] === 1);
      },
    }));
    addPoints({ ...base, circuit }, points, faults, row);
    useSoundOhms(base, row);
    return points.at(-1)!.closed;
  }

  /** How weak a place is there is known from the sound circuit, which is near enough. */
  function useSoundOhms(base: Base, row: Filling): void {
    const calm = base.prepared.withDelta({});
    if (calm !== undefined) for (let i = 0; i < base.nodes.length; i++) row.drivingPointOhms[i] = calm.drivingPointOhms(base.nodes[i]!);
  }

  /** One point where all rests; where something chatters those between which it goes, and what flickers and swings. */
  function addPoints(base: Base, points: readonly SolvedPoint[], faults: readonly Fault[], row: Filling): void {
    const each = base.share / points.length;
    for (const p of points) fill(base, p, faults, row, each);
    if (points.length === 1) return;
    const extremes = points.map((p) => {
      const one = { volts: new Float64Array(places.length), work: new Float64Array(parts.length) };
      fill(base, p, faults, one, 1);
      return one;
    });
    const span = (of: (e: (typeof extremes)[number]) => number): readonly [low: number, high: number] => {
      let [low, high] = [Infinity, -Infinity];
      for (const e of extremes) [low, high] = [Math.min(low, of(e)), Math.max(high, of(e))];
      return [low, high];
    };
    row.flickers = Uint8Array.from(parts, (_, i) => {
      return comesAndGoes(extremes.map((e) => e.work[i]!)) ? 1 : 0;
    });
    row.swings.push(extremes.map((e) => e.volts));
    for (let i = 0; i < places.length; i++) {
      const [low, high] = span((e) => e.volts[i]!);
      // A reader of the meter takes the middle between the extremes, whatever the shares of time.
      let mean = 0;
      for (const e of extremes) mean += e.volts[i]! / extremes.length;
      row.volts[i]! += base.share * ((high + low) / 2 - mean);
    }
  }

  function fill(
    base: Base,
    reader: SolvedPoint,
    faults: readonly Fault[],
    row: { volts: Float64Array; work: Float64Array },
    share: number,
  ): void {
    for (let i = 0; i < base.nodes.length; i++) {
      const now = reader.volts[base.nodes[i]!]!;
      const sound = base.prepared.base.volts[base.nodes[i]!]!;
      // What a fault has taken away from a place it no longer shares in.
      const stays = base.shift[i] === 0 ? 0 : Math.min(1, Math.max(0, now / sound));
      row.volts[i]! += share * (now + stays * base.shift[i]!);
    }
    const overrides = new Map([...also, ...faults].flatMap((f) => (f.kind === "settings" ? [[f.component, f.settings] as const] : [])));
    const point: PointReader = {
      volts: (place) => reader.volts[base.circuit.nodeOf.get(place) ?? -1] ?? 0,
      amps: reader.amps,
      closed: reader.closed,
    };
    const { phase } = base.how;
    for (let i = 0; i < parts.length; i++) row.work[i]! += share * workAt(harness, state, parts[i]!, point, { phase, overrides });
  }

  const sound = rowOf([]);
  return {
    state,
    sound,
    rowOf: (faults) => (faults.every(isIdle) ? sound : rowOf(faults)),
    quickRowOf,
    firstOrderMove,
    ampsOf: (faults, link) => {
      let [sum, supposed] = [0, faults];
      for (const base of bases) {
        const points = quickPoints(base, supposed)?.points;
        if (points === undefined) return undefined;
        for (const p of points) sum += (base.share * p.amps(link)) / points.length;
        if (base === bases[0]) supposed = withBlown(base, faults, points.at(-1)!.closed);
      }
      return sum;
    },
    placeIndex: new Map(places.map((p, i) => [p as string, i])),
    partIndex: new Map(parts.map((p, i) => [p, i])),
  };
}

/** The circuit without what is not in question; undefined when it has no answer to begin with. */
function cutDown(whole: Circuit, keep: ((element: string) => boolean) | undefined, places: readonly PlaceId[]): Circuit | undefined {
  if (keep === undefined) return whole;
  const solved = wholeSolver(insulated(whole.netlist));
  if (solved.kind !== "solved") return undefined;
  return reduceCircuit(whole, solved, keep, places);
}
const wholeSolver = createSolver();

const phasesFor = (harness: Harness, state: VehicleState, { dead, phase }: ViewOptions): ReturnType<typeof phasesOf> =>
  dead === true || phase !== undefined ? [{ at: phase ?? 0, share: 1, fusesHold: false }] : phasesOf(harness, state);

/** What a meter between two places of a row shows, V. Undefined for places that the view does not hold. */
export function voltsIn(view: View, row: Row, red: string, black: string): number | undefined {
  const [p, q] = [view.placeIndex.get(red), view.placeIndex.get(black)];
  if (p === undefined || q === undefined) return undefined;
  const seen = row.drivingPointOhms[p]! + row.drivingPointOhms[q]!;
  // Through the meter a lead that only insulation holds follows the other one.
  if (seen > FLOATS_OHMS) return 0;
  // Two weak places that hang together are taken for apart; what they differ by is nothing then.
  return (row.volts[p]! - row.volts[q]!) * shareShown(seen);
}

export function workOf(view: View, row: Row, part: string): number | undefined {
  const index = view.partIndex.get(part);
  const value = index === undefined ? NaN : row.work[index]!;
  return Number.isNaN(value) ? undefined : value;
}

/** Whether a part goes on and off without end in a row. */
export const flickersIn = (view: View, row: Row, part: string): boolean => row.flickers[view.partIndex.get(part) ?? -1] === 1;

/** Whether a meter between two places would not stand still in a row. */
export function swingsIn(view: View, row: Row, red: string, black: string): boolean {
  const [p, q] = [view.placeIndex.get(red), view.placeIndex.get(black)];
  if (p === undefined || q === undefined) return false;
  return row.swings.some((points) => {
    // What swings together stands still to a meter between them.
    const across = points.map((volts) => volts[p]! - volts[q]!);
    return Math.max(...across) - Math.min(...across) > SWINGS_VOLTS;
  });
}
const SWINGS_VOLTS = 0.3;
