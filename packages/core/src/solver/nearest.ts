import type { Linearization } from "./linearization.ts";
import { createLinearization } from "./linearization.ts";
import type { Netlist } from "./netlist.ts";
import { createWorkspace, newton, writeAtRest } from "./newton.ts";
import { operatingPoint } from "./solve.ts";
import { createSystem, type System } from "./system.ts";
import type { WayToRest } from "./way-to-rest.ts";

/** Switches that stand otherwise than in any linearization from which on one of its own is made, and how many of those are kept. */
const FAR_SWITCHES = 8;
const MOST_FAR = 24;

/**
 * Finds the linearization whose switches stand as they do now, looked for where it usually is first (`expected`: the step of the way); else the nearest, and where that is far a new one, as
 * many faults end in the same few states of the switches. `closed`: by element index; `taken`: switches that do not count.
 */
export function createNearest(
  netlist: Netlist,
  { system, watch, steps }: WayToRest,
): (closed: Uint8Array, expected: number, taken: ReadonlySet<number>) => Linearization {
  const onWay = steps.map((s) => s.linearization);
  const far: Linearization[] = [];
  return (closed, expected, taken) => {
    /** Up to `most`: farther off it does not matter how far. */
    const off = (at: Linearization, most: number): number => {
      let n = 0;
      for (let s = 0; s < watch.switches.length && n < most; s++) {
        const i = watch.switches[s]!;
        if (at.closed[i] !== closed[i] && !taken.has(i)) n++;
      }
      return n;
    };
    const first = onWay[expected];
    if (first !== undefined && off(first, 1) === 0) return first;
    const last = onWay.at(-1)!;
    let [best, least] = [last, off(last, Infinity)];
    for (const list of [onWay, far])
      for (const at of list) {
        const n = off(at, least);
        if (n < least) [best, least] = [at, n];
      }
    if (least <= FAR_SWITCHES || far.length === MOST_FAR) return best;
    const made = linearizationAt(netlist, system, closed);
    if (made === undefined) return best;
    far.push(made);
    return made;
  };
}

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
