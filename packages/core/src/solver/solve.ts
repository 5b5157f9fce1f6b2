import type { Netlist, SolveFailure, SolveResult } from "./netlist.ts";
import { createWorkspace, moveSwitches, newton, pointOf, writeAtRest, type Workspace } from "./newton.ts";
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
  const work = createWorkspace(netlist);
  const seen = new Map<string, number>();
  const states: Uint8Array[] = [];
  for (let round = 0; round < MAX_SWITCHINGS; round++) {
    const found = settle(system, work);
    if (found.kind !== "solved") return failureOf(system, found);
    const point = pointOf(system, work, found.x);
    if (!moveSwitches(netlist, point.volts, work.closed)) return { kind: "solved", ...point };
    const key = work.closed.join("");
    const before = seen.get(key);
    if (before !== undefined) return { kind: "chatter", elements: restless(netlist, states.slice(before)) };
    seen.set(key, states.length);
    states.push(Uint8Array.from(work.closed));
  }
  return { kind: "chatter", elements: restless(netlist, states) };
}

/** Newton at these switch states, with the sources switched on by degrees when it fails from where it stands. */
export function settle(system: System, work: Workspace): ReturnType<typeof newton> {
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

export function failureOf(system: System, found: Exclude<ReturnType<typeof newton>, { kind: "solved" }>): SolveFailure {
  return found.kind === "singular"
    ? { kind: "singular", node: system.nameOf(found.unknown) }
    : { kind: "diverged", element: system.netlist.elements[found.element]!.id };
}

/** Names of the switches that differ between the states of a cycle. */
const restless = (netlist: Netlist, states: readonly Uint8Array[]): string[] =>
  netlist.elements.flatMap((e, i) => (e.kind === "switch" && states.some((s) => s[i] !== states[0]![i]) ? [e.id] : []));
