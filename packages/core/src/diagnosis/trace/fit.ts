import type { Fault, VehicleState } from "../../circuit/index.ts";
import type { Harness } from "../../harness/index.ts";
import { voltsBySeries } from "../../instruments/index.ts";
import type { Staircase } from "./staircase.ts";
import type { RawStretch } from "./stretches.ts";

/** Decades of resistance that are searched, log₁₀ Ω. */
const LOWEST = -5;
const HIGHEST = 8;
const ROUNDS = 60;

export interface Fit {
  readonly fault: Extract<Fault, { kind: "series" | "open" }>;
}

/**
 * The series resistance in a stretch that makes the model show the drop that was measured over it. The drop grows with the resistance, so
 * bisection on its logarithm finds it; a drop that no resistance reaches is an open.
 */
export function fitSeries(
  harness: Harness,
  state: VehicleState,
  staircase: Staircase,
  stretch: RawStretch,
  sourceVolts: number | undefined,
): Fit | undefined {
  const step = staircase.steps[stretch.steps[stretch.steps.length >> 1]!]!;
  const volts = voltsBySeries(harness, state, step.link.id, staircase.places[stretch.from]!, staircase.places[stretch.to]!, {
    sourceVolts,
  });
  const dropAt = (exponent: number): number => volts(10 ** exponent);
  if (dropAt(HIGHEST) <= stretch.dropVolts) return { fault: { kind: "open", link: step.link.id } };
  if (dropAt(LOWEST) >= stretch.dropVolts) return undefined;
  let low = LOWEST;
  let high = HIGHEST;
  for (let i = 0; i < ROUNDS; i++) {
    const middle = (low + high) / 2;
    if (dropAt(middle) < stretch.dropVolts) low = middle;
    else high = middle;
  }
  return { fault: { kind: "series", link: step.link.id, ohms: 10 ** ((low + high) / 2) } };
}
