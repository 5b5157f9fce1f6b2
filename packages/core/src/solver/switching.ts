import { type Change, onlyPortOf, portsOf } from "./change.ts";
import type { FirstOrder } from "./first-order.ts";
import type { Linearization, PortSolution } from "./linearization.ts";
import { createNearest } from "./nearest.ts";
import type { Netlist } from "./netlist.ts";
import { throwSwitches, updateWatchers, updateWatchersOverCycle, type Watch } from "./rules.ts";
import type { WayToRest } from "./way-to-rest.ts";

/** A circuit with a change, at rest. */
export interface Changed {
  /** V by node index. Overwritten by the next call. */
  readonly volts: Float64Array;
  /** 1 by element index where a switch is closed. */
  readonly closed: Uint8Array;
  /** Indices of the watchers that rest otherwise than in the unchanged circuit; undefined where other ones watch. */
  readonly moved: () => ReadonlySet<number> | undefined;
  /** Resistance that an instrument between a node and node 0 looks into, Ω, with nonlinear elements along their tangents. */
  readonly drivingPointOhms: (node: number) => number;
  /** The same between any two nodes, Ω. */
  readonly ohmsBetween: (a: number, b: number) => number;
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

/** Lets the switches of a changed circuit move until they rest. Undefined when it cannot be said. */
export interface Switching {
  /** All that want to move at once; "circle" where they go round without end. `moved`: begins where the unchanged circuit rests, but for these watchers. */
  readonly together: (change: Change, moved?: ReadonlySet<number>) => Changed | "circle" | undefined;
  /** One at a time, as real ones never move at the very same moment: what then still goes round is returned as the points of one round. */
  readonly oneAtATime: (change: Change) => Cycle | undefined;
}

/** How the switches of a changed circuit end: at rest, or going round these points without end. */
export type Cycle =
  { readonly kind: "rests"; readonly changed: Changed } | { readonly kind: "chatter"; readonly points: readonly ChatterPoint[] };

/** Rounds of switches before a circle is looked for. */
const LEAST_SWITCHINGS = 8;
/** Rounds of switches after which a circle that was not noticed is given up. */
const MOST_SWITCHINGS = 100;

/** Moves switches of changed circuits, starting from the way on which the sound one came to rest. */
export function createSwitching(netlist: Netlist, way: WayToRest, firstOrder: FirstOrder): Switching {
  const { elements } = netlist;
  const { watch, steps, system } = way;
  const { columnOf } = system;
  const nearest = createNearest(netlist, way);
  /** Unknowns are the nodes in order, none left out. */
  const isDense = way.base.floating.every((f) => f === 0);
  const volts = new Float64Array(netlist.nodes.length);
  const closed = new Uint8Array(elements.length);
  /** What each watcher remembers in the unchanged circuit at rest. */
  const atRest = steps.at(-1)!.memory;
  const memoryOfBase = new Uint8Array(watch.watchers.length);

  /** What the watchers of a change remember, set to the beginning, with the switches thrown so. */
  function begin(watching: Watch): Uint8Array {
    const memory = watching === watch ? memoryOfBase : new Uint8Array(watching.watchers.length);
    for (let k = 0; k < memory.length; k++) memory[k] = watching.watchers[k]!.starts ? 1 : 0;
    throwSwitches(watching, memory, closed);
    return memory;
  }

  /** Solves with the switches as they stand; writes `volts`. */
  function solveAt(round: number, change: Change): { readonly at: Linearization; readonly solution: PortSolution } | undefined {
    const at = nearest(closed, round, change.taken);
    const ports = portsOf(change, at, elements, watch.switches, closed);
    const solution = ports === undefined ? undefined : at.solveWith(ports, change.taken);
    if (solution === undefined) return undefined;
    if (isDense) volts.set(at.x.subarray(0, volts.length - 1), 1);
    else for (let n = 0; n < volts.length; n++) volts[n] = columnOf[n]! < 0 ? 0 : at.x[columnOf[n]!]!;
    return { at, solution };
  }

  /** The step of the way from which on it is worth solving: where the change may leave it, at the latest its end; what is found there still has to rest. */
  function worthSolvingFrom(change: Change): number {
    const port = way.isWhole && steps.length > 1 ? onlyPortOf(change) : undefined;
    return port === undefined ? 0 : Math.min(firstOrder.firstAstray(port, change.taken), steps.length - 1);
  }

  const together: Switching["together"] = (change, moved) => {
    const { watching } = change;
    const memory = begin(watching);
    const goesOn = moved !== undefined && watching === watch;
    const from = goesOn ? steps.length - 1 : worthSolvingFrom(change);
    if (from > 0 || goesOn) memory.set(steps[from]!.memory);
    if (goesOn) for (const k of moved) memory[k] = 1 - memory[k]!;
    throwSwitches(watching, memory, closed);
    const seen = new Set<string>();
    for (let round = from; round <= MOST_SWITCHINGS; round++) {
      const found = solveAt(round, change);
      if (found === undefined) return undefined;
      if (!updateWatchers(watching, volts, memory)) return changedAt(found.at, found.solution, watching, memory);
      throwSwitches(watching, memory, closed);
      // Most rest before it is worth asking whether they go round.
      if (round < from + LEAST_SWITCHINGS) continue;
      const key = memory.join("");
      if (seen.has(key)) return "circle";
      seen.add(key);
    }
    return undefined;
  };

  const oneAtATime: Switching["oneAtATime"] = (change) => {
    const { watching } = change;
    const memory = begin(watching);
    const turns = new Int32Array(memory.length);
    const seen = new Map<string, number>();
    const points: ChatterPoint[] = [];
    for (let round = 0; round <= MOST_SWITCHINGS; round++) {
      const found = solveAt(round, change);
      if (found === undefined) return undefined;
      // The same memory with another one's turn to come is not yet a circle.
      const key = `${memory.join("")} ${turns.indexOf(Math.max(...turns))}`;
      const before = seen.get(key);
      if (before !== undefined) {
        points.splice(0, before);
        const cycle = points.map((p) => p.volts);
        if (!updateWatchersOverCycle(watching, cycle, memory)) return { kind: "chatter", points: points };
        throwSwitches(watching, memory, closed);
        seen.clear();
        points.length = 0;
        continue;
      }
      seen.set(key, points.length);
      points.push({ volts: Float64Array.from(volts), closed: Uint8Array.from(closed) });
      if (!updateWatchers(watching, volts, memory, turns))
        return { kind: "rests", changed: changedAt(found.at, found.solution, watching, memory) };
      throwSwitches(watching, memory, closed);
    }
    return undefined;
  };

  const changedAt = ({ drivingPoint }: Linearization, solution: PortSolution, watching: Watch, memory: Uint8Array): Changed => ({
    volts,
    closed,
    moved: () => (watching === watch ? new Set([...memory.keys()].filter((k) => memory[k] !== atRest[k])) : undefined),
    drivingPointOhms: (node) => drivingPoint.ohms(solution, node),
    ohmsBetween: (a, b) => drivingPoint.ohmsBetween(solution, a, b),
    addLoadedVolts: (nodes, instrumentOhms, into, from, share) =>
      drivingPoint.addLoaded(solution, nodes, instrumentOhms, into, from, share),
  });

  return { together, oneAtATime };
}
