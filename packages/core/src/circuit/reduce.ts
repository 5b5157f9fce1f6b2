import { curveOf, type Element, type Point } from "../solver/index.ts";
import type { Circuit } from "./sound.ts";
import type { PlaceId } from "../harness/index.ts";

/** Conductance below which two nodes do not hang together, S: that of insulation. */
const LEAST_SIEMENS = 1e-9;

/** A circuit cut down to the nodes in question. */
export interface Reduced extends Circuit {
  /** Index in the whole circuit by index here. */
  readonly nodes: Int32Array;
}

/**
 * Cuts a circuit down to some of its elements. What is cut off is stood in for by the resistances and currents that it shows at the nodes where it was joined, along its tangents at a
 * solved point and with its switches as they stood there: exact for small changes; a fault that would throw a switch in what is cut off is seen there no more. `keeps`: by
 * the name of the element; the battery always stays. `places`: stay even where nothing is joined to them. `mostNeighbours`: a node that hangs together with more of them stays, so that what is left
 * does not become a mesh of everything with everything.
 */
export function reduceCircuit(
  circuit: Circuit,
  point: Point,
  keeps: (id: string) => boolean,
  places: readonly PlaceId[] = [],
  mostNeighbours = Infinity,
): Reduced {
  const { elements, nodes } = circuit.netlist;
  const isKept = Uint8Array.from(elements, (e) => (e.id === circuit.battery || keeps(e.id) || curveOf(e, false) === undefined ? 1 : 0));
  const used = new Uint8Array(nodes.length);
  used[0] = 1;
  const mark = (n: number): void => void (used[n] = 1);
  for (const p of places) mark(circuit.nodeOf.get(p) ?? 0);
  const mesh = createMesh(nodes.length);
  elements.forEach((e, i) => {
    if (isKept[i] === 1) {
      mark(e.a);
      mark(e.b);
      if (e.kind === "switch") watchedPairs(e.rule).flat().forEach(mark);
      return;
    }
    const v = point.volts[e.a]! - point.volts[e.b]!;
    const { amps, siemens } = curveOf(e, point.closed[i] === 1)!(v);
    mesh.join(e.a, e.b, siemens, amps - siemens * v);
  });
  mesh.eliminate((n) => used[n] === 0, mostNeighbours).forEach(mark);
  const chosen = Int32Array.from([...used.keys()].filter((n) => used[n] === 1));
  const indexOf = new Int32Array(nodes.length).fill(-1);
  chosen.forEach((n, i) => (indexOf[n] = i));
  const watchers = new Map<Rule, Rule>();
  const list: Element[] = elements.flatMap((e, i) => (isKept[i] === 1 ? [moved(e, indexOf, watchers)] : []));
  mesh.pairs((p, q, siemens) => {
    if (siemens > LEAST_SIEMENS)
      list.push({ id: `rest ${nodes[p]!} ${nodes[q]!}`, kind: "resistor", a: indexOf[p]!, b: indexOf[q]!, ohms: 1 / siemens });
  });
  for (const n of chosen) {
    const amps = mesh.drawn(n);
    if (n !== 0 && Math.abs(amps) > LEAST_SIEMENS) list.push({ id: `rest at ${nodes[n]!}`, kind: "current", a: indexOf[n]!, b: 0, amps });
  }
  const names = Array.from(chosen, (n) => nodes[n]!);
  return {
    netlist: { ...circuit.netlist, nodes: names, elements: list, couplings: [] },
    nodeOf: new Map(names.map((n, i) => [n, i])),
    elementOf: new Map(list.map((e, i) => [e.id, i])),
    battery: circuit.battery,
    nodes: chosen,
  };
}

/** Conductances between nodes, S, and currents drawn from them, A; nodes are eliminated by turning their star into a mesh. */
function createMesh(count: number): {
  readonly join: (a: number, b: number, siemens: number, amps: number) => void;
  /** Gives those that stay, as they have too many neighbours. */
  readonly eliminate: (isOut: (node: number) => boolean, mostNeighbours: number) => readonly number[];
  readonly pairs: (each: (a: number, b: number, siemens: number) => void) => void;
  readonly drawn: (node: number) => number;
} {
  const near: Map<number, number>[] = Array.from({ length: count }, () => new Map());
  const draws = new Float64Array(count);
  const add = (a: number, b: number, siemens: number): void => {
    near[a]!.set(b, (near[a]!.get(b) ?? 0) + siemens);
    near[b]!.set(a, (near[b]!.get(a) ?? 0) + siemens);
  };
  function remove(node: number): void {
    const star = [...near[node]!].filter(([, g]) => g > 0);
    const sum = star.reduce((s, [, g]) => s + g, 0);
    for (const [i, [p, g]] of star.entries()) {
      near[p]!.delete(node);
      draws[p]! += (draws[node]! * g) / sum;
      for (const [q, h] of star.slice(i + 1)) add(p, q, (g * h) / sum);
    }
    near[node]!.clear();
  }
  return {
    join: (a, b, siemens, amps) => {
      if (a === b) return;
      if (siemens > 0) add(a, b, siemens);
      draws[a]! += amps;
      draws[b]! -= amps;
    },
    // Those with few neighbours first, so that meshes stay small.
    eliminate: (isOut, mostNeighbours) => {
      const left = new Set([...near.keys()].filter((n) => isOut(n)));
      for (let most = 1; left.size > 0 && most <= mostNeighbours; most++) {
        let any = true;
        while (any) {
          any = false;
          for (const n of left) {
            if (near[n]!.size > most) continue;
            remove(n);
            left.delete(n);
            any = true;
          }
        }
      }
      return [...left];
    },
    pairs: (each) => near.forEach((list, a) => list.forEach((g, b) => a < b && each(a, b, g))),
    drawn: (node) => draws[node]!,
  };
}

type Rule = Extract<Element, { kind: "switch" }>["rule"];

/** Pairs of nodes between which a rule watches. */
export function watchedPairs(rule: Rule): readonly (readonly [plus: number, minus: number])[] {
  switch (rule.kind) {
    case "watcher":
      return [[rule.plus, rule.minus]];
    case "not":
      return watchedPairs(rule.of);
    case "all":
    case "any":
      return rule.of.flatMap(watchedPairs);
  }
}

/** One watcher may stand in several rules and stays one. */
function movedRule(rule: Rule, to: Int32Array, watchers: Map<Rule, Rule>): Rule {
  switch (rule.kind) {
    case "watcher": {
      const made = watchers.get(rule) ?? { ...rule, plus: to[rule.plus]!, minus: to[rule.minus]! };
      watchers.set(rule, made);
      return made;
    }
    case "not":
      return { ...rule, of: movedRule(rule.of, to, watchers) };
    case "all":
    case "any":
      return { ...rule, of: rule.of.map((r) => movedRule(r, to, watchers)) };
  }
}

/** An element on the new node numbers. */
const moved = (e: Element, to: Int32Array, watchers: Map<Rule, Rule>): Element =>
  e.kind === "switch" ? { ...e, a: to[e.a]!, b: to[e.b]!, rule: movedRule(e.rule, to, watchers) } : { ...e, a: to[e.a]!, b: to[e.b]! };
