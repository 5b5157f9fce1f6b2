import type { Element } from "./netlist.ts";
import { curveOf, isSharp, isStraight, limitOf, type Port } from "./port.ts";
import { type Watch, watchOf } from "./rules.ts";
import type { Linearization } from "./linearization.ts";

/** How a circuit differs from its base. Nodes stay the same. */
export interface Delta {
  readonly added?: readonly Element[];
  /** By element index: what stands there instead; undefined where it is taken out. */
  readonly replaced?: ReadonlyMap<number, Element | undefined>;
}

/** A delta sorted by how it is solved. */
export interface Change {
  /** Elements that no longer stand as they did. */
  readonly taken: ReadonlySet<number>;
  readonly replaced: readonly (readonly [number, Element | undefined])[];
  /** Switches that stay switches, with other contacts or rules. */
  readonly exchanged: readonly (readonly [number, Element])[];
  readonly added: readonly Port[];
  readonly watching: Watch;
}

/** Sorts a delta. Undefined where no port can say it: an ideal source, a switch in place of something else, a node that nothing joins. `floating`: 1 by node index. */
export function changeOf(elements: readonly Element[], floating: Uint8Array, watch: Watch, delta: Delta): Change | undefined {
  const taken = new Set<number>();
  const replaced: (readonly [number, Element | undefined])[] = [];
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
    if (curve === undefined || e.kind === "switch" || floating[e.a] === 1 || floating[e.b] === 1) return undefined;
    added.push({ a: e.a, b: e.b, extra: curve, limit: limitOf(e), straight: isStraight(e), sharp: isSharp(e) });
  }
  return { taken, replaced, exchanged, added, watching: exchanged.length === 0 ? watch : watchOf(exchangedIn(elements, exchanged)) };
}

function exchangedIn(elements: readonly Element[], exchanged: readonly (readonly [number, Element])[]): Element[] {
  const list = [...elements];
  for (const [index, now] of exchanged) list[index] = now;
  return list;
}

/** Whether nothing changes. */
export const isEmpty = ({ added, replaced, exchanged }: Change): boolean => added.length + replaced.length + exchanged.length === 0;

/** The port of a change that has only one, in any linearization; undefined for the others. */
export function onlyPortOf({ added, replaced, exchanged }: Change): ((at: Linearization) => Port | undefined) | undefined {
  if (exchanged.length > 0 || added.length + replaced.length !== 1) return undefined;
  const [first] = added;
  return first !== undefined ? () => first : (at) => at.tangents.portAt(replaced[0]![0], replaced[0]![1], false);
}

/** All ports of a change in a linearization, with those of switches that stand otherwise than there; undefined where one cannot be said. `closed`: now, by element index. */
export function portsOf(
  { added, replaced, exchanged, taken }: Change,
  at: Linearization,
  elements: readonly Element[],
  switches: Int32Array,
  closed: Uint8Array,
): Port[] | undefined {
  const ports = [...added];
  const put = (port: Port | undefined): boolean => port !== undefined && ports.push(port) > 0;
  for (const [index, now] of replaced) if (!put(at.tangents.portAt(index, now, false))) return undefined;
  for (const [index, now] of exchanged) if (!put(at.tangents.portAt(index, now, closed[index] === 1))) return undefined;
  for (const i of switches) {
    if (closed[i] !== at.closed[i] && !taken.has(i) && !put(at.tangents.portAt(i, elements[i], closed[i] === 1))) return undefined;
  }
  return ports;
}
