import { changeOf, type Delta, isEmpty, onlyPortOf } from "./change.ts";
import { createFirstOrder } from "./first-order.ts";
import type { Netlist, Point, SolveFailure } from "./netlist.ts";
import { type Changed, createSwitching, type Cycle } from "./switching.ts";
import { wayToRest } from "./way-to-rest.ts";

export interface Prepared {
  /** The point without any change. */
  readonly base: Point;
  /**
   * The circuit with a change, from the factors of the unchanged one. Undefined when that is not good enough (a part comes loose, a device does not come to
   * rest, switches chatter): then solve the changed circuit in full.
   */
  readonly withDelta: (delta: Delta) => Changed | undefined;
  /**
   * By the tangents alone, in a few millionths of a second: the largest move, V, that a change makes at any of these nodes. Undefined where a switch may move otherwise than in the
   * unchanged circuit, or where it cannot be said.
   */
  readonly firstOrderMove: (delta: Delta, nodes: Int32Array) => number | undefined;
  /**
   * As `withDelta`, and where its switches go round without end the points of one round. `moved`: the watchers that moved by this change in a phase before, in a circuit with the same ones;
   * it goes on from there, as what a relay held then it goes on holding.
   */
  readonly cycleWith: (delta: Delta, moved?: ReadonlySet<number>) => Cycle | undefined;
}

/**
 * Prepares a circuit for many changes: a linearization for every state that its switches pass through from the beginning until they rest. A changed circuit goes the same
 * way from the same beginning, so that a relay which would never have pulled in is not found holding itself. Where it leaves the way, the switches that differ
 * are changes like the others.
 */
export function prepare(netlist: Netlist): { readonly kind: "prepared"; readonly prepared: Prepared } | SolveFailure {
  const found = wayToRest(netlist);
  if (found.kind !== "rests") return found;
  const { way } = found;
  const { base, watch } = way;
  const firstOrder = createFirstOrder(way.steps, watch, way.system.columnOf);
  const switching = createSwitching(netlist, way, firstOrder);
  const last = way.steps.at(-1)!.linearization;
  const sorted = (delta: Delta): ReturnType<typeof changeOf> => changeOf(netlist.elements, base.floating, watch, delta);

  const firstOrderMove: Prepared["firstOrderMove"] = (delta, nodes) => {
    const change = sorted(delta);
    if (change === undefined) return undefined;
    if (isEmpty(change)) return 0;
    const port = onlyPortOf(change);
    return way.isWhole && port !== undefined && firstOrder.firstAstray(port, change.taken) === way.steps.length
      ? firstOrder.move(port(last)!, nodes)
      : undefined;
  };

  const withDelta: Prepared["withDelta"] = (delta) => {
    const change = sorted(delta);
    const outcome = change === undefined ? undefined : switching.together(change);
    return outcome === "circle" ? undefined : outcome;
  };

  const cycleWith: Prepared["cycleWith"] = (delta, moved) => {
    const change = sorted(delta);
    if (change === undefined) return undefined;
    const goneOn = moved === undefined ? undefined : switching.together(change, moved);
    const outcome = goneOn === undefined || goneOn === "circle" ? switching.together(change) : goneOn;
    if (outcome === undefined) return undefined;
    return outcome === "circle" ? switching.oneAtATime(change) : { kind: "rests", changed: outcome };
  };

  return { kind: "prepared", prepared: { base, withDelta, cycleWith, firstOrderMove } };
}
