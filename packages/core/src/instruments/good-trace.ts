import { buildCircuit, type Fault, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { type GoodTrace, KICK_SHARE, longestPause, measure } from "../waveform/index.ts";
import { predictPulses } from "./pulses.ts";
import { type NoTrace, predictTraces, type Probe, type Recording } from "./scope.ts";

/** What a good circuit shows at each of these probes. Throws RangeError for places that the harness does not hold. */
export function goodTraces(
  harness: Harness,
  state: VehicleState,
  faults: readonly Fault[],
  probes: readonly Probe[],
  recording: Recording,
): readonly GoodTrace[] | NoTrace {
  const traces = predictTraces(harness, state, faults, probes, recording);
  if (traces.kind !== "traces") return traces;
  const alternatorHertz = alternatorOf(harness, state, faults);
  return traces.channels.map((values, k) => {
    const samples = Float32Array.from(values);
    const rateHz = 1 / recording.resolutionS;
    const measures = measure(samples, rateHz, 0, samples.length, KICK_SHARE);
    return {
      unit: "red" in probes[k]!.at ? "V" : "A",
      measures,
      steady: steadyAt(harness, state, faults, probes[k]!),
      pauseS: longestPause(samples, rateHz, measures)?.seconds,
      alternatorHertz,
    };
  });
}

const steadyAt = (harness: Harness, state: VehicleState, faults: readonly Fault[], { at }: Probe): GoodTrace["steady"] =>
  "red" in at ? predictPulses(harness, state, faults, at.red, at.black) : undefined;

/** Electrical frequency of the alternator that turns, Hz. */
function alternatorOf(harness: Harness, state: VehicleState, faults: readonly Fault[]): number | undefined {
  for (const e of buildCircuit(harness, state, faults, { transient: true }).netlist.elements)
    if (e.kind === "source" && e.wave?.kind === "sine" && e.id.endsWith(".phase U")) return e.wave.hertz;
  return undefined;
}

/** Full scales of a scope's channel, V or A either way. */
const SCALES = [0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000];
/** What a scope of the trade does to a signal: steps of 12 bits over its range, and noise of its input as a share of that. */
export const SCOPE_BITS = 12;
export const SCOPE_NOISE = 2e-4;

/** A channel as a scope shows it, with its steps and its noise. `chance`: numbers from 0 to below 1. */
export function throughScope(values: Float64Array, chance: () => number): Float32Array {
  let most = 0;
  for (const v of values) most = Math.max(most, Math.abs(v));
  const scale = SCALES.find((s) => s >= 1.02 * most) ?? SCALES.at(-1)!;
  const step = (2 * scale) / 2 ** SCOPE_BITS;
  const noise = normalOf(chance);
  const shown = new Float32Array(values.length);
  for (let i = 0; i < values.length; i++) {
    const v = Math.round((values[i]! + noise() * SCOPE_NOISE * scale) / step) * step;
    shown[i] = v > scale ? scale : v < -scale ? -scale : v;
  }
  return shown;
}

/** Different values that noise is drawn from: enough that none is seen twice in a row, few enough that millions are drawn at once. */
const NORMALS = 8192;

/** Numbers that scatter around 0 by 1, drawn from so many that were made so. Source: Box & Muller 1958. */
function normalOf(chance: () => number): () => number {
  const drawn = new Float64Array(NORMALS);
  for (let i = 0; i < NORMALS; i += 2) {
    const [length, turn] = [Math.sqrt(-2 * Math.log(1 - chance())), 2 * Math.PI * chance()];
    drawn[i] = length * Math.sin(turn);
    drawn[i + 1] = length * Math.cos(turn);
  }
  return () => drawn[Math.floor(chance() * NORMALS)]!;
}
