import {
  batterySource,
  BLOWS_AT,
  cavityOhms,
  chargeable,
  createStamp,
  DIRECT_JOINT_OHMS,
  filament,
  fuseOhms,
  groundOhms,
  OPEN_OHMS,
  ratedOhms,
  type Surroundings,
  switchOhms,
  wireOhms,
} from "../devices/index.ts";
import {
  allPlaces,
  type Battery,
  batteryNegative,
  batteryOf,
  batteryPositive,
  type Device,
  deviceNode,
  deviceOf,
  type Harness,
  innerPlace,
  leadFuseAmps,
  type Link,
  linksOf,
  lookupOf,
  partNameIn,
  type PlaceId,
  wiresAt,
} from "../harness/index.ts";
import { amps, celsius, metres, squareMillimetres, volts, watts } from "../quantity/index.ts";
import type { Coupling, Element, Netlist } from "../solver/index.ts";
import type { VehicleState } from "./state.ts";

/** Resistance of a jumper lead with its clips, without the fuse in it, Ω. */
const JUMPER_OHMS = 0.02;
/** Far below that of real plates, so that a trace need not wait minutes for the mean; ripple sees a short either way. F */
const DOUBLE_LAYER_FARADS = 0.2;

export interface Circuit {
  readonly netlist: Netlist;
  /** Node index of every place, and of the nodes inside devices by "R7.~coil". */
  readonly nodeOf: ReadonlyMap<string, number>;
  /** Element index of every link and every part of a device that is there in this state, by "W2" or "R7.coil". */
  readonly elementOf: ReadonlyMap<string, number>;
  /** The element that stands for the battery. */
  readonly battery: string;
}

export interface BuildOptions {
  /** A measured voltage between the battery posts, V; the source is then held at it. */
  readonly sourceVolts?: number | undefined;
  /** Sources set to 0 V, as for an ohmmeter on a dead circuit. */
  readonly dead?: boolean;
  /** Moment in the period of pulsed outputs and bus traffic, 0…1; 0 when not said: everything that pulses is on. */
  readonly phase?: number;
  /** For a transient: windings with their inductance, pulsed outputs with their edges. */
  readonly transient?: boolean;
  /** No fuse blows, whatever it carries. */
  readonly fusesHold?: boolean;
}

/** Settings of components that a fault changes, by component. */
export type Overrides = ReadonlyMap<string, Readonly<Record<string, unknown>>>;

/** Harness + state → netlist of a circuit without faults. Throws RangeError for a harness without battery (see validateHarness). */
export function soundCircuit(harness: Harness, state: VehicleState, options: BuildOptions, overrides: Overrides): Circuit {
  const minus = batteryNegative(harness);
  const nodes: PlaceId[] = [minus, ...allPlaces(harness).filter((p) => p !== minus)];
  const nodeOf = new Map<string, number>(nodes.map((p, i) => [p, i]));
  const elements: Element[] = [];
  const couplings: Coupling[] = [];
  const inputs: Building = { harness, state, options, overrides, nodes, nodeOf, elements, couplings };
  elements.push(...sourceElements(inputs));
  for (const link of linksOf(harness)) {
    if (link.kind !== "device" && !isOpen(harness, link, state)) elements.push(elementOfLink(inputs, link));
  }
  for (const part of harness.components) if (part.kind === "device") stampDevice(inputs, part);
  for (const [i, [p, q]] of state.bridged.entries()) {
    if (nodeOf.has(p) && nodeOf.has(q) && p !== q) elements.push(fusedLead(inputs, jumperId(i), p, q));
  }
  for (const [i, [p, q, power]] of (state.lamps ?? []).entries()) {
    if (nodeOf.has(p) && nodeOf.has(q) && p !== q)
      elements.push(testLamp(`test lamp ${i + 1}`, nodeIn(inputs, p), nodeIn(inputs, q), power, harness.nominalVolts));
  }
  return {
    netlist: { nodes, elements, couplings },
    nodeOf,
    elementOf: new Map(elements.map((e, i) => [e.id, i])),
    battery: batteryOf(harness)!.id,
  };
}

interface Building {
  readonly harness: Harness;
  readonly state: VehicleState;
  readonly options: BuildOptions;
  readonly overrides: Overrides;
  readonly nodes: PlaceId[];
  readonly nodeOf: Map<string, number>;
  readonly elements: Element[];
  readonly couplings: Coupling[];
}

function nodeIn({ nodeOf }: Building, p: string): number {
  const found = nodeOf.get(p);
  if (found === undefined) throw new RangeError(`no place ${p} in this circuit`);
  return found;
}

/** A filament lamp of so many watts at nominal voltage. */
export function testLamp(id: string, a: number, b: number, power: number, nominalVolts: number): Element {
  const lamp = { kind: "load", id, sort: "lamp", rating: { watts: watts(power) }, pins: ["1", "2"] as [string, string] } as const;
  return { id, kind: "curve", a, b, ...filament(lamp, volts(nominalVolts)) };
}

/** What a device knows of the world in a state. */
export const surroundingsOf = (harness: Harness, state: VehicleState, id: string, options: BuildOptions): Surroundings => ({
  key: state.key,
  engine: state.engine,
  temperatureC: state.temperatureC,
  nominalVolts: harness.nominalVolts,
  input: state.inputs?.[id],
  asleep: state.asleep?.includes(id) ?? false,
  phase: options.phase ?? 0,
  transient: options.transient ?? false,
});

/** The settings of a device with what a fault changes. */
export function settingsOf(part: Device, overrides: Overrides): object {
  const { device, settings } = deviceOf(part);
  const changed = overrides.get(part.id);
  if (changed === undefined) return settings;
  const byPart = readSettings.get(changed) ?? new WeakMap<Device, object>();
  readSettings.set(changed, byPart);
  const known = byPart.get(part);
  if (known !== undefined) return known;
  const read = device.settings.safeParse({ ...settings, ...changed });
  if (!read.success) throw new RangeError(`${part.id}: ${read.error.issues.map((i) => `${i.path.join(".")} ${i.message}`).join("; ")}`);
  byPart.set(part, read.data);
  return read.data;
}
/** Settings that were read, by what is changed in them: a fault is asked for again and again. */
const readSettings = new WeakMap<object, WeakMap<Device, object>>();

/**
 * The elements of one part alone, made again with other settings on the nodes of a circuit that is at hand. Undefined when it would need nodes that this circuit does
 * not have.
 */
export function partAgain(
  harness: Harness,
  state: VehicleState,
  options: BuildOptions,
  overrides: Overrides,
  circuit: Circuit,
  id: string,
): readonly Element[] | undefined {
  const part = lookupOf(harness).parts.get(id);
  const elements: Element[] = [];
  const building: Building = { harness, state, options, overrides, nodes: [], nodeOf: new Map(circuit.nodeOf), elements, couplings: [] };
  if (part?.kind === "battery") return building.options.transient === true ? undefined : sourceElements(building);
  if (part?.kind === "fuse") {
    const link = linksOf(harness).find((l) => l.id === id)!;
    return isOpen(harness, link, state) ? [] : [elementOfLink(building, link)];
  }
  if (part?.kind !== "device") return undefined;
  stampDevice(building, part);
  return building.nodes.length > 0 ? undefined : elements;
}

function stampDevice(building: Building, part: Device): void {
  const { harness, state, options, elements, couplings, nodes, nodeOf } = building;
  if (state.opened.includes(part.id)) return;
  const { device } = deviceOf(part);
  const node = (name: string): number => {
    const place = deviceNode(part.id, name);
    const known = nodeOf.get(place);
    if (known !== undefined) return known;
    if (!name.startsWith(".")) throw new RangeError(`${part.id} has no terminal ${name}`);
    nodeOf.set(place, nodes.length);
    return nodes.push(place) - 1;
  };
  const from = elements.length;
  const stamp = createStamp({ id: part.id, node, elements, couplings, transient: options.transient ?? false });
  device.stamp(settingsOf(part, building.overrides), surroundingsOf(harness, state, part.id, options), stamp);
  for (let i = from; i < elements.length; i++) {
    const e = elements[i]!;
    // An ohmmeter looks into a device whose own sources rest.
    if (options.dead === true && e.kind === "source") elements[i] = { ...e, volts: 0 };
    if (options.dead === true && e.kind === "current") elements[i] = { ...e, amps: 0 };
  }
  // A link of a device that the state says is open: a contact held off by hand.
  if (state.opened.some((id) => id.startsWith(`${part.id}.`)))
    elements.splice(from, Infinity, ...elements.slice(from).filter((e) => !state.opened.includes(e.id)));
}

function sourceElements(building: Building): Element[] {
  const { harness, state, options, overrides } = building;
  const drawn = batteryOf(harness)!;
  const battery = { ...drawn, ...overrides.get(drawn.id) } as Battery;
  const has = (kind: string): boolean => harness.components.some((c) => c.kind === "device" && c.device === kind);
  const drawsAlternator = has("alternator");
  const source = batterySource(battery, state.engine, {
    drawsStarter: has("starter") || harness.components.some((c) => c.kind === "switch" && c.closedBy === "crank"),
    drawsAlternator,
    nominalVolts: harness.nominalVolts,
    temperatureC: state.temperatureC,
  });
  const ends = { id: battery.id, a: nodeIn(building, batteryPositive(harness)), b: 0 };
  const held = options.sourceVolts !== undefined && options.dead !== true;
  if (drawsAlternator && !held && options.dead !== true) {
    if (options.transient !== true) return [{ ...ends, kind: "curve", ...chargeable(source.emf, source.internal) }];
    // Over time ripple passes the plates' double layer, which only the mean must go around.
    const cell = building.nodes.push(innerPlace(battery.id, "cell")) - 1;
    building.nodeOf.set(innerPlace(battery.id, "cell"), cell);
    return [
      { id: battery.id, kind: "resistor", a: ends.a, b: cell, ohms: source.internal },
      { id: `${battery.id}.plates`, kind: "curve", a: cell, b: 0, ...chargeable(source.emf, source.internal) },
      { id: `${battery.id}.double layer`, kind: "capacitor", a: cell, b: 0, farads: DOUBLE_LAYER_FARADS },
    ];
  }
  return [
    {
      ...ends,
      kind: "source",
      volts: options.dead === true ? 0 : (options.sourceVolts ?? source.emf),
      internalOhms: held ? 0 : source.internal,
    },
  ];
}

/** Whether a link carries nothing in this state: a switch at rest, a pulled or unplugged part. */
function isOpen(harness: Harness, link: Link, state: VehicleState): boolean {
  const owner = link.kind === "cavity" ? partNameIn(link.id) : link.id;
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

function elementOfLink(building: Building, link: Link): Element {
  const { harness, state } = building;
  const ends = { id: link.id, a: nodeIn(building, link.a), b: nodeIn(building, link.b) };
  if (link.kind === "load") {
    const part = lookupOf(harness).parts.get(link.id);
    if (part?.kind !== "load") throw new RangeError(`no load ${link.id}`);
    const rated = volts(harness.nominalVolts);
    if (part.sort !== "lamp") return { ...ends, kind: "resistor", ohms: ratedOhms(part, rated) };
    return { ...ends, kind: "curve", ...filament(part, rated) };
  }
  if (link.kind === "fuse") return fuseElement(building, link, ends);
  return { ...ends, kind: "resistor", ohms: soundOhms(harness, link, state) };
}

/** Name of the element of the i-th jumper of a state. */
export const jumperId = (i: number): string => `jumper ${i + 1}`;

/** A lead with a fuse in it. */
function fusedLead(building: Building, id: string, p: string, q: string): Element {
  const ratingAmps = leadFuseAmps(building.harness, p, q);
  return openingElement(
    building.options,
    { id, a: nodeIn(building, p), b: nodeIn(building, q) },
    ratingAmps,
    fuseOhms(amps(ratingAmps)) + JUMPER_OHMS,
  );
}

/** A fuse is closed until the current through it has once been enough to open it. */
function fuseElement({ harness, overrides, options }: Building, link: Link, ends: Ends): Element {
  const part = lookupOf(harness).parts.get(link.id);
  if (part?.kind !== "fuse") throw new RangeError(`no fuse ${link.id}`);
  const fitted = overrides.get(part.id)?.["ratingAmps"];
  const ratingAmps = typeof fitted === "number" ? fitted : part.ratingAmps;
  return openingElement(options, ends, ratingAmps, fuseOhms(amps(ratingAmps)));
}

interface Ends {
  readonly id: string;
  readonly a: number;
  readonly b: number;
}

/** What opens for good at so many times its rating. */
function openingElement(options: BuildOptions, ends: Ends, ratingAmps: number, onOhms: number): Element {
  // Transients last milliseconds, which a fuse bears.
  if (options.transient === true || options.fusesHold === true) return { ...ends, kind: "resistor", ohms: onOhms };
  const blown = {
    kind: "watcher",
    plus: ends.a,
    minus: ends.b,
    rises: BLOWS_AT * ratingAmps * onOhms,
    // Never again below: it stays blown.
    falls: -1,
    eitherWay: true,
    pace: "fuse",
    starts: false,
  } as const;
  return { ...ends, kind: "switch", rule: { kind: "not", of: blown }, onOhms, offOhms: OPEN_OHMS };
}

/** Resistance of a sound link that is neither load nor fuse nor device, Ω. */
function soundOhms(harness: Harness, link: Link, state: VehicleState): number {
  switch (link.kind) {
    case "wire": {
      const wire = lookupOf(harness).wires.get(link.id)!;
      return wireOhms(squareMillimetres(wire.areaMm2), metres(wire.lengthM), celsius(state.temperatureC));
    }
    case "cavity":
      return cavityOhms(heaviestWireAt(harness, link));
    case "switch":
      return switchOhms(heaviestWireAt(harness, link));
    case "ground":
      return groundOhms(heaviestWireAt(harness, link));
    case "joint":
      return DIRECT_JOINT_OHMS;
    case "fuse":
    case "device":
    case "load":
      throw new RangeError(`${link.id} has no sound resistance of its own here`);
  }
}

/** Area of the largest wire that ends at either side of a link, mm²; 0 when none does. */
const heaviestWireAt = (harness: Harness, link: Link): number =>
  Math.max(0, ...[...wiresAt(harness, link.a), ...wiresAt(harness, link.b)].map((w) => w.areaMm2));
