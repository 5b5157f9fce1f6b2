import { batteryPositive, type Harness, innerPlace, isInnerPlace, lookupOf, partNameIn } from "../harness/index.ts";
import type { Delta, Element, Netlist } from "../solver/index.ts";
import { partsOfFault, type Fault } from "./fault.ts";
import { withSeries } from "./series.ts";
import { type BuildOptions, type Circuit, type Overrides, partAgain, soundCircuit } from "./sound.ts";
import type { VehicleState } from "./state.ts";

/** Circuits without faults by harness and by what they were made for; a harness is immutable. */
const made = new WeakMap<Harness, Map<string, Circuit>>();
const KEPT = 24;

function soundOf(harness: Harness, state: VehicleState, options: BuildOptions): Circuit {
  const known = made.get(harness) ?? new Map<string, Circuit>();
  made.set(harness, known);
  const key = JSON.stringify([state, options.sourceVolts, options.dead, options.phase, options.transient, options.fusesHold]);
  const found = known.get(key);
  if (found !== undefined) return found;
  const circuit = soundCircuit(harness, state, options, new Map());
  if (known.size >= KEPT) known.delete(known.keys().next().value!);
  known.set(key, circuit);
  return circuit;
}

/** Harness + state + faults → netlist. Throws RangeError for a harness without battery (see validateHarness) and for what it does not hold. */
export function buildCircuit(harness: Harness, state: VehicleState, supposed: readonly Fault[], options: BuildOptions = {}): Circuit {
  if (supposed.length === 0) return soundOf(harness, state, options);
  const faults = supposed.flatMap((f) => partsOfFault(harness, f));
  const overrides = overridesOf(harness, faults);
  const sound = overrides.size === 0 ? soundOf(harness, state, options) : soundCircuit(harness, state, options, overrides);
  const nodes = [...sound.netlist.nodes];
  let elements: Element[] = [...sound.netlist.elements];
  const added: Element[] = [];
  for (const f of faults) {
    if (f.kind === "settings" || f.kind === "lead") continue;
    if ("link" in f) {
      if (!sound.elementOf.has(f.link) && !isKnown(harness, f.link)) throw new RangeError(`nothing called ${f.link} in this circuit`);
      elements = elements.flatMap((e) => (e.id === f.link ? harmed(e, f, nodes) : [e]));
    } else added.push(...addedBy(sound, harness, state, f));
  }
  elements = [...elements, ...added];
  const nodeOf = nodes.length === sound.netlist.nodes.length ? sound.nodeOf : new Map(nodes.map((n, i) => [n, i]));
  const netlist: Netlist = { ...sound.netlist, nodes, elements };
  return { netlist, nodeOf, elementOf: new Map(elements.map((e, i) => [e.id, i])), battery: sound.battery };
}

const isKnown = (harness: Harness, link: string): boolean => {
  const { parts, wires } = lookupOf(harness);
  return wires.has(link) || parts.has(partNameIn(link)) || link.startsWith("=");
};

function overridesOf(harness: Harness, faults: readonly Fault[]): Overrides {
  const overrides = new Map<string, Readonly<Record<string, unknown>>>();
  for (const f of faults) {
    if (f.kind !== "settings") continue;
    if (!lookupOf(harness).parts.has(f.component)) throw new RangeError(`no component ${f.component} in this circuit`);
    const part = lookupOf(harness).parts.get(f.component)!;
    if (part.kind !== "device" && part.kind !== "battery" && part.kind !== "fuse")
      throw new RangeError(`${f.component} has no settings that a fault could change`);
    overrides.set(f.component, { ...overrides.get(f.component), ...f.settings });
  }
  return overrides;
}

type LinkFault = Extract<Fault, { link: string }>;

/** What stands where an element was. A nonlinear element gets its resistance behind a node of its own, so that the circuit can be written as text. */
function harmed(e: Element, f: LinkFault, nodes: string[]): Element[] {
  if (f.kind === "open") return [];
  if (f.kind === "stuck") return [stuck(e, f.closed)];
  if (e.kind !== "curve" && e.kind !== "diode") return [withSeries(e, f.ohms) ?? e];
  const inner = nodes.push(innerPlace(e.id, "in")) - 1;
  return [
    { ...e, a: inner },
    { id: `${e.id} joint`, kind: "resistor", a: e.a, b: inner, ohms: f.ohms },
  ];
}

function stuck(e: Element, closed: boolean): Element {
  if (e.kind !== "switch") return e;
  return { id: e.id, a: e.a, b: e.b, kind: "resistor", ohms: closed ? e.onOhms : e.offOhms };
}

function addedBy(
  circuit: Circuit,
  harness: Harness,
  state: VehicleState,
  f: Exclude<Fault, LinkFault | { kind: "settings" | "lead" | "splice" }>,
): Element[] {
  const node = (p: string): number => {
    const found = circuit.nodeOf.get(p);
    if (found === undefined) throw new RangeError(`no place ${p} in this circuit`);
    return found;
  };
  // Inside a device that is unplugged nothing touches anything.
  const inside = f.kind === "across" ? [f.from, f.to].find((p) => isInnerPlace(p) && !circuit.nodeOf.has(p)) : undefined;
  if (inside !== undefined && lookupOf(harness).parts.has(partNameIn(inside))) return [];
  if (f.kind === "across" && state.opened.some((id) => isInside(harness, id, f))) return [];
  switch (f.kind) {
    case "short to ground":
      return [{ id: `short at ${f.place}`, kind: "resistor", a: node(f.place), b: 0, ohms: f.ohms }];
    case "short to feed":
      return [{ id: `short at ${f.place}`, kind: "resistor", a: node(f.place), b: node(batteryPositive(harness)), ohms: f.ohms }];
    case "across":
      return [{ id: `short from ${f.from} to ${f.to}`, kind: "resistor", a: node(f.from), b: node(f.to), ohms: f.ohms }];
  }
}

/** Whether something touches inside a part that is taken out with it. */
function isInside(harness: Harness, part: string, { from, to }: Extract<Fault, { kind: "across" }>): boolean {
  const kind = lookupOf(harness).parts.get(part)?.kind;
  return (kind === "load" || kind === "device" || kind === "switch") && [from, to].every((p) => p.startsWith(`${part}.`));
}

/**
 * A fault as a change of the circuit without it, for solving from that circuit's factors. Undefined when the change has a shape of its own (a device made of
 * other parts): then build and solve the faulty circuit.
 */
export function deltaOf(
  circuit: Circuit,
  harness: Harness,
  state: VehicleState,
  fault: Fault,
  options: BuildOptions = {},
): Delta | undefined {
  if (fault.kind === "lead") return {};
  if (fault.kind === "splice") return deltaOfAll(circuit, harness, state, [fault], options);
  if (fault.kind === "settings") return deltaOfSettings(circuit, harness, state, fault, options);
  if (!("link" in fault)) return { added: addedBy(circuit, harness, state, fault) };
  const index = circuit.elementOf.get(fault.link);
  // What is open already in this state stays as it is.
  if (index === undefined) return {};
  const e = circuit.netlist.elements[index]!;
  switch (fault.kind) {
    case "open":
      return { replaced: new Map([[index, undefined]]) };
    case "stuck":
      return { replaced: new Map([[index, stuck(e, fault.closed)]]) };
    case "series": {
      const now = withSeries(e, fault.ohms);
      return now === undefined ? {} : { replaced: new Map([[index, now]]) };
    }
  }
}

/** Several faults at once as one change. Undefined when one of them has no such change or two of them change the same element. */
export function deltaOfAll(
  circuit: Circuit,
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  options: BuildOptions = {},
): Delta | undefined {
  const added: Element[] = [];
  const replaced = new Map<number, Element | undefined>();
  for (const f of faults.flatMap((x) => partsOfFault(harness, x))) {
    const delta = deltaOf(circuit, harness, state, f, options);
    if (delta === undefined) return undefined;
    for (const e of delta.added ?? []) {
      if (added.some((x) => x.id === e.id)) return undefined;
      added.push(e);
    }
    for (const [index, now] of delta.replaced ?? []) {
      if (replaced.has(index)) return undefined;
      replaced.set(index, now);
    }
  }
  return { added, replaced };
}

const settingsDeltas = new WeakMap<Circuit, WeakMap<Fault, { readonly delta: Delta | undefined }>>();

/** A part that is not as its settings say; made once for a circuit and a fault, as a part is stamped anew for it. */
function deltaOfSettings(
  circuit: Circuit,
  harness: Harness,
  state: VehicleState,
  fault: Extract<Fault, { kind: "settings" }>,
  options: BuildOptions,
): Delta | undefined {
  const byFault = settingsDeltas.get(circuit) ?? new WeakMap<Fault, { readonly delta: Delta | undefined }>();
  settingsDeltas.set(circuit, byFault);
  const made = byFault.get(fault) ?? { delta: newDeltaOfSettings(circuit, harness, state, fault, options) };
  byFault.set(fault, made);
  return made.delta;
}

function newDeltaOfSettings(
  circuit: Circuit,
  harness: Harness,
  state: VehicleState,
  fault: Extract<Fault, { kind: "settings" }>,
  options: BuildOptions,
): Delta | undefined {
  const now = partAgain(harness, state, options, overridesOf(harness, [fault]), circuit, fault.component);
  if (now === undefined) return undefined;
  const replaced = new Map<number, Element | undefined>();
  const added: Element[] = [];
  for (const e of now) {
    const index = circuit.elementOf.get(e.id);
    if (index === undefined) added.push(e);
    else if (!same(e, circuit.netlist.elements[index]!)) replaced.set(index, e);
  }
  const stays = new Set(now.map((e) => e.id));
  for (const [id, index] of circuit.elementOf) {
    const own = id === fault.component || id.startsWith(`${fault.component}.`);
    if (own && !stays.has(id) && !isCavityLike(harness, id)) replaced.set(index, undefined);
  }
  return { added, replaced };
}

/** Cavities carry the name of their connector in front and belong to nobody's settings. */
const isCavityLike = (harness: Harness, id: string): boolean => lookupOf(harness).parts.get(partNameIn(id))?.kind === "connector";

/** Equal in everything that is data; curves by the text that says them. */
const same = (p: Element, q: Element): boolean => JSON.stringify(p) === JSON.stringify(q);
