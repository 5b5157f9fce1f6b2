import type { Port } from "./port.ts";
import type { Watch } from "./rules.ts";
import type { Linearization } from "./linearization.ts";
import type { WayStep } from "./way-to-rest.ts";

/** What one change at one port would do, by the tangents alone. */
export interface FirstOrder {
  /**
   * The first step of the way after which a switch may move otherwise than in the unchanged circuit, with room to spare for what is nonlinear; how many steps there are where none does. `portAt`: the
   * change in a linearization; undefined where no port can say it. `taken`: elements that are replaced.
   */
  readonly firstAstray: (portAt: (linearization: Linearization) => Port | undefined, taken: ReadonlySet<number>) => number;
  /** The largest move at rest of any of these nodes, V. Only where it stays on the way. */
  readonly move: (port: Port, nodes: Int32Array) => number;
}

/** By how much what is told by tangents may be short, as a share of the move. */
const SHORT_BY = 0.5;
/** What is nonlinear may be off by no more than this in all, V; moves below the least leave every tangent as it is. */
const MOST_NONLINEAR_VOLTS = 0.3;
const LEAST_NONLINEAR_VOLTS = 1e-3;
/** A node that only insulation holds, Ω: single figures do not carry that. */
const LOOSE_OHMS = 1e6;

interface Answers {
  /** V at each unknown for 1 A into the node. */
  readonly column: Float32Array;
  /** The same across what each watcher watches, then across each nonlinear element. */
  readonly across: Float64Array;
}

/** Answers from the tangents kept along the way to rest. `columnOf`: unknown by node index, negative where the node has none. */
export function createFirstOrder(steps: readonly WayStep[], watch: Watch, columnOf: Int32Array): FirstOrder {
  const count = watch.plus.length;
  const { rises, falls, eitherWay } = watch;
  const known = steps.map(() => new Map<number, Answers>());
  const at = (x: ArrayLike<number>, node: number): number => (columnOf[node]! < 0 ? 0 : x[columnOf[node]!]!);
  const controls = steps.map(({ linearization }) =>
    Float64Array.from(watch.plus, (p, k) => at(linearization.rested, p) - at(linearization.rested, watch.minus[k]!)),
  );

  function answersOf(s: number, node: number): Answers {
    const made = known[s]!.get(node);
    if (made !== undefined) return made;
    const { linearization } = steps[s]!;
    const x = linearization.responses.toNode(node);
    const across = new Float64Array(count + linearization.tangents.nonlinear.length);
    for (let k = 0; k < count; k++) across[k] = at(x, watch.plus[k]!) - at(x, watch.minus[k]!);
    linearization.tangents.nonlinear.forEach(({ a, b }, i) => (across[count + i] = at(x, a) - at(x, b)));
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
    const { rested } = steps[s]!.linearization;
    const before = at(rested, port.a) - at(rested, port.b);
    const still = port.extra(0).amps;
    const slope = port.extra(1).amps - still;
    return still + (slope * (before - ohms * still)) / (1 + ohms * slope);
  }

  function movesLikeIt(s: number, port: Port, taken: ReadonlySet<number>): boolean {
    const amps = flow(s, port);
    if (!(Math.abs(amps) < Infinity)) return false;
    const { linearization, memory } = steps[s]!;
    const [p, q] = [answersOf(s, port.a).across, answersOf(s, port.b).across];
    let slack = 0;
    for (let i = 0; i < linearization.tangents.nonlinear.length; i++) {
      const move = amps * (q[count + i]! - p[count + i]!);
      if (Math.abs(move) < LEAST_NONLINEAR_VOLTS || taken.has(linearization.tangents.nonlinear[i]!.element)) continue;
      slack += linearization.tangents.nonlinear[i]!.offBy(move);
      if (!(slack < MOST_NONLINEAR_VOLTS)) return false;
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
    firstAstray: (portAt, taken) => {
      const astray = steps.findIndex(({ linearization }, s) => {
        const port = portAt(linearization);
        return port === undefined || !movesLikeIt(s, port, taken);
      });
      return astray < 0 ? steps.length : astray;
    },
    move: (port, nodes) => {
      const s = steps.length - 1;
      const amps = flow(s, port);
      const [p, q] = [answersOf(s, port.a).column, answersOf(s, port.b).column];
      let most = 0;
      for (const n of nodes) most = Math.max(most, Math.abs(amps * (at(q, n) - at(p, n))));
      return most;
    },
  };
}
