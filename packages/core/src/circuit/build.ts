import {
  batterySource,
  cavityOhms,
  DIRECT_JOINT_OHMS,
  fuseOhms,
  groundOhms,
  filamentAt,
  filamentText,
  ratedOhms,
  switchOhms,
  wireOhms,
} from "../devices/index.ts";
import {
  allPlaces,
  batteryNegative,
  batteryOf,
  batteryPositive,
  wiresAt,
  type Harness,
  type Link,
  linksOf,
  lookupOf,
  type PlaceId,
} from "../harness/index.ts";
import { amps, celsius, metres, squareMillimetres, volts } from "../quantity/index.ts";
import type { Element, Netlist } from "../solver/index.ts";
import type { Fault } from "./fault.ts";
import type { VehicleState } from "./state.ts";

/** Resistance of a fused jumper lead with its clips, Ω. */
const JUMPER_OHMS = 0.02;

export interface Circuit {
  readonly netlist: Netlist;
  /** Node index of every place. */
  readonly nodeOf: ReadonlyMap<PlaceId, number>;
  /** Element index of every link that conducts in this state. */
  readonly elementOf: ReadonlyMap<string, number>;
}

export interface BuildOptions {
  /** A measured voltage between the battery posts, V; the source is then held at it. */
  readonly sourceVolts?: number | undefined;
  /** Sources set to 0 V, as for an ohmmeter on a dead circuit. */
  readonly dead?: boolean;
}

/** Harness + state + faults → netlist. Throws RangeError for a harness without battery (see validateHarness). */
export function buildCircuit(harness: Harness, state: VehicleState, faults: readonly Fault[], options: BuildOptions = {}): Circuit {
  const minus = batteryNegative(harness);
  const nodes: PlaceId[] = [minus, ...allPlaces(harness).filter((p) => p !== minus)];
  const nodeOf = new Map(nodes.map((p, i) => [p, i]));
  const node = (p: string): number => {
    const found = nodeOf.get(p as PlaceId);
    if (found === undefined) throw new RangeError(`no place ${p} in this circuit`);
    return found;
  };
  const elements: Element[] = [sourceElement(harness, state, options, node)];
  const elementOf = new Map<string, number>();
  for (const link of linksOf(harness)) {
    if (isOpen(harness, link, state, faults)) continue;
    elementOf.set(link.id, elements.length);
    elements.push(elementOfLink(harness, link, state, faults, node));
  }
  for (const [i, [p, q]] of state.bridged.entries()) {
    if (nodeOf.has(p as PlaceId) && nodeOf.has(q as PlaceId) && p !== q) {
      elements.push({ id: `jumper ${i + 1}`, kind: "resistor", a: node(p), b: node(q), ohms: JUMPER_OHMS });
    }
  }
  for (const f of faults) {
    if (f.kind === "short to ground") elements.push({ id: `short at ${f.place}`, kind: "resistor", a: node(f.place), b: 0, ohms: f.ohms });
    if (f.kind === "across") {
      elements.push({ id: `short from ${f.from} to ${f.to}`, kind: "resistor", a: node(f.from), b: node(f.to), ohms: f.ohms });
    }
    if (f.kind === "short to feed") {
      elements.push({ id: `short at ${f.place}`, kind: "resistor", a: node(f.place), b: node(batteryPositive(harness)), ohms: f.ohms });
    }
  }
  return { netlist: { nodes, elements }, nodeOf, elementOf };
}

function sourceElement(harness: Harness, state: VehicleState, options: BuildOptions, node: (p: string) => number): Element {
  const battery = batteryOf(harness)!;
  const drawsStarter = harness.components.some((c) => c.kind === "switch" && c.closedBy === "crank");
  const source = batterySource(battery, state.engine, drawsStarter);
  const held = options.sourceVolts !== undefined && !options.dead;
  return {
    id: battery.id,
    kind: "source",
    a: node(batteryPositive(harness)),
    b: 0,
    volts: options.dead ? 0 : (options.sourceVolts ?? source.emf),
    internalOhms: held ? 0 : source.internal,
  };
}

/** Whether a link carries nothing in this state: a switch at rest, a pulled or unplugged part, an open fault. */
function isOpen(harness: Harness, link: Link, state: VehicleState, faults: readonly Fault[]): boolean {
  if (faults.some((f) => f.kind === "open" && f.link === link.id)) return true;
  const owner = link.kind === "cavity" ? link.id.slice(0, link.id.indexOf(".")) : link.id;
  if (state.opened.includes(owner) || state.opened.includes(link.id)) return true;
  // A battery is disconnected at its posts: what ends there hangs free, the posts keep their voltage.
  const source = batteryOf(harness)!.id;
  if (state.opened.includes(source) && [link.a, link.b].some((p) => p.startsWith(`${source}.`))) return true;
  if (link.kind !== "switch") return false;
  const part = lookupOf(harness).parts.get(link.id);
  if (part?.kind !== "switch") return false;
  switch (part.closedBy) {
    case "hand":
      return !state.on.includes(part.id);
    case "accessory":
      return state.key !== "accessory" && state.key !== "run";
    case "run":
      return state.key !== "run" && state.key !== "crank";
    case "crank":
      return state.key !== "crank";
  }
}

function elementOfLink(harness: Harness, link: Link, state: VehicleState, faults: readonly Fault[], node: (p: string) => number): Element {
  const added = faults.reduce((sum, f) => (f.kind === "series" && f.link === link.id ? sum + f.ohms : sum), 0);
  const ends = { id: link.id, a: node(link.a), b: node(link.b) };
  if (link.kind === "load") {
    const part = lookupOf(harness).parts.get(link.id);
    if (part?.kind !== "load") throw new RangeError(`no load ${link.id}`);
    const rated = volts(harness.nominalVolts);
    if (part.sort !== "lamp" || added > 0) {
      // A bad joint inside a lamp is taken in series with its rated resistance.
      return { ...ends, kind: "resistor", ohms: ratedOhms(part, rated) + added };
    }
    return { ...ends, kind: "curve", at: (across) => filamentAt(part, rated, volts(across)), text: filamentText(part, rated) };
  }
  return { ...ends, kind: "resistor", ohms: soundOhms(harness, link, state) + added };
}

/** Resistance of a sound link other than a load, Ω. */
function soundOhms(harness: Harness, link: Link, state: VehicleState): number {
  switch (link.kind) {
    case "wire": {
      const wire = lookupOf(harness).wires.get(link.id)!;
      return wireOhms(squareMillimetres(wire.areaMm2), metres(wire.lengthM), celsius(state.temperatureC));
    }
    case "fuse": {
      const part = lookupOf(harness).parts.get(link.id);
      if (part?.kind !== "fuse") throw new RangeError(`no fuse ${link.id}`);
      return fuseOhms(amps(part.ratingAmps));
    }
    case "cavity":
      return cavityOhms(heaviestWireAt(harness, link));
    case "switch":
      return switchOhms(heaviestWireAt(harness, link));
    case "ground":
      return groundOhms(heaviestWireAt(harness, link));
    case "joint":
      return DIRECT_JOINT_OHMS;
    case "load":
      throw new RangeError("a load has no sound resistance of its own here");
  }
}

/** Area of the largest wire that ends at either side of a link, mm²; 0 when none does. */
const heaviestWireAt = (harness: Harness, link: Link): number =>
  Math.max(0, ...[...wiresAt(harness, link.a), ...wiresAt(harness, link.b)].map((w) => w.areaMm2));
