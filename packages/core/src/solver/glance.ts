import type { Port } from "./port.ts";
import type { Watch } from "./rules.ts";
import type { Stage } from "./stage.ts";

/** One step on the way of the unchanged circuit from its beginning to its rest, and what its watchers remembered before they looked. */
export interface Step {
  readonly stage: Stage;
  readonly memory: Uint8Array;
}

/** What one change at one port would do, by the tangents alone. */
export interface Glance {
  /**
   * Whether every switch moves as in the unchanged circuit, step by step, with room to spare for what bends. `portAt`: the change in a stage; undefined where no port can say it. `taken`:
   * elements that are replaced.
   */
  readonly staysOnWay: (portAt: (stage: Stage) => Port | undefined, taken: ReadonlySet<number>) => boolean;
  /** The largest move at rest of any of these nodes, V. Only where it stays on the way. */
  readonly moveAtRest: (port: Port, nodes: Int32Array) => number;
}

/** By how much what is told by tangents may be short, as a share of the move. */
const SHORT_BY = 0.5;
/** What bends may be off by no more than this in all, V; moves below the least bend nothing. */
const MOST_BENT_VOLTS = 0.3;
const LEAST_BENT_VOLTS = 1e-3;
/** A node that only insulation holds, Ω: single figures do not carry that. */
const LOOSE_OHMS = 1e6;

interface Answers {
  /** V at each unknown for 1 A into the node. */
  readonly column: Float32Array;
  /** The same across what each watcher watches, then across each bent element. */
  readonly across: Float64Array;
}

export function createGlance(steps: readonly Step[], watch: Watch, columnOf: Int32Array): Glance {
  const count = watch.plus.length;
  const { rises, falls, eitherWay } = watch;
  const known = steps.map(() => new Map<number, Answers>());
  const at = (x: ArrayLike<number>, node: number): number => (columnOf[node]! < 0 ? 0 : x[columnOf[node]!]!);
  const controls = steps.map(({ stage }) =>
    Float64Array.from(watch.plus, (p, k) => at(stage.rested, p) - at(stage.rested, watch.minus[k]!)),
  );

  function answersOf(s: number, node: number): Answers {
    const made = known[s]!.get(node);
    if (made !== undefined) return made;
    const { stage } = steps[s]!;
    const x = stage.answerTo(node);
    const across = new Float64Array(count + stage.bends.length);
    for (let k = 0; k < count; k++) across[k] = at(x, watch.plus[k]!) - at(x, watch.minus[k]!);
    stage.bends.forEach(({ a, b }, i) => (across[count + i] = at(x, a) - at(x, b)));
    const found = { column: Float32Array.from(x), across };
    known[s]!.set(node, found);
    return found;
  }

  /** What flows through the port over the circuit at rest, A; NaN where it cannot be said. */
  function flow(s: number, port: Port): number {
    if (!port.straight) return NaN;
    const [p, q] = [answersOf(s, port.a), answersOf(s, port.b)];
    const ohms = at(p.column, port.a) - at(p.column, port.b) - at(q.column, port.a) + at(q.column, port.b);
    if (at(p.column, port.a) > LOOSE_OHMS || at(q.column, port.b) > LOOSE_OHMS) return NaN;
    const { rested } = steps[s]!.stage;
    const before = at(rested, port.a) - at(rested, port.b);
    const still = port.extra(0).amps;
    const slope = port.extra(1).amps - still;
    return still + (slope * (before - ohms * still)) / (1 + ohms * slope);
  }

  function movesLikeIt(s: number, port: Port, taken: ReadonlySet<number>): boolean {
    const amps = flow(s, port);
    if (!(Math.abs(amps) < Infinity)) return false;
    const { stage, memory } = steps[s]!;
    const [p, q] = [answersOf(s, port.a).across, answersOf(s, port.b).across];
    let slack = 0;
    for (let i = 0; i < stage.bends.length; i++) {
      const move = amps * (q[count + i]! - p[count + i]!);
      if (Math.abs(move) < LEAST_BENT_VOLTS || taken.has(stage.bends[i]!.element)) continue;
      slack += stage.bends[i]!.offBy(move);
      if (!(slack < MOST_BENT_VOLTS)) return false;
    }
    const base = controls[s]!;
    for (let k = 0; k < count; k++) {
      const move = amps * (q[k]! - p[k]!);
      const room = SHORT_BY * Math.abs(move) + slack;
      const [low, high] = [Math.min(0, move - room), Math.max(0, move + room)];
      if (wants(k, base[k]! + low, memory[k]!) !== wants(k, base[k]! + high, memory[k]!)) return false;
      // What takes either sign turns where it passes nothing.
      if (eitherWay[k] === 1 && (base[k]! + low) * (base[k]! + high) < 0 && wants(k, 0, memory[k]!) !== wants(k, base[k]!, memory[k]!))
        return false;
    }
    return true;
  }

  function wants(k: number, across: number, before: number): number {
    const control = eitherWay[k] === 1 ? Math.abs(across) : across;
    return control > rises[k]! ? 1 : control < falls[k]! ? 0 : before;
  }

  return {
    staysOnWay: (portAt, taken) =>
      steps.every(({ stage }, s) => {
        const port = portAt(stage);
        return port !== undefined && movesLikeIt(s, port, taken);
      }),
    moveAtRest: (port, nodes) => {
      const s = steps.length - 1;
      const amps = flow(s, port);
      const [p, q] = [answersOf(s, port.a).column, answersOf(s, port.b).column];
      let most = 0;
      for (const n of nodes) most = Math.max(most, Math.abs(amps * (at(q, n) - at(p, n))));
      return most;
    },
  };
}
