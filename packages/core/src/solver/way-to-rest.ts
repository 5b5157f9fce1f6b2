import type { Netlist, Point, SolveFailure } from "./netlist.ts";
import { createWorkspace, newton, pointOf, writeAtRest, type Workspace } from "./newton.ts";
import { throwSwitches, updateWatchers, type Watch } from "./rules.ts";
import { failureOf, operatingPoint, rest } from "./solve.ts";
import { createLinearization, type Linearization } from "./linearization.ts";
import { createSystem, type System } from "./system.ts";

/** The states that the switches of a circuit pass through from the beginning until they rest, each factored. */
export interface WayToRest {
  /** Of the last step; the structure is that of all. */
  readonly system: System;
  readonly watch: Watch;
  readonly steps: readonly WayStep[];
  /** The point at rest. */
  readonly base: Point;
  /** Every step was passed one by one; else only the end is there. */
  readonly isWhole: boolean;
}

export interface WayStep {
  readonly linearization: Linearization;
  /** What each watcher remembered before it looked. */
  readonly memory: Uint8Array;
}

/** Steps of its switches through which a circuit may come to rest and still be prepared at each. */
const MOST_STEPS = 12;

/** Solves a netlist step by step of its switches and keeps each step's factors; where there are too many, only the last. */
export function wayToRest(netlist: Netlist): { readonly kind: "rests"; readonly way: WayToRest } | SolveFailure {
  const work = createWorkspace(netlist);
  const { watch } = work;
  let system = createSystem(netlist, false);
  let steps: WayStep[] = [];
  for (let round = 0; ; round++) {
    if (round > MOST_STEPS) {
      // A long way to rest: one step at its end, and everything before it as changes from there.
      const end = createWorkspace(netlist);
      const found = rest(system, end);
      if (found.kind !== "solved") return found;
      work.memory.set(end.memory);
      throwSwitches(watch, work.memory, work.closed);
      steps = [];
    }
    const found = stepAt(netlist, system, work);
    if (found.kind !== "step") return found;
    steps.push(found.step);
    if (!updateWatchers(watch, found.point.volts, work.memory)) {
      const isWhole = steps[0]!.memory.every((m, k) => m === (watch.watchers[k]!.starts ? 1 : 0));
      return { kind: "rests", way: { system, watch, steps, base: found.point, isWhole } };
    }
    throwSwitches(watch, work.memory, work.closed);
    system = createSystem(netlist, false, system);
  }
}

/** The factors at the point of these switch states, linearised there. */
function stepAt(
  netlist: Netlist,
  system: System,
  work: Workspace,
): { readonly kind: "step"; readonly step: WayStep; readonly point: Point } | SolveFailure {
  const found = operatingPoint(system, work);
  if (found.kind !== "solved") return failureOf(system, found);
  writeAtRest(system, work);
  const again = newton(system, work);
  if (again.kind !== "solved") return failureOf(system, again);
  const linearization = createLinearization(netlist, system, work, again.x);
  if (linearization === undefined) return { kind: "singular", node: system.nameOf(0) };
  return { kind: "step", step: { linearization, memory: Uint8Array.from(work.memory) }, point: pointOf(system, work, again.x) };
}
