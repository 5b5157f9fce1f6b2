import type { Element, Netlist, Point, SolveFailure } from "./netlist.ts";
import { createWorkspace, newton, pointOf, writeAtRest } from "./newton.ts";
import { curveOf, isSharp, isStraight, limitOf, type Port } from "./port.ts";
import { updateWatchers, updateWatchersOverCycle, throwSwitches, type Watch, watchOf } from "./rules.ts";
import { createFirstOrder } from "./first-order.ts";
import { failureOf, rest, operatingPoint } from "./solve.ts";
import { type PortSolution, createLinearization, type Linearization } from "./linearization.ts";
import { createSystem, type System } from "./system.ts";

/** How a circuit differs from its base. Nodes stay the same. */
export interface Delta {
  readonly added?: readonly Element[];
  /** By element index: what stands there instead; undefined where it is taken out. */
  readonly replaced?: ReadonlyMap<number, Element | undefined>;
}

export interface Changed {
  /** V by node index. Overwritten by the next call. */
  readonly volts: Float64Array;
  /** 1 by element index where a switch is closed. */
  readonly closed: Uint8Array;
  /** Resistance that an instrument between a node and node 0 looks into, Ω, with bent elements along their tangents. */
  readonly drivingPointOhms: (node: number) => number;
  /** Adds `share` times what an instrument of so many ohms shows between each node and node 0 to `into`, from `from` on. */
  readonly addLoadedVolts: (nodes: Int32Array, instrumentOhms: number, into: Float32Array, from: number, share: number) => void;
}

/** One of the points between which a circuit chatters. */
export interface ChatterPoint {
  /** V by node index. */
  readonly volts: Float64Array;
  /** 1 by element index where a switch is closed. */
  readonly closed: Uint8Array;
}

interface Change {
  readonly taken: ReadonlySet<number>;
  readonly replaced: readonly (readonly [number, Element | undefined])[];
  /** Switches that stay switches, with other contacts or rules. */
  readonly exchanged: readonly (readonly [number, Element])[];
  readonly added: readonly Port[];
  readonly watching: Watch;
}

export interface Prepared {
  /** The point without any change. */
  readonly base: Point;
  /**
   * The circuit with a change, from the factors of the unchanged one. Undefined when that is not good enough (a part comes loose, a device does not come to
   * rest, switches chatter): then solve the changed circuit in full.
   */
  readonly withDelta: (delta: Delta) => Changed | undefined;
  /** The same, and where its switches go round without end the points of one round. */
  /**
   * By the tangents alone, in a few millionths of a second: the largest move, V, that a change makes at any of these nodes. Undefined where a switch may move otherwise than in the
   * unchanged circuit, or where it cannot be said.
   */
  readonly firstOrderMove: (delta: Delta, nodes: Int32Array) => number | undefined;
  readonly cycleWith: (
    delta: Delta,
  ) =>
    | { readonly kind: "rests"; readonly changed: Changed }
    | { readonly kind: "chatter"; readonly phases: readonly ChatterPoint[] }
    | undefined;
}

function exchangedIn(elements: readonly Element[], exchanged: readonly (readonly [number, Element])[]): Element[] {
  const list = [...elements];
  for (const [index, now] of exchanged) list[index] = now;
  return list;
}

/** Steps of its switches through which a circuit may come to rest and still be prepared at each. */
const MOST_LINEARIZATIONS = 12;
/** Switches that stand otherwise than in any linearization from which on a linearization of their own is made, and how many of those are kept. */
const FAR_SWITCHES = 8;
const MOST_FAR_LINEARIZATIONS = 24;
/** Rounds of switches after which a circle that was not noticed is given up. */
const MOST_SWITCHINGS = 100;

/** The unchanged circuit with its switches held in a state; undefined when it finds no point. */
function linearizationAt(netlist: Netlist, like: System, closed: Uint8Array): Linearization | undefined {
  const system = createSystem(netlist, false, like);
  const work = createWorkspace(netlist);
  work.closed.set(closed);
  if (operatingPoint(system, work).kind !== "solved") return undefined;
  writeAtRest(system, work);
  const found = newton(system, work);
  return found.kind === "solved" ? createLinearization(netlist, system, work, found.x) : undefined;
}

/**
 * Prepares a circuit for many changes: a linearization for every state that its switches pass through from the beginning until they rest. A changed circuit goes the same
 * way from the same beginning, so that a relay which would never have pulled in is not found holding itself. Where it leaves the way, the switches that differ
 * are changes like the others.
 */
export function prepare(netlist: Netlist): { readonly kind: "prepared"; readonly prepared: Prepared } | SolveFailure {
  const work = createWorkspace(netlist);
  let system = createSystem(netlist, false);
  const linearizations: Linearization[] = [];
  const memories: Uint8Array[] = [];
  let base: Point | undefined;
  for (let round = 0; base === undefined; round++) {
    if (round > MOST_LINEARIZATIONS) {
      // A long way to rest: one linearization at its end, and everything before it as changes from there.
      const end = createWorkspace(netlist);
      const found = rest(system, end);
      if (found.kind !== "solved") return found;
      work.memory.set(end.memory);
      throwSwitches(work.watch, work.memory, work.closed);
      linearizations.length = 0;
      memories.length = 0;
    }
    const found = operatingPoint(system, work);
    if (found.kind !== "solved") return failureOf(system, found);
    // The factors at the resting point, linearised there.
    writeAtRest(system, work);
    const again = newton(system, work);
    if (again.kind !== "solved") return failureOf(system, again);
    const linearization = createLinearization(netlist, system, work, again.x);
    if (linearization === undefined) return { kind: "singular", node: system.nameOf(0) };
    linearizations.push(linearization);
    memories.push(Uint8Array.from(work.memory));
    const point = pointOf(system, work, again.x);
    if (!updateWatchers(work.watch, point.volts, work.memory)) base = point;
    else {
      throwSwitches(work.watch, work.memory, work.closed);
      system = createSystem(netlist, false, system);
    }
  }
  const { columnOf } = system;
  const resting = base;
  const last = linearizations.at(-1)!;
  const elements = netlist.elements;
  const { watch } = work;
  /** Unknowns are the nodes in order, none left out. */
  const whole = resting.floating.every((f) => f === 0);
  const volts = new Float64Array(netlist.nodes.length);
  const memory = new Uint8Array(watch.watchers.length);
  const closed = new Uint8Array(elements.length);

  const firstOrder = createFirstOrder(
    linearizations.map((linearization, k) => ({ linearization, memory: memories[k]! })),
    watch,
    columnOf,
  );
  /** The port of a change that has only one; undefined for the others. */
  const portIn = ({ added, replaced, exchanged }: Change): ((linearization: Linearization) => Port | undefined) | undefined => {
    if (exchanged.length > 0 || added.length + replaced.length !== 1) return undefined;
    const [first] = added;
    return first !== undefined ? () => first : (linearization) => linearization.portAt(replaced[0]![0], replaced[0]![1], false);
  };
  /** Every linearization of the way was passed one by one. */
  const isWhole = memories[0] !== undefined && memories[0].every((m, k) => m === (watch.watchers[k]!.starts ? 1 : 0));

  const firstOrderMove: Prepared["firstOrderMove"] = (delta, nodes) => {
    const change = changeOf(delta);
    if (change === undefined) return undefined;
    if (change.added.length + change.replaced.length + change.exchanged.length === 0) return 0;
    const port = portIn(change);
    return isWhole && port !== undefined && firstOrder.keepsSwitching(port, change.taken) ? firstOrder.move(port(last)!, nodes) : undefined;
  };

  function changeWith(delta: Delta): { readonly change: Change; readonly outcome: Changed | "circle" } | undefined {
    const change = changeOf(delta);
    const outcome = change === undefined ? undefined : turn(change);
    return outcome === undefined ? undefined : { change: change!, outcome };
  }

  const withDelta: Prepared["withDelta"] = (delta) => {
    const found = changeWith(delta);
    return found === undefined || found.outcome === "circle" ? undefined : found.outcome;
  };

  const cycleWith: Prepared["cycleWith"] = (delta) => {
    const found = changeWith(delta);
    if (found === undefined) return undefined;
    if (found.outcome !== "circle") return { kind: "rests", changed: found.outcome };
    const phases: ChatterPoint[] = [];
    const slowly = turn(found.change, phases);
    if (slowly === undefined) return undefined;
    return slowly === "circle" ? { kind: "chatter", phases } : { kind: "rests", changed: slowly };
  };

  function changeOf(delta: Delta): Change | undefined {
    const taken = new Set<number>();
    const replaced: (readonly [number, Element | undefined])[] = [];
    const exchanged: (readonly [number, Element])[] = [];
    for (const [index, now] of delta.replaced ?? []) {
      taken.add(index);
      if (now?.kind !== "switch") replaced.push([index, now]);
      else if (elements[index]!.kind === "switch") exchanged.push([index, now]);
      else return undefined;
    }
    const added: Port[] = [];
    for (const e of delta.added ?? []) {
      const curve = curveOf(e, false);
      if (curve === undefined || e.kind === "switch" || resting.floating[e.a] === 1 || resting.floating[e.b] === 1) return undefined;
      added.push({ a: e.a, b: e.b, extra: curve, limit: limitOf(e), straight: isStraight(e), sharp: isSharp(e) });
    }
    return { taken, replaced, exchanged, added, watching: exchanged.length === 0 ? watch : watchOf(exchangedIn(elements, exchanged)) };
  }

  /**
   * Lets the switches move until they rest, all that want to at once; with `phases` one at a time, as in `rest`, and what goes round without end is put there. Undefined when it
   * cannot be said.
   */
  function turn(change: Change, phases?: ChatterPoint[]): Changed | "circle" | undefined {
    const { taken, watching } = change;
    const seeing = watching === watch ? memory : new Uint8Array(watching.watchers.length);
    for (let k = 0; k < seeing.length; k++) seeing[k] = watching.watchers[k]!.starts ? 1 : 0;
    throwSwitches(watching, seeing, closed);
    const turns = phases === undefined ? undefined : new Int32Array(seeing.length);
    const seen = new Map<string, number>();
    const port = phases === undefined && isWhole ? portIn(change) : undefined;
    const keepsSwitching = port !== undefined && linearizations.length > 1 && firstOrder.keepsSwitching(port, taken);
    // Then only the end of the way is worth solving; what is found there still has to rest.
    if (keepsSwitching) {
      seeing.set(memories.at(-1)!);
      throwSwitches(watching, seeing, closed);
    }
    for (let round = keepsSwitching ? linearizations.length - 1 : 0; round <= MOST_SWITCHINGS; round++) {
      const linearization = nearest(round, taken);
      const changes = changesFrom(linearization, change);
      const answer = changes === undefined ? undefined : linearization.solveWith(changes, taken);
      if (answer === undefined) return undefined;
      if (whole) volts.set(linearization.x.subarray(0, volts.length - 1), 1);
      else for (let n = 0; n < volts.length; n++) volts[n] = columnOf[n]! < 0 ? 0 : linearization.x[columnOf[n]!]!;
      if (phases !== undefined) {
        const key = `${seeing.join("")} ${turns!.indexOf(Math.max(...turns!))}`;
        const before = seen.get(key);
        if (before !== undefined) {
          phases.splice(0, before);
          const points = phases.map((p) => p.volts);
          if (!updateWatchersOverCycle(watching, points, seeing)) return "circle";
          throwSwitches(watching, seeing, closed);
          seen.clear();
          phases.length = 0;
          continue;
        }
        seen.set(key, phases.length);
        phases.push({ volts: Float64Array.from(volts), closed: Uint8Array.from(closed) });
      }
      if (!updateWatchers(watching, volts, seeing, turns)) return changedOf(linearization, answer);
      if (phases === undefined) {
        const key = seeing.join("");
        if (seen.has(key)) return "circle";
        seen.set(key, round);
      }
      throwSwitches(watching, seeing, closed);
    }
    return undefined;
  }

  /** Stages made for states of the switches that lie far from the way. */
  const farLinearizations: Linearization[] = [];

  /**
   * The linearization whose switches stand as they do now, looked for where it usually is first; else the nearest, and where that is far a new one, as many faults end in the same
   * few states of the switches.
   */
  function nearest(round: number, taken: ReadonlySet<number>): Linearization {
    const off = (linearization: Linearization): number => {
      let n = 0;
      for (const i of watch.switches) if (linearization.closed[i] !== closed[i] && !taken.has(i)) n++;
      return n;
    };
    const expected = linearizations[round];
    if (expected !== undefined && off(expected) === 0) return expected;
    let [best, least] = [last, off(last)];
    for (const list of [linearizations, farLinearizations])
      for (const linearization of list) {
        const n = off(linearization);
        if (n < least) [best, least] = [linearization, n];
      }
    if (least <= FAR_SWITCHES || farLinearizations.length === MOST_FAR_LINEARIZATIONS) return best;
    const made = linearizationAt(netlist, system, closed);
    if (made === undefined) return best;
    farLinearizations.push(made);
    return made;
  }

  function changesFrom(linearization: Linearization, { added, replaced, exchanged, taken }: Change): Port[] | undefined {
    const changes = [...added];
    const put = (port: Port | undefined): boolean => port !== undefined && changes.push(port) > 0;
    for (const [index, now] of replaced) if (!put(linearization.portAt(index, now, false))) return undefined;
    for (const [index, now] of exchanged) if (!put(linearization.portAt(index, now, closed[index] === 1))) return undefined;
    for (const i of watch.switches) {
      if (closed[i] !== linearization.closed[i] && !taken.has(i) && !put(linearization.portAt(i, elements[i], closed[i] === 1)))
        return undefined;
    }
    return changes;
  }

  const changedOf = (linearization: Linearization, answer: PortSolution): Changed => ({
    volts,
    closed,
    drivingPointOhms: (node) => linearization.drivingPointOhms(answer, node),
    addLoadedVolts: (nodes, instrumentOhms, into, from, share) =>
      linearization.addLoadedVolts(answer, nodes, instrumentOhms, into, from, share),
  });

  return { kind: "prepared", prepared: { base: resting, withDelta, cycleWith, firstOrderMove } };
}
