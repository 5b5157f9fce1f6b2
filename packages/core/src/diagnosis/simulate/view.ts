import {
  commandPinsOf,
  isTold,
  openingLinks,
  speaking,
  untoldParts,
  type CommandPin,
  type Fault,
  type VehicleState,
} from "../../circuit/index.ts";
import { type Harness, lookupOf, moduleGround, moduleSupply, partNameIn, type PlaceId, placesOfComponent } from "../../harness/index.ts";
import { ohmmeterBetween, ohmsShown, worksBySwitchOff } from "../../instruments/index.ts";
import type { Delta } from "../../solver/index.ts";
import { isOnLineOf, keepingLines } from "./message-line.ts";
import { phaseBasesOf, type PhaseBase, type ViewOptions } from "./phase-base.ts";
import { createPhaseSolver, type PhaseEnd } from "./phase-solver.ts";
import { emptyRow, type Row, type RowIndex } from "./row.ts";
import { ampsByElement } from "./solved-point.ts";

/** A state of the vehicle, ready to be asked what any supposed fault shows in it. */
export interface View extends RowIndex {
  readonly state: VehicleState;
  /** Whether anything goes by phases in it. */
  readonly pulses: boolean;
  readonly sound: Row;
  /** The row of supposed faults; the same object as `sound` where they change nothing. */
  readonly rowOf: (faults: readonly Fault[]) => Row;
  /** The row of supposed faults where the factors of the sound circuit give it; undefined where it would have to be solved in full. */
  readonly quickRowOf: (faults: readonly Fault[]) => Row | undefined;
  /** The same state told of fewer places and parts, from the same factors; of the places only those that this one holds. */
  readonly narrowed: (places: readonly PlaceId[], parts: readonly string[]) => View;
  /** The largest move, V, that a fault makes at any pin of a part, told by the tangents alone; undefined where it cannot be told so. */
  readonly firstOrderMove: (fault: Fault, part: string) => number | undefined;
  /**
   * What an ohmmeter between two places reads with supposed faults, Ω, from the factors of the dead circuit; Infinity beyond its range. Undefined where the circuit would have to be solved in full.
   */
  readonly ohmsBetween: (faults: readonly Fault[], red: string, black: string) => number | undefined;
  /** A through a link with supposed faults; undefined when there is no answer. */
  readonly ampsOf: (faults: readonly Fault[], link: string) => number | undefined;
}

/** Current below which a link counts as carrying nothing, A: resistance in it is not seen. */
const NOTHING_AMPS = 1e-9;
/** A line of messages whose levels are this near those of the sound circuit, as a share, is heard as there: between 40 and 60 % of the supply lies more. */
const SAME_SHARE = 0.12;
/** Resistance from which on a series fault is an open one, Ω. */
const OPEN_OHMS = 1e5;

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
  const commands = options.dead === true || options.phase !== undefined ? [] : commandPinsOf(harness, state);
  const levels = [...new Set([...commands.flatMap((c) => [c.at, c.against, ...supplyOfSpeaker(c)]), ...(options.levels ?? [])])];
  // What works by being switched off must be seen in every phase.
  const switchedOff = parts
    .filter((id) => worksBySwitchOff(harness, id))
    .flatMap((id) => placesOfComponent(harness, lookupOf(harness).parts.get(id)!));
  const watch = options.watch === undefined ? {} : { watch: [...options.watch, ...switchedOff] };
  const kept = keepingLines(harness, commands, options);
  return viewWith({ harness, state, places, parts, levels, commands, options: { ...options, ...watch, ...kept, levels } });
}

/** Between which places the one has its supply whose messages are waited for. */
const supplyOfSpeaker = ({ speaker }: CommandPin): readonly string[] =>
  speaker === undefined ? [] : [moduleSupply(speaker.id), moduleGround(speaker.id)];

/** What a view is told of. */
interface Scope {
  readonly harness: Harness;
  readonly state: VehicleState;
  readonly places: readonly PlaceId[];
  readonly parts: readonly string[];
  readonly levels: readonly string[];
  /** Where everything is told that waits for pulses; what is not while all is sound is as it is untold. */
  readonly commands: readonly CommandPin[];
  readonly options: ViewOptions;
}

function viewWith(scope: Scope): View | undefined {
  const bases = phaseBasesOf(scope.harness, scope.state, scope.places, scope.options);
  return bases === undefined ? undefined : viewOver(bases, scope);
}

/** The view over phases that are prepared. */
function viewOver(bases: readonly PhaseBase[], scope: Scope): View | undefined {
  const { harness, state, places, parts, levels, commands, options } = scope;
  const last = bases.at(-1)!;
  const levelIndex = new Map(levels.map((p, i) => [p, i]));
  const soundAmps = bases.map((b) => ampsByElement(b.circuit, b.prepared));
  const pulses = bases.length > 1 || commands.length > 0;
  const kept = pulses ? levels : [];
  const { addQuick, addInFull, deltaFor, quickPoints } = createPhaseSolver(harness, state, places, parts, kept, options);
  const fuses = openingLinks(harness, bases[0]!.circuit.elementOf);
  /** Whether a fault leaves this state as it is: resistance where no current flows. */
  function isIdle(fault: Fault): boolean {
    if (fault.kind === "lead") return true;
    // An ohmmeter brings its own current.
    if (options.dead === true || fault.kind !== "series" || fault.ohms > OPEN_OHMS) return false;
    return bases.every((b, i) => {
      const index = b.circuit.elementOf.get(fault.link);
      return index === undefined || Math.abs(soundAmps[i]![index]!) < NOTHING_AMPS;
    });
  }

  /** What has blown by the faults in the longest phase is open in the others. */
  function withBlown(base: PhaseBase, faults: readonly Fault[], closed: (id: string) => boolean): readonly Fault[] {
    if (bases.length === 1) return faults;
    const known = new Set([...base.blown, ...faults].map((f) => ("link" in f ? f.link : "")));
    const blown = fuses.filter((id) => !known.has(id) && base.circuit.elementOf.has(id) && !closed(id));
    return blown.length === 0 ? faults : [...faults, ...blown.map((link): Fault => ({ kind: "open", link }))];
  }

  /** Goes through the phases, the longest first. `at` tells how one ends, given the longest; undefined ends it. */
  function throughPhases(
    faults: readonly Fault[],
    at: (base: PhaseBase, faults: readonly Fault[], longest: PhaseEnd | undefined) => PhaseEnd | undefined,
  ): boolean {
    let supposed = faults;
    let longest: PhaseEnd | undefined;
    for (const base of bases) {
      const end = at(base, supposed, longest);
      if (end === undefined) return false;
      longest ??= end;
      if (base === bases[0]) supposed = withBlown(base, faults, end.closed);
    }
    return true;
  }

  /** Which pins that wait for pulses or messages see none in a row; undefined where that would have to be solved in full. */
  function untoldIn(
    row: Row,
    faults: readonly Fault[],
    fill: (faults: readonly Fault[]) => Row | undefined,
  ): readonly CommandPin[] | undefined {
    const untold: CommandPin[] = [];
    for (const c of row.unsolved ? [] : commands) {
      const seen = levelsIn(row, c.at, c.against);
      if (seen.length === 0 || (c.speaker !== undefined && leavesLine(row, faults, c))) continue;
      const low = c.speaker === undefined ? Math.min(...seen) : levelWhileHeld([...faults, speaking(harness, c.speaker, faults)], c, fill);
      if (low === undefined) return undefined;
      if (!isTold(c, [low, Math.max(...seen)])) untold.push(c);
    }
    return untold;
  }

  /** The level at a pin that waits for messages while the line is held, V: from the longest phase alone where the factors give it. */
  function levelWhileHeld(
    faults: readonly Fault[],
    { at, against }: CommandPin,
    fill: (faults: readonly Fault[]) => Row | undefined,
  ): number | undefined {
    const { nodeOf } = bases[0]!.circuit;
    const [a, b] = [nodeOf.get(at), nodeOf.get(against)];
    const quick = a === undefined || b === undefined ? undefined : quickPoints(bases[0]!, faults, undefined)?.points;
    if (quick !== undefined) return Math.min(...quick.map(({ volts }) => volts[a!]! - volts[b!]!));
    const row = fill(faults);
    return row === undefined ? undefined : Math.min(...levelsIn(row, at, against));
  }

  const levelsIn = (row: Row, at: string, against: string): readonly number[] =>
    row.moments.map(({ volts }) => volts[levelIndex.get(at)!]! - volts[levelIndex.get(against)!]!);

  const known: { sound?: Row } = {};
  /** Whether faults leave a line of messages as it is while all is sound: none is on it, and what stands there and at whoever speaks is the same. */
  function leavesLine(row: Row, faults: readonly Fault[], c: CommandPin): boolean {
    if (known.sound === undefined || faults.some((f) => isOnLineOf(harness, f, c))) return false;
    const isSame = (a: string, b: string): boolean => {
      const [now, then] = [levelsIn(row, a, b), levelsIn(known.sound!, a, b)];
      return now.length === then.length && now.every((v, i) => Math.abs(v - then[i]!) < SAME_SHARE * Math.abs(then[i]!));
    };
    const [plus, minus] = supplyOfSpeaker(c);
    return isSame(c.at, c.against) && isSame(plus!, minus!);
  }

  /** The row with what parts do that are told nothing by these faults. `fill`: undefined where it would have to be solved in full. */
  function settled(faults: readonly Fault[], fill: (faults: readonly Fault[]) => Row | undefined): Row | undefined {
    const untold = new Set<CommandPin>();
    for (;;) {
      const row = fill([...faults, ...untoldParts(harness, [...untold], faults)]);
      const more = row === undefined ? undefined : untoldIn(row, faults, fill)?.filter((c) => !untold.has(c));
      if (more === undefined) return undefined;
      if (more.length === 0) return row;
      for (const c of more) untold.add(c);
    }
  }

  function plainRowOf(faults: readonly Fault[]): Row {
    const row = emptyRow(places.length, parts.length);
    throughPhases(
      faults,
      (base, supposed, longest) => addQuick(base, supposed, longest, row, base === last) ?? addInFull(base, supposed, row),
    );
    return row;
  }

  const fullRowOf = (faults: readonly Fault[]): Row => settled(faults, plainRowOf)!;

  const quickRowOf = (faults: readonly Fault[]): Row | undefined =>
    settled(faults, (all) => {
      const row = emptyRow(places.length, parts.length);
      return throughPhases(all, (base, supposed, longest) => addQuick(base, supposed, longest, row, base === last)) ? row : undefined;
    });

  function ampsOf(faults: readonly Fault[], link: string): number | undefined {
    let sum = 0;
    const all =
      commands.length === 0 ? faults : [...faults, ...untoldParts(harness, untoldIn(fullRowOf(faults), faults, plainRowOf)!, faults)];
    const isWhole = throughPhases(all, (base, supposed, longest) => {
      const found = quickPoints(base, supposed, longest);
      if (found === undefined) return undefined;
      for (const p of found.points) sum += (base.share * p.amps(link)) / found.points.length;
      return { closed: found.points.at(-1)!.closed, moved: found.moved };
    });
    return isWhole ? sum : undefined;
  }

  function ohmsBetween(faults: readonly Fault[], red: string, black: string): number | undefined {
    const base = bases[0]!;
    const [a, b] = [base.circuit.nodeOf.get(red), base.circuit.nodeOf.get(black)];
    if (a === undefined || b === undefined) return undefined;
    if (a === b) return 0;
    if (!base.circuit.netlist.elements.some((e) => e.kind === "diode")) return quickPoints(base, faults, undefined)?.ohmsBetween?.(a, b);
    // Its own volts open diodes, so that it is put in.
    const found = quickPoints(base, faults, undefined, [ohmmeterBetween(a, b)])?.points;
    return found?.length === 1 ? ohmsShown(found[0]!.volts[a]! - found[0]!.volts[b]!) : undefined;
  }

  const sound = fullRowOf([]);
  const never = untoldIn(sound, [], plainRowOf)!;
  if (never.length > 0) {
    const also = [...(options.also ?? []), ...untoldParts(harness, never, options.also ?? [])];
    return viewWith({ ...scope, commands: commands.filter((c) => !never.includes(c)), options: { ...options, also } });
  }
  known.sound = sound;
  const narrowed: View["narrowed"] = (fewer, those) => {
    const index = new Map(places.map((p, i) => [p, i]));
    const kept = fewer.flatMap((p) => index.get(p) ?? []);
    const narrow = bases.map(({ nodes, shift, ...base }) => ({
      ...base,
      nodes: Int32Array.from(kept, (i) => nodes[i]!),
      shift: Float64Array.from(kept, (i) => shift[i]!),
    }));
    return viewOver(narrow, { ...scope, places: kept.map((i) => places[i]!), parts: those })!;
  };

  const moves = firstOrderMoves(
    bases,
    deltaFor,
    commands.flatMap((c) => (c.speaker === undefined ? [c.at] : [])),
  );

  return {
    state,
    pulses,
    narrowed,
    sound,
    rowOf: (faults) => (faults.every(isIdle) ? sound : fullRowOf(faults)),
    quickRowOf: (faults) => (faults.every(isIdle) ? sound : quickRowOf(faults)),
    // A line of messages may be lost without any move of what stands there at rest.
    firstOrderMove: (fault, part) =>
      commands.some((c) => c.speaker !== undefined && isOnLineOf(harness, fault, c)) ? undefined : moves(fault, part),
    ampsOf,
    ohmsBetween,
    placeIndex: new Map(places.map((p, i) => [p as string, i])),
    partIndex: new Map(parts.map((p, i) => [p, i])),
    levelIndex,
  };
}

/** The largest first-order move at the pins of a part over all phases, and at those where something waits for pulses, by which it may come too; with the pins' nodes kept. */
function firstOrderMoves(
  bases: readonly PhaseBase[],
  deltaFor: (base: PhaseBase, faults: readonly Fault[]) => Delta | undefined,
  commandNodes: readonly string[],
): View["firstOrderMove"] {
  const pins = new Map<string, readonly Int32Array[]>();
  const pinsOf = (part: string): readonly Int32Array[] => {
    const known =
      pins.get(part) ??
      bases.map(({ circuit }) =>
        Int32Array.from(
          [...circuit.nodeOf].flatMap(([p, n]) => ((p !== part && partNameIn(p) === part) || commandNodes.includes(p) ? [n] : [])),
        ),
      );
    pins.set(part, known);
    return known;
  };
  return (fault, part) => {
    const nodes = pinsOf(part);
    let most = 0;
    for (const [i, base] of bases.entries()) {
      const delta = deltaFor(base, [fault]);
      const move = delta === undefined ? undefined : base.prepared.firstOrderMove(delta, nodes[i]!);
      if (move === undefined) return undefined;
      most = Math.max(most, move);
    }
    return most;
  };
}
