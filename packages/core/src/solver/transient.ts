import type { Netlist, SolveFailure } from "./netlist.ts";
import { ampsOf, createWorkspace, type newton, pointOf, voltsOf, writeAtRest, type Workspace } from "./newton.ts";
import { updateWatchers, throwSwitches } from "./rules.ts";
import { failureOf, operatingPoint } from "./solve.ts";
import { createStepSolver } from "./step-solver.ts";
import { advance, stepError, type Stores, storesOf, writeStores } from "./stores.ts";
import { createSystem, type System } from "./system.ts";
import { nextCorner, waveAt, type Wave } from "./wave.ts";

export interface TransientOptions {
  readonly stopS: number;
  /** Longest step, s. */
  readonly longestS: number;
  /** Begin from the initial values of capacitors and inductors (0 where none is given) instead of from rest. */
  readonly fromInitial: boolean;
  /** Error of a step that is let pass, as a share of the largest value so far. */
  readonly relative?: number;
  /** Steps after which it gives up. */
  readonly mostSteps?: number;
  /** Given every point as it is found, V by node and, when asked for, A by element, from time 0 on; nothing is kept then. */
  readonly each?: (timeS: number, volts: Float64Array, amps: () => Float64Array) => void;
}

export interface Transient {
  /** s, rising. Size n. */
  readonly timesS: readonly number[];
  /** V by node index, for each time. */
  readonly volts: readonly Float64Array[];
  /** A by element index, for each time. */
  readonly amps: readonly Float64Array[];
}

export type TransientResult =
  | ({ readonly kind: "solved" } & Transient)
  | ({ readonly kind: "stopped"; readonly atS: number; readonly why: SolveFailure | { readonly kind: "too many steps" } } & Transient);

const RELATIVE = 1e-4;
const MOST_STEPS = 200_000;
/** How near nonlinear elements must come to their curves in a step. */
const STILL = { relative: 1e-6, volts: 1e-6, amps: 1e-7 } as const;
/** Steps are taken from a ladder of halves, so that the same step comes again and its factors with it. */
const rung = (h: number): number => 2 ** Math.floor(Math.log2(h));

/**
 * A transient, by backward differences of second order with a step that follows the error; the first step behind a corner of a source or a switch is
 * backward Euler. Neither rings on a stiff circuit (a probe's picofarads on a clamp), as the trapezoidal rule would. Corners of sources are met exactly.
 * Source: Brayton, Gustavson & Hachtel 1972, variable-step form.
 */
export function transient(netlist: Netlist, options: TransientOptions): TransientResult {
  const system = createSystem(netlist, true);
  const work = createWorkspace(netlist);
  const stores = storesOf(netlist);
  const waves = netlist.elements.flatMap((e, i) =>
    (e.kind === "source" || e.kind === "current") && e.wave !== undefined
      ? [{ i, wave: e.wave, siemens: e.kind === "source" && e.internalOhms > 0 ? 1 / e.internalOhms : undefined }]
      : [],
  );
  const timesS: number[] = [];
  const volts: Float64Array[] = [];
  const amps: Float64Array[] = [];
  let last = -1;
  const keep = (timeS: number, at: Float64Array, x: Float64Array): void => {
    last = timeS;
    if (options.each !== undefined) return options.each(timeS, at, () => ampsOf(system, x));
    timesS.push(timeS);
    volts.push(at);
    amps.push(ampsOf(system, x));
  };
  const stop = (atS: number, why: Extract<TransientResult, { kind: "stopped" }>["why"]): TransientResult => ({
    kind: "stopped",
    atS,
    why,
    timesS,
    volts,
    amps,
  });
  const begun = begin(netlist, work, stores, options.fromInitial);
  if (begun !== undefined) return stop(0, begun);

  const shortest = options.stopS * 1e-12;
  const least = Math.max(64 * shortest, options.longestS * 1e-4);
  const relative = options.relative ?? RELATIVE;
  const linearised = new Float64Array(netlist.elements.length);
  const memory = new Uint8Array(work.memory.length);
  const steps = createStepSolver(system, work, stores, STILL, options.longestS);
  /** Lets the switches follow the potentials; true when any moved. */
  const moveSwitches = (volts: Float64Array): boolean => {
    const moved = follow(work, volts);
    if (moved) steps.moved();
    return moved;
  };
  /** One step of length h from `time`. */
  const attempt = (time: number, h: number): ReturnType<typeof newton> => {
    const pace = writeStores(system, stores, h);
    for (const { i, wave, siemens } of waves) {
      const value = waveAt(wave, time + h);
      system.offset[i] = siemens === undefined ? value : -value * siemens;
    }
    return steps.solve(pace);
  };
  // The start: stores hold their values, everything else follows at once (a step too short to change them).
  writeAtRest(system, work);
  const first = attempt(0, shortest);
  if (first.kind !== "solved") return stop(0, failureOf(system, first));
  const start = voltsOf(system, first.x);
  keep(0, start, first.x);
  if (moveSwitches(start)) writeAtRest(system, work);

  let time = 0;
  let step = Math.min(options.longestS, options.stopS / 1000);
  let corner = 0;
  for (let count = 0; time < options.stopS * (1 - 1e-9); count++) {
    if (count > (options.mostSteps ?? MOST_STEPS)) return stop(time, { kind: "too many steps" });
    if (corner <= time * (1 + 1e-12)) corner = Math.min(options.stopS, nextOfAll(waves, time));
    const room = corner - time;
    const ladder = rung(step);
    // Two halves instead of a full step and a sliver.
    const h = Math.max(shortest, ladder >= room ? room : ladder > 0.6 * room ? room / 2 : ladder);
    linearised.set(work.linearised);
    const found = attempt(time, h);
    if (found.kind !== "solved") {
      work.linearised.set(linearised);
      if (found.kind === "singular" || h <= 4 * shortest) return stop(time, failureOf(system, found));
      step = h / 8;
      continue;
    }
    const error = stepError(system, stores, found.x, h) / relative;
    if (error > 1 && h > 16 * shortest) {
      work.linearised.set(linearised);
      step = h * Math.max(0.1, 0.8 * error ** (-1 / 3));
      continue;
    }
    const seen = voltsOf(system, found.x);
    memory.set(work.memory);
    const switched = moveSwitches(seen);
    if (switched && h > least) {
      // The moment of switching is found by shorter steps.
      work.memory.set(memory);
      throwSwitches(work.watch, work.memory, work.closed);
      steps.moved();
      work.linearised.set(linearised);
      step = h / 4;
      continue;
    }
    time += h;
    // Before contacts write other slopes.
    if (last < time) keep(time, seen, found.x);
    const atCorner = switched || (h >= room * (1 - 1e-9) && time < options.stopS);
    advance(system, stores, found.x, h, atCorner);
    if (switched) writeAtRest(system, work);
    // On the ladder a step grows only when it may double.
    const grow = Math.min(2, 0.9 * Math.max(1e-6, error) ** (-1 / 3));
    step = Math.min(options.longestS, grow >= 2 ? Math.max(2 * h, step) : h * Math.max(1, grow));
    if (atCorner) step = Math.min(step, Math.max(h / 10, least));
  }
  return { kind: "solved", timesS, volts, amps };
}

/** Lets the switches follow the potentials; true when any moved. */
function follow(work: Workspace, volts: Float64Array): boolean {
  return updateWatchers(work.watch, volts, work.memory) && throwSwitches(work.watch, work.memory, work.closed);
}

/** What the stores carry at the start. Returns why there is none. */
function begin(netlist: Netlist, work: Workspace, stores: Stores, fromInitial: boolean): SolveFailure | undefined {
  if (fromInitial) {
    stores.at.forEach((i, k) => {
      const e = netlist.elements[i]!;
      stores.value[k] = (e.kind === "capacitor" ? e.initialVolts : e.kind === "inductor" ? e.initialAmps : 0) ?? 0;
    });
  } else {
    // A source with a course stands at rest where its course begins.
    const elements = netlist.elements.map((e) => {
      if (e.kind === "source" && e.wave !== undefined) return { ...e, volts: waveAt(e.wave, 0) };
      return e.kind === "current" && e.wave !== undefined ? { ...e, amps: waveAt(e.wave, 0) } : e;
    });
    const rest: System = createSystem({ ...netlist, elements }, false);
    for (let round = 0; ; round++) {
      const found = operatingPoint(rest, work);
      if (found.kind !== "solved") return failureOf(rest, found);
      const point = pointOf(rest, work, found.x);
      stores.at.forEach((i, k) => {
        const e = netlist.elements[i]!;
        stores.value[k] = e.kind === "capacitor" ? point.volts[e.a]! - point.volts[e.b]! : point.amps[i]!;
      });
      if (!follow(work, point.volts) || round > 50) break;
    }
  }
  stores.before.set(stores.value);
  for (let k = 0; k < stores.at.length; k++) stores.peak[k] = Math.max(stores.peak[k]!, Math.abs(stores.value[k]!));
  return undefined;
}

function nextOfAll(waves: readonly { readonly wave: Wave }[], timeS: number): number {
  let next = Infinity;
  for (const { wave } of waves) next = Math.min(next, nextCorner(wave, timeS));
  return next;
}
