import type { Netlist, SolveFailure } from "./netlist.ts";
import { createWorkspace, moveSwitches, newton, pointOf, writeAtRest, type Workspace } from "./newton.ts";
import { failureOf, settle } from "./solve.ts";
import { createSystem, type System } from "./system.ts";
import { nextCorner, waveAt } from "./wave.ts";

export interface TransientOptions {
  readonly stopS: number;
  /** Longest step, s. */
  readonly longestS: number;
  /** Begin from the initial values of capacitors and inductors (0 where none is given) instead of from rest. */
  readonly fromInitial: boolean;
  /** Error of a step that is let pass, as a share of the larger of value and scale. */
  readonly relative?: number;
  /** Steps after which it gives up. */
  readonly mostSteps?: number;
}

export interface Course {
  /** s, rising. Size n. */
  readonly timesS: readonly number[];
  /** V by node index, for each time. */
  readonly volts: readonly Float64Array[];
  /** A by element index, for each time. */
  readonly amps: readonly Float64Array[];
}

export type TransientResult =
  | ({ readonly kind: "solved" } & Course)
  | ({ readonly kind: "stopped"; readonly atS: number; readonly why: SolveFailure | { readonly kind: "too many steps" } } & Course);

const RELATIVE = 2e-5;
/** Values below these count as nothing when a step's error is judged: V across a capacitor, A through an inductor. */
const SMALL_VOLTS = 1e-4;
const SMALL_AMPS = 1e-5;
const MOST_STEPS = 200_000;

/** What an energy store carried at the last two accepted times: V of a capacitor, A of an inductor; and its slope. By element index. */
interface Memory {
  readonly value: Float64Array;
  readonly slope: Float64Array;
  readonly valueBefore: Float64Array;
  stepBefore: number;
}

/**
 * The course over time, by the trapezoidal rule with a step that follows the error; the first step behind a corner of a source or a switch is
 * backward Euler, which does not ring. Corners of sources are met exactly.
 */
export function transient(netlist: Netlist, options: TransientOptions): TransientResult {
  const system = createSystem(netlist, true);
  const work = createWorkspace(netlist);
  const memory = begin(netlist, work, options.fromInitial);
  const timesS: number[] = [];
  const volts: Float64Array[] = [];
  const amps: Float64Array[] = [];
  const keep = (timeS: number, x: Float64Array): void => {
    const point = pointOf(system, work, x);
    timesS.push(timeS);
    volts.push(point.volts);
    amps.push(point.amps);
  };
  const stop = (atS: number, why: Extract<TransientResult, { kind: "stopped" }>["why"]): TransientResult => ({
    kind: "stopped",
    atS,
    why,
    timesS,
    volts,
    amps,
  });
  if ("failure" in memory) return stop(0, memory.failure);

  const shortest = options.stopS * 1e-12;
  const relative = options.relative ?? RELATIVE;
  let time = 0;
  let step = Math.min(options.longestS, options.stopS / 1000);
  // The start: stores hold their values, everything else follows at once (a step too short to change them).
  let euler = true;
  const first = attempt(system, work, memory, 0, shortest, true);
  if (first.kind !== "solved") return stop(0, failureOf(system, first));
  moveSwitches(netlist, pointOf(system, work, first.x).volts, work.closed);
  keep(0, first.x);
  for (let count = 0; time < options.stopS * (1 - 1e-9); count++) {
    if (count > (options.mostSteps ?? MOST_STEPS)) return stop(time, { kind: "too many steps" });
    const corner = Math.min(options.stopS, nextOfAll(netlist, time));
    const room = corner - time;
    // Two halves instead of a full step and a sliver.
    const h = Math.max(shortest, step >= room ? room : step > 0.6 * room ? room / 2 : step);
    const linearised = Float64Array.from(work.linearised);
    const found = attempt(system, work, memory, time, h, euler);
    if (found.kind !== "solved") {
      work.linearised.set(linearised);
      if (found.kind === "singular" || h <= 4 * shortest) return stop(time, failureOf(system, found));
      step = h / 8;
      euler = true;
      continue;
    }
    const point = pointOf(system, work, found.x);
    const error = euler ? 0 : stepError(netlist, system, memory, point.volts, found.x, h) / relative;
    if (error > 1 && h > 16 * shortest) {
      work.linearised.set(linearised);
      step = h * Math.max(0.1, 0.8 * error ** (-1 / 3));
      continue;
    }
    const closed = Uint8Array.from(work.closed);
    const switched = moveSwitches(netlist, point.volts, work.closed);
    if (switched && h > Math.max(64 * shortest, options.longestS * 1e-4)) {
      // The moment of switching is found by shorter steps.
      work.closed.set(closed);
      work.linearised.set(linearised);
      step = h / 4;
      continue;
    }
    time += h;
    advance(netlist, system, memory, point.volts, found.x, h, euler);
    if (timesS.at(-1)! < time) {
      timesS.push(time);
      volts.push(point.volts);
      amps.push(point.amps);
    }
    const atCorner = h >= room * (1 - 1e-9);
    const grow = euler ? 2 : Math.min(2, 0.9 * Math.max(1e-6, error) ** (-1 / 3));
    step = Math.min(options.longestS, h * grow);
    euler = switched || (atCorner && time < options.stopS);
    if (euler) step = Math.min(step, Math.max(shortest * 64, h / 10, options.longestS * 1e-4));
  }
  return { kind: "solved", timesS, volts, amps };
}

function begin(netlist: Netlist, work: Workspace, fromInitial: boolean): Memory | { readonly failure: SolveFailure } {
  const count = netlist.elements.length;
  const memory: Memory = {
    value: new Float64Array(count),
    slope: new Float64Array(count),
    valueBefore: new Float64Array(count),
    stepBefore: 0,
  };
  if (!fromInitial) {
    // A source with a course stands at rest where its course begins.
    const elements = netlist.elements.map((e) => {
      if (e.kind === "source" && e.wave !== undefined) return { ...e, volts: waveAt(e.wave, 0) };
      return e.kind === "current" && e.wave !== undefined ? { ...e, amps: waveAt(e.wave, 0) } : e;
    });
    const rest = createSystem({ ...netlist, elements }, false);
    for (let round = 0; ; round++) {
      const found = settle(rest, work);
      if (found.kind !== "solved") return { failure: failureOf(rest, found) };
      const point = pointOf(rest, work, found.x);
      netlist.elements.forEach((e, i) => {
        if (e.kind === "capacitor") memory.value[i] = point.volts[e.a]! - point.volts[e.b]!;
        if (e.kind === "inductor") memory.value[i] = point.amps[i]!;
      });
      if (!moveSwitches(netlist, point.volts, work.closed) || round > 50) break;
    }
  } else {
    netlist.elements.forEach((e, i) => {
      if (e.kind === "capacitor") memory.value[i] = e.initialVolts ?? 0;
      if (e.kind === "inductor") memory.value[i] = e.initialAmps ?? 0;
    });
  }
  memory.valueBefore.set(memory.value);
  return memory;
}

function nextOfAll(netlist: Netlist, timeS: number): number {
  let next = Infinity;
  for (const e of netlist.elements)
    if ((e.kind === "source" || e.kind === "current") && e.wave !== undefined) next = Math.min(next, nextCorner(e.wave, timeS));
  return next;
}

/** One step of length h from `time`. Capacitors and inductors become what the rule makes of them. */
function attempt(system: System, work: Workspace, memory: Memory, time: number, h: number, euler: boolean): ReturnType<typeof newton> {
  const { netlist, slope, offset } = system;
  writeAtRest(system, work);
  const factor = euler ? 1 / h : 2 / h;
  netlist.elements.forEach((e, i) => {
    if (e.kind === "capacitor") {
      // i = C·dv/dt; trapezoidal: i = (2C/h)(v − v₀) − i₀, Euler: i = (C/h)(v − v₀).
      slope[i] = e.farads * factor;
      offset[i] = -slope[i]! * memory.value[i]! - (euler ? 0 : e.farads * memory.slope[i]!);
    } else if (e.kind === "inductor") {
      // v = L·di/dt, in branch form v = r·i + e with r = 2L/h or L/h.
      slope[i] = e.henries * factor;
      offset[i] = -slope[i]! * memory.value[i]! - (euler ? 0 : e.henries * memory.slope[i]!);
    } else if ((e.kind === "source" || e.kind === "current") && e.wave !== undefined) {
      const value = waveAt(e.wave, time + h);
      offset[i] = e.kind === "current" ? value : e.internalOhms === 0 ? value : -value / e.internalOhms;
    }
  });
  netlist.couplings?.forEach((c, m) => {
    const [i, j] = [netlist.elements.findIndex((e) => e.id === c.first), netlist.elements.findIndex((e) => e.id === c.second)];
    const [p, q] = [netlist.elements[i], netlist.elements[j]];
    if (p?.kind !== "inductor" || q?.kind !== "inductor") return;
    const mutual = c.factor * Math.sqrt(p.henries * q.henries);
    system.mutual[m] = -mutual * factor;
    offset[i]! -= mutual * factor * memory.value[j]! + (euler ? 0 : mutual * memory.slope[j]!);
    offset[j]! -= mutual * factor * memory.value[i]! + (euler ? 0 : mutual * memory.slope[i]!);
  });
  return newton(system, work);
}

const valueOf = (netlist: Netlist, system: System, volts: Float64Array, x: Float64Array, i: number): number => {
  const e = netlist.elements[i]!;
  return e.kind === "inductor" ? (system.branchOf[i]! < 0 ? 0 : x[system.branchOf[i]!]!) : volts[e.a]! - volts[e.b]!;
};

/**
 * Largest error of a trapezoidal step relative to the value: h³/12 times the third derivative, which divided differences of the slope over the last
 * two steps give.
 */
function stepError(netlist: Netlist, system: System, memory: Memory, volts: Float64Array, x: Float64Array, h: number): number {
  let worst = 0;
  if (!(memory.stepBefore > 0)) return 0;
  netlist.elements.forEach((e, i) => {
    if (e.kind !== "capacitor" && e.kind !== "inductor") return;
    const now = valueOf(netlist, system, volts, x, i);
    const before = memory.value[i]!;
    const slopeNow = (2 * (now - before)) / h - memory.slope[i]!;
    const bendNow = (slopeNow - memory.slope[i]!) / h;
    const mean = (before - memory.valueBefore[i]!) / memory.stepBefore;
    const bendBefore = (2 * (memory.slope[i]! - mean)) / memory.stepBefore;
    const third = Math.abs(bendNow - bendBefore) / (0.5 * (h + memory.stepBefore));
    const scale = Math.max(Math.abs(now), Math.abs(before), e.kind === "capacitor" ? SMALL_VOLTS / RELATIVE : SMALL_AMPS / RELATIVE);
    worst = Math.max(worst, ((h ** 3 / 12) * third) / scale);
  });
  return worst;
}

function advance(netlist: Netlist, system: System, memory: Memory, volts: Float64Array, x: Float64Array, h: number, euler: boolean): void {
  netlist.elements.forEach((e, i) => {
    if (e.kind !== "capacitor" && e.kind !== "inductor") return;
    const now = valueOf(netlist, system, volts, x, i);
    const mean = (now - memory.value[i]!) / h;
    memory.slope[i] = euler ? mean : 2 * mean - memory.slope[i]!;
    memory.valueBefore[i] = memory.value[i]!;
    memory.value[i] = now;
  });
  // Behind a corner the slope jumps, so that differences over it say nothing.
  memory.stepBefore = euler ? 0 : h;
}
