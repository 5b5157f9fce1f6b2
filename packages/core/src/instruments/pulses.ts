import type { Fault, VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { METER_OHMS } from "./meter.ts";
import { across, nodeAt, solveSteadyState } from "./steady-state.ts";

/** Pulses as a scope shows them: both levels, V, and the share of the time at the high one, %. */
export interface Pulses {
  readonly high: number;
  readonly low: number;
  /** 0 for a line that does not pulse. */
  readonly dutyPercent: number;
}

/** A line that swings by less does not pulse, V. */
const LEAST_SWING_VOLTS = 0.5;

/** Levels and duty from what stands there for what share of the time. */
export function pulsesOf(levels: readonly (readonly [volts: number, share: number])[]): Pulses {
  const [high, low] = [Math.max(...levels.map(([v]) => v)), Math.min(...levels.map(([v]) => v))];
  const middle = (high + low) / 2;
  const above = levels.reduce((sum, [v, share]) => (v > middle ? sum + share : sum), 0);
  return { high, low, dutyPercent: high - low < LEAST_SWING_VOLTS ? 0 : 100 * above };
}

/** Pulses between two places, by a probe of 10 MΩ; undefined where the circuit has no answer or does not come to rest. Throws RangeError for a place that it does not hold. */
export function predictPulses(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  red: string,
  black: string,
): Pulses | undefined {
  const solved = solveSteadyState(harness, state, faults, {}, (node) =>
    node(red) === node(black) ? [] : [{ id: "probe", kind: "resistor", a: node(red), b: node(black), ohms: METER_OHMS }],
  );
  if (solved.kind !== "steady" || solved.oscillating.length > 0) return undefined;
  return pulsesOf(solved.moments.map((m) => [across(m, nodeAt(m.circuit, red), nodeAt(m.circuit, black)), m.share] as const));
}
