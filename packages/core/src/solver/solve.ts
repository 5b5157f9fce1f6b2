import type { Memory, Netlist, Point, SolveFailure, SolveResult, Watcher } from "./netlist.ts";
import { createWorkspace, newton, pointOf, writeAtRest, type Workspace } from "./newton.ts";
import { updateWatchers, updateWatchersOverCycle, throwSwitches } from "./rules.ts";
import { isBranch } from "./shape.ts";
import { createSystem, type System } from "./system.ts";

const MAX_SWITCHINGS = 100;
/** First share of the sources when they are switched on by degrees. */
const FIRST_SHARE = 1 / 64;

/**
 * Operating point at rest: capacitors open, inductors short. Newton's method inside, the states of switches outside; sources are switched on by
 * degrees when Newton's method does not find the point at once. Nodes with no path to node 0 are left out and marked floating.
 */
export function solve(netlist: Netlist): SolveResult {
  const system = createSystem(netlist, false);
  return rest(system, createWorkspace(netlist));
}

/**
 * A solver that keeps pattern, order, pivots and the last tangents from one call to the next as long as the netlists have one shape: other states, temperatures,
 * settings. `before`: what its watchers remember from a moment before, where it goes on from there.
 */
export function createSolver(): (netlist: Netlist, before?: Memory) => SolveResult {
  let held: System | undefined;
  let tangents: Float64Array | undefined;
  return (netlist, before) => {
    const like = held !== undefined && sameShape(held.netlist, netlist) ? held : undefined;
    held = like === undefined ? createSystem(netlist, false) : createSystem(netlist, false, like, like.handOver());
    const work = createWorkspace(netlist);
    if (like !== undefined && tangents !== undefined) work.linearised.set(tangents);
    if (before !== undefined) recall(netlist, work, before);
    const result = rest(held, work);
    tangents = result.kind === "solved" ? work.linearised : undefined;
    return result;
  };
}

const nameOfWatcher = ({ nodes }: Netlist, { plus, minus, rises, falls }: Watcher): string =>
  `${nodes[plus]!} ${nodes[minus]!} ${rises} ${falls}`;

const memoryOf = (netlist: Netlist, { watch, memory }: Workspace): Memory =>
  new Map(watch.watchers.map((w, k) => [nameOfWatcher(netlist, w), memory[k]!]));

/** Sets memory and switches to what was remembered before. */
function recall(netlist: Netlist, { watch, memory, closed }: Workspace, before: Memory): void {
  watch.watchers.forEach((w, k) => (memory[k] = before.get(nameOfWatcher(netlist, w)) ?? memory[k]!));
  throwSwitches(watch, memory, closed);
}

/** The same nodes joined by elements of the same kinds, in the same order. */
function sameShape(p: Netlist, q: Netlist): boolean {
  if (p === q) return true;
  if (p.nodes.length !== q.nodes.length || p.elements.length !== q.elements.length) return false;
  if ((p.couplings?.length ?? 0) > 0 || (q.couplings?.length ?? 0) > 0) return false;
  for (let i = 0; i < p.elements.length; i++) {
    const e = p.elements[i]!;
    const other = q.elements[i]!;
    if (e.a !== other.a || e.b !== other.b || e.kind !== other.kind) return false;
    if (e.kind === "source" && isBranch(e) !== isBranch(other)) return false;
  }
  return true;
}

/**
 * Brings a system to rest from where its workspace stands. Switches that find no rest all together are tried one at a time, as real ones never move at the very
 * same moment; what then still goes round is chatter.
 */
export function rest(system: System, work: Workspace): SolveResult {
  const start = Uint8Array.from(work.memory);
  const together = turn(system, work, false);
  if (together.kind !== "chatter") return together;
  work.memory.set(start);
  throwSwitches(work.watch, work.memory, work.closed);
  return turn(system, work, true);
}

function turn(system: System, work: Workspace, oneAtATime: boolean): SolveResult {
  const turns = oneAtATime ? new Int32Array(work.memory.length) : undefined;
  const seen = new Map<string, number>();
  const points: Point[] = [];
  for (let round = 0; ; round++) {
    const found = operatingPoint(system, work);
    if (found.kind !== "solved") return failureOf(system, found);
    system.polish();
    const point = pointOf(system, work, found.x);
    // The same memory with another one's turn to come is not yet a circle.
    const key = turns === undefined ? work.memory.join("") : `${work.memory.join("")} ${turns.indexOf(Math.max(...turns))}`;
    const before = seen.get(key) ?? (round === MAX_SWITCHINGS ? 0 : undefined);
    if (before !== undefined) {
      const cycle = points.slice(before);
      if (
        turns !== undefined &&
        round < MAX_SWITCHINGS &&
        updateWatchersOverCycle(
          work.watch,
          cycle.map((p) => p.volts),
          work.memory,
        )
      ) {
        throwSwitches(work.watch, work.memory, work.closed);
        seen.clear();
        points.length = 0;
        continue;
      }
      return { kind: "chatter", elements: oscillatingSwitches(system.netlist, cycle), points: cycle };
    }
    seen.set(key, points.length);
    points.push(point);
    if (!updateWatchers(work.watch, point.volts, work.memory, turns))
      return { kind: "solved", ...point, memory: () => memoryOf(system.netlist, work) };
    throwSwitches(work.watch, work.memory, work.closed);
  }
}

/** Newton at these switch states, with the sources switched on by degrees when it fails from where it stands. */
export function operatingPoint(system: System, work: Workspace): ReturnType<typeof newton> {
  writeAtRest(system, work);
  const direct = newton(system, work);
  if (direct.kind !== "diverged") return direct;
  work.linearised.fill(0);
  let reached = 0;
  let step = FIRST_SHARE;
  let last = direct;
  while (reached < 1) {
    work.share = Math.min(1, reached + step);
    const start = Float64Array.from(work.linearised);
    writeAtRest(system, work);
    const found = newton(system, work);
    if (found.kind === "singular") break;
    if (found.kind === "solved") {
      reached = work.share;
      step *= 2;
      if (reached >= 1) return found;
    } else {
      work.linearised.set(start);
      step /= 4;
      last = found;
      if (step < 1e-6) break;
    }
  }
  work.share = 1;
  return last;
}

/** Why Newton's method found nothing, with the name of the node or element to blame. */
export function failureOf(system: System, found: Exclude<ReturnType<typeof newton>, { kind: "solved" }>): SolveFailure {
  return found.kind === "singular"
    ? { kind: "singular", node: system.nameOf(found.unknown) }
    : { kind: "diverged", element: system.netlist.elements[found.element]!.id };
}

/** Names of the switches that differ between the points of a cycle. */
const oscillatingSwitches = (netlist: Netlist, cycle: readonly Point[]): string[] =>
  netlist.elements.flatMap((e, i) => (e.kind === "switch" && cycle.some((p) => p.closed[i] !== cycle[0]!.closed[i]) ? [e.id] : []));
