import type { Element, Netlist, Point, SolveFailure } from "./netlist.ts";
import { createWorkspace, newton, pointOf, writeAtRest } from "./newton.ts";
import { curveOf, isSharp, isStraight, limitOf, type Port } from "./port.ts";
import { look, throwSwitches, watchOf } from "./rules.ts";
import { failureOf, rest, settle } from "./solve.ts";
import { type Answer, createStage, type Stage } from "./stage.ts";
import { createSystem } from "./system.ts";

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
  readonly seenFrom: (node: number) => number;
  /** Adds `share` times what an instrument of so many ohms shows between each node and node 0 to `into`, from `from` on. */
  readonly addSeen: (nodes: Int32Array, instrumentOhms: number, into: Float32Array, from: number, share: number) => void;
}

export interface Prepared {
  /** The point without any change. */
  readonly base: Point;
  /**
   * The circuit with a change, from the factors of the unchanged one. Undefined when that is not good enough (a part comes loose, a device does not come to
   * rest, switches chatter): then solve the changed circuit in full. `mostRounds`: how often switches may move before it gives up; without end when not said.
   */
  readonly withDelta: (delta: Delta, mostRounds?: number) => Changed | undefined;
}

function exchangedIn(elements: readonly Element[], exchanged: readonly (readonly [number, Element])[]): Element[] {
  const list = [...elements];
  for (const [index, now] of exchanged) list[index] = now;
  return list;
}

/** Steps of its switches through which a circuit may come to rest and still be prepared at each. */
const MOST_STAGES = 12;

/**
 * Prepares a circuit for many changes: a stage for every state that its switches pass through from the beginning until they rest. A changed circuit goes the same
 * way from the same beginning, so that a relay which would never have pulled in is not found holding itself. Where it leaves the way, the switches that differ
 * are changes like the others.
 */
export function prepare(netlist: Netlist): { readonly kind: "prepared"; readonly prepared: Prepared } | SolveFailure {
  const work = createWorkspace(netlist);
  let system = createSystem(netlist, false);
  const stages: Stage[] = [];
  let base: Point | undefined;
  for (let round = 0; base === undefined; round++) {
    if (round > MOST_STAGES) {
      // A long way to rest: one stage at its end, and everything before it as changes from there.
      const end = createWorkspace(netlist);
      const found = rest(system, end);
      if (found.kind !== "solved") return found;
      work.memory.set(end.memory);
      throwSwitches(work.watch, work.memory, work.closed);
      stages.length = 0;
    }
    const found = settle(system, work);
    if (found.kind !== "solved") return failureOf(system, found);
    // The factors at the resting point, linearised there.
    writeAtRest(system, work);
    const again = newton(system, work);
    if (again.kind !== "solved") return failureOf(system, again);
    const stage = createStage(netlist, system, work, again.x);
    if (stage === undefined) return { kind: "singular", node: system.nameOf(0) };
    stages.push(stage);
    const point = pointOf(system, work, again.x);
    if (!look(work.watch, point.volts, work.memory)) base = point;
    else {
      throwSwitches(work.watch, work.memory, work.closed);
      system = createSystem(netlist, false, system);
    }
  }
  const { columnOf } = system;
  const resting = base;
  const last = stages.at(-1)!;
  const elements = netlist.elements;
  const { watch } = work;
  /** Unknowns are the nodes in order, none left out. */
  const whole = resting.floating.every((f) => f === 0);
  const volts = new Float64Array(netlist.nodes.length);
  const memory = new Uint8Array(watch.watchers.length);
  const closed = new Uint8Array(elements.length);

  function withDelta(delta: Delta, mostRounds = Infinity): Changed | undefined {
    const taken = new Set<number>();
    const replaced: (readonly [number, Element | undefined])[] = [];
    /** Switches that stay switches, with other contacts or rules. */
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
    const watching = exchanged.length === 0 ? watch : watchOf(exchangedIn(elements, exchanged));
    const seeing = watching === watch ? memory : new Uint8Array(watching.watchers.length);
    for (let k = 0; k < seeing.length; k++) seeing[k] = watching.watchers[k]!.starts ? 1 : 0;
    throwSwitches(watching, seeing, closed);
    let seen: Set<string> | undefined;
    for (let round = 0; ; round++) {
      if (round > mostRounds) return undefined;
      const stage = nearest(round, taken);
      const changes = changesFrom(stage, added, replaced, exchanged, taken);
      const answer = changes === undefined ? undefined : stage.bring(changes, taken);
      if (answer === undefined) return undefined;
      if (whole) volts.set(stage.x.subarray(0, volts.length - 1), 1);
      else for (let n = 0; n < volts.length; n++) volts[n] = columnOf[n]! < 0 ? 0 : stage.x[columnOf[n]!]!;
      if (!look(watching, volts, seeing)) return changedOf(stage, answer);
      seen ??= new Set();
      const key = seeing.join("");
      if (seen.has(key)) return undefined;
      seen.add(key);
      throwSwitches(watching, seeing, closed);
    }
  }

  /** The stage whose switches stand as they do now, looked for where it usually is first; the last one when there is none. */
  function nearest(round: number, taken: ReadonlySet<number>): Stage {
    const fits = (stage: Stage | undefined): boolean =>
      stage !== undefined && watch.switches.every((i) => taken.has(i) || stage.closed[i] === closed[i]);
    return fits(stages[round]) ? stages[round]! : (stages.find(fits) ?? last);
  }

  function changesFrom(
    stage: Stage,
    added: readonly Port[],
    replaced: readonly (readonly [number, Element | undefined])[],
    exchanged: readonly (readonly [number, Element])[],
    taken: ReadonlySet<number>,
  ): Port[] | undefined {
    const changes = [...added];
    const put = (port: Port | undefined): boolean => port !== undefined && changes.push(port) > 0;
    for (const [index, now] of replaced) if (!put(stage.portAt(index, now, false))) return undefined;
    for (const [index, now] of exchanged) if (!put(stage.portAt(index, now, closed[index] === 1))) return undefined;
    for (const i of watch.switches) {
      if (closed[i] !== stage.closed[i] && !taken.has(i) && !put(stage.portAt(i, elements[i], closed[i] === 1))) return undefined;
    }
    return changes;
  }

  const changedOf = (stage: Stage, answer: Answer): Changed => ({
    volts,
    closed,
    seenFrom: (node) => stage.seenFrom(answer, node),
    addSeen: (nodes, instrumentOhms, into, from, share) => stage.addSeen(answer, nodes, instrumentOhms, into, from, share),
  });

  return { kind: "prepared", prepared: { base: resting, withDelta } };
}
