import { type Fault, testLamp, type VehicleState, withSeries } from "../circuit/index.ts";
import { lampBrightness } from "../devices/index.ts";
import { volts as asVolts } from "../quantity/index.ts";
import { batteryNegative, batteryPositive, type Harness } from "../harness/index.ts";
import type { Element } from "../solver/index.ts";
import { isUntouchable } from "./interlock.ts";
import type { Placement, Reading } from "./leads.ts";
import { predictReading } from "./predict.ts";
import { lampLook, type LampLook } from "./share-words.ts";
import { across, ampsOf, leadOhms, meanOf, type Moment, nodeAt, solveSteadyState } from "./steady-state.ts";

/** What a lamp, an LED tester, a beeper or a powered probe tells. */
export type Shown =
  /** `share` of the light at nominal voltage, V across the lamp and A through it. */
  | {
      readonly kind: "light";
      readonly look: LampLook;
      readonly share: number;
      readonly volts: number;
      readonly amps: number;
    }
  /** Which way round the tester lights; it lights on a few volts, however weak they are, and so proves no quality. */
  | { readonly kind: "led"; readonly lit: "feed" | "ground" | "none"; readonly amps: number }
  | { readonly kind: "beep"; readonly beeps: boolean; readonly ohms: number }
  /** `tripped`: its limiter has opened. `volts` at the tip against battery negative. */
  | { readonly kind: "probe"; readonly tripped: boolean; readonly amps: number; readonly volts: number }
  | Extract<Reading, { kind: "void" | "unsolved" }>;

/** LED tester: a resistor so that 12 V give some 12 mA, and two diodes back to back. */
const TESTER_OHMS = 820;
const TESTER_JUNCTION = { saturationAmps: 1e-20, emission: 1.85 } as const;
const TESTER_LIGHTS_AMPS = 0.5e-3;
/** A beeper sounds below this, Ω. */
export const BEEPS_BELOW_OHMS = 40;
/** Lead of a powered probe, Ω, and the current at which its limiter opens, A. */
const PROBE_OHMS = 0.1;
const PROBE_TRIPS_AMPS = 8;

/** Circuit, state, faults and an instrument → what it shows, with its load on the circuit. Throws RangeError for places that the harness does not hold. */
export function predictShown(harness: Harness, state: VehicleState, faults: readonly Fault[], placed: Placement): Shown {
  const places = "tip" in placed ? [placed.tip] : [placed.red, placed.black];
  if (places.some((p) => isUntouchable(harness, p))) return { kind: "void", why: "untouchable" };
  switch (placed.instrument) {
    case "lamp":
      return lamp(harness, state, faults, placed);
    case "led tester":
      return ledTester(harness, state, faults, placed);
    case "continuity": {
      const reading = predictReading(harness, state, faults, { quantity: "ohms", red: placed.red, black: placed.black });
      if (reading.kind === "value") return { kind: "beep", beeps: reading.value < BEEPS_BELOW_OHMS, ohms: reading.value };
      return reading.kind === "over" ? { kind: "beep", beeps: false, ohms: Infinity } : reading;
    }
    case "powered probe":
      return poweredProbe(harness, state, faults, placed);
  }
}

const unsolved = (why: { kind: "singular"; node: string } | { kind: "diverged"; element: string }): Shown =>
  why.kind === "singular" ? { kind: "unsolved", why: "singular", at: why.node } : { kind: "unsolved", why: "diverged", at: why.element };

function lamp(harness: Harness, state: VehicleState, faults: readonly Fault[], p: Extract<Placement, { instrument: "lamp" }>): Shown {
  const leads = leadOhms(faults);
  const steady = solveSteadyState(harness, state, faults, {}, (node) => {
    const [a, b] = [node(p.red), node(p.black)];
    const bulb = testLamp("test lamp", a, b, p.watts, harness.nominalVolts);
    return a === b ? [] : [leads > 0 ? withSeries(bulb, leads)! : bulb];
  });
  if (steady.kind !== "steady") return unsolved(steady);
  // Light follows the power of each moment; the filament is slower than pulses, so its power is averaged.
  const left = (m: Moment): number => across(m, nodeAt(m.circuit, p.red), nodeAt(m.circuit, p.black)) - leads * ampsOf(m, "test lamp");
  const volts = Math.sqrt(meanOf(steady, (m) => left(m) ** 2));
  const share = lampBrightness(asVolts(harness.nominalVolts), asVolts(volts));
  return { kind: "light", look: lampLook(share), share, volts, amps: meanOf(steady, (m) => ampsOf(m, "test lamp")) };
}

function ledTester(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  p: Extract<Placement, { instrument: "led tester" }>,
): Shown {
  const steady = solveSteadyState(harness, state, faults, {}, (node) => {
    const [a, b] = [node(p.red), node(p.black)];
    if (a === b) return [];
    // Two diodes back to back behind one resistor have the current of a curve: i(v) of whichever conducts.
    return [{ id: "tester", kind: "curve", a, b, at: testerAt, text: "" }];
  });
  if (steady.kind !== "steady") return unsolved(steady);
  const amps = meanOf(steady, (m) => ampsOf(m, "tester"));
  return { kind: "led", lit: amps > TESTER_LIGHTS_AMPS ? "feed" : amps < -TESTER_LIGHTS_AMPS ? "ground" : "none", amps };
}

/** Current of the tester's resistor and junction at a voltage, either way round: v = R·i + n·Vt·ln(1 + i/Is), by Newton's method on i. */
function testerAt(v: number): { amps: number; siemens: number } {
  const scale = TESTER_JUNCTION.emission * 0.025865;
  const size = Math.abs(v);
  let amps = Math.max(1e-18, (size - 1.9) / TESTER_OHMS);
  for (let round = 0; round < 60; round++) {
    const off = TESTER_OHMS * amps + scale * Math.log1p(amps / TESTER_JUNCTION.saturationAmps) - size;
    const slope = TESTER_OHMS + scale / (amps + TESTER_JUNCTION.saturationAmps);
    const next = Math.max(amps / 50, amps - off / slope);
    if (Math.abs(next - amps) <= 1e-14 * next) break;
    amps = next;
  }
  const siemens = 1 / (TESTER_OHMS + scale / (amps + TESTER_JUNCTION.saturationAmps));
  return { amps: Math.sign(v) * amps + LEAK * v, siemens: siemens + LEAK };
}
const LEAK = 1e-9;

function poweredProbe(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  p: Extract<Placement, { instrument: "powered probe" }>,
): Shown {
  const from = p.gives === "feed" ? batteryPositive(harness) : batteryNegative(harness);
  const steady = solveSteadyState(harness, state, faults, {}, (node): Element[] => {
    const [a, b] = [node(from), node(p.tip)];
    if (a === b) return [];
    const tripped = {
      kind: "watcher",
      plus: a,
      minus: b,
      rises: PROBE_TRIPS_AMPS * PROBE_OHMS,
      falls: -1,
      eitherWay: true,
      pace: "fuse",
      starts: false,
    } as const;
    return [{ id: "probe", kind: "switch", a, b, rule: { kind: "not", of: tripped }, onOhms: PROBE_OHMS, offOhms: 1e9 }];
  });
  if (steady.kind !== "steady") return unsolved(steady);
  const last = steady.moments.at(-1)!;
  const index = last.circuit.netlist.elements.findIndex((e) => e.id === "probe");
  return {
    kind: "probe",
    tripped: index >= 0 && last.point.closed[index] === 0,
    amps: Math.abs(meanOf(steady, (m) => ampsOf(m, "probe"))),
    volts: meanOf(steady, (m) => m.point.volts[nodeAt(m.circuit, p.tip)]!),
  };
}
