import {
  blownFuses,
  buildCircuit,
  type BuildOptions,
  type Circuit,
  deltaOfAll,
  type Fault,
  phasesOf,
  type VehicleState,
} from "../circuit/index.ts";
import { METER_OHMS, shareShown } from "../instruments/index.ts";
import type { Harness, PlaceId } from "../harness/index.ts";
import { type Changed, type Element, type Netlist, type Point, type Prepared, prepare } from "../solver/index.ts";
import type { SupposedFault } from "./catalogue.ts";

/** Insulation between every node and battery negative, Ω: with it nothing floats. */
const INSULATION_OHMS = 1e9;
/** Where a sound circuit shows a meter more than this, its load counts also in a circuit that had to be solved in full, Ω. */
const WEAK_OHMS = 1000;

/** Why a case has no answer in a state; 0 where it has one. */
export const UNSOLVED = { singular: 1, diverged: 2, chatter: 3 } as const;

export interface Sweep {
  readonly places: readonly PlaceId[];
  readonly states: readonly VehicleState[];
  /** One for each fault and severity, in the order of the catalogue. */
  readonly cases: readonly { readonly fault: SupposedFault; readonly severity: number }[];
  /** What a meter between each place and battery negative shows without any fault, V: state after state, place after place. Size states × places. */
  readonly soundVolts: Float32Array;
  /** The same with each case's fault; in a case that chatters the mean of its points. Size cases × states × places. */
  readonly volts: Float32Array;
  /** See UNSOLVED. Size cases × states. */
  readonly unsolved: Uint8Array;
  /** How many of the cases × states were found from the factors of the sound circuit, without a full solution. */
  readonly updated: number;
}

/** What every place reads with every single fault in every state, one meter at a time. */
export function sweep(
  harness: Harness,
  catalogue: readonly SupposedFault[],
  states: readonly VehicleState[],
  places: readonly PlaceId[],
): Sweep {
  const cases = catalogue.flatMap((fault) => fault.severities.map((severity) => ({ fault, severity })));
  const faults = cases.map(({ fault, severity }) => fault.faultAt(severity));
  const [count, width] = [states.length, places.length];
  const soundVolts = new Float32Array(count * width);
  const volts = new Float32Array(cases.length * count * width);
  const unsolved = new Uint8Array(cases.length * count);
  let updated = 0;
  states.forEach((state, s) => {
    const blown: (readonly Fault[])[] = [];
    const phases = phasesOf(harness, state);
    for (const { at, share, fusesHold } of phases) {
      const base = baseOf(harness, state, { phase: at, fusesHold }, places);
      if ("kind" in base) {
        for (let c = 0; c < cases.length; c++) unsolved[c * count + s] = UNSOLVED[base.kind];
        continue;
      }
      base.read(base.prepared.withDelta({}), soundVolts, s * width, share);
      cases.forEach((_, c) => {
        const supposed = [faults[c]!, ...(blown[c] ?? [])];
        const delta = deltaOfAll(base.circuit, harness, state, supposed, { phase: at, fusesHold });
        const quick = delta === undefined ? undefined : base.prepared.withDelta(delta);
        const into = (c * count + s) * width;
        if (quick !== undefined) {
          const own = faults[c]!;
          // A fuse with a bad holder does not blow, and an open one has not.
          if (!fusesHold && phases.length > 1)
            blown[c] = blownFuses(harness, base.circuit, quick.closed).filter(
              (f) => !("link" in own && "link" in f && f.link === own.link),
            );
          updated += share;
          return base.read(quick, volts, into, share);
        }
        const why = inFull(harness, state, supposed, { phase: at, fusesHold }, base, volts, into, share);
        if (why !== 0) unsolved[c * count + s] = why;
      });
    }
  });
  return { places, states, cases, soundVolts, volts, unsolved, updated: Math.round(updated) };
}

interface Base {
  readonly circuit: Circuit;
  readonly prepared: Prepared;
  /** Node index of each place, and whether a meter is a load there. */
  readonly nodes: Int32Array;
  readonly weak: Uint8Array;
  /** Adds what a meter shows at each place, times a share, to `into` from `from` on. */
  readonly read: (changed: Changed | undefined, into: Float32Array, from: number, share: number) => void;
}

function baseOf(
  harness: Harness,
  state: VehicleState,
  options: BuildOptions,
  places: readonly PlaceId[],
): Base | { readonly kind: keyof typeof UNSOLVED } {
  const circuit = buildCircuit(harness, state, [], options);
  const nodes = Int32Array.from(places, (p) => {
    const node = circuit.nodeOf.get(p);
    if (node === undefined) throw new RangeError(`no place ${p} in this circuit`);
    return node;
  });
  const made = prepare(insulated(circuit.netlist));
  if (made.kind !== "prepared") return { kind: made.kind };
  const read: Base["read"] = (changed, into, from, share) => {
    changed?.addLoadedVolts(nodes, METER_OHMS, into, from, share);
  };
  const sound = made.prepared.withDelta({});
  const weak = Uint8Array.from(nodes, (n) => (sound !== undefined && sound.drivingPointOhms(n) > WEAK_OHMS ? 1 : 0));
  return { circuit, prepared: made.prepared, nodes, weak, read };
}

/** The same netlist with a leak of INSULATION_OHMS from each node to node 0, so that none floats. */
export function insulated(netlist: Netlist): Netlist {
  const leaks = netlist.nodes
    .slice(1)
    .map((name, i): Element => ({ id: `insulation ${name}`, kind: "resistor", a: i + 1, b: 0, ohms: INSULATION_OHMS }));
  return { ...netlist, elements: [...netlist.elements, ...leaks] };
}

/** Solves the faulty circuit by itself; returns 0 or why there is no answer. */
function inFull(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  options: BuildOptions,
  base: Base,
  volts: Float32Array,
  into: number,
  share: number,
): number {
  const { netlist } = buildCircuit(harness, state, faults, options);
  const made = prepare(insulated(netlist));
  if (made.kind === "chatter") {
    for (const point of made.points) addPoint(point, base.nodes, volts, into, share / made.points.length);
    return UNSOLVED.chatter;
  }
  if (made.kind !== "prepared") return UNSOLVED[made.kind];
  const point = made.prepared.withDelta({});
  for (let i = 0; i < base.nodes.length; i++) {
    const n = base.nodes[i]!;
    const v = made.prepared.base.volts[n]!;
    volts[into + i]! += share * v * shareShown(base.weak[i] === 1 && point !== undefined ? point.drivingPointOhms(n) : 0);
  }
  return 0;
}

function addPoint(point: Point, nodes: Int32Array, into: Float32Array, from: number, share: number): void {
  for (let i = 0; i < nodes.length; i++) into[from + i]! += share * point.volts[nodes[i]!]!;
}
