import type { Netlist } from "./netlist.ts";
import type { System } from "./system.ts";

/** Capacitors and inductors of a netlist, with what they carried at the last three accepted times. Arrays by place in `at`. */
export interface Stores {
  /** Element indices. */
  readonly at: Int32Array;
  /** F or H. */
  readonly size: Float64Array;
  /** 1 for inductors. */
  readonly isInductor: Uint8Array;
  /** V of a capacitor, A of an inductor: now, one step before, two steps before. */
  readonly value: Float64Array;
  readonly before: Float64Array;
  readonly beforeThat: Float64Array;
  /** Largest size so far; a step's error is judged by it. */
  readonly peak: Float64Array;
  /** Lengths of the last two steps, s; 0 where a corner lies between, over which differences say nothing. */
  stepBefore: number;
  stepBeforeThat: number;
  /** Pairs on one core: places in `at`, their index among the couplings, and M in H. */
  readonly pairs: readonly { readonly first: number; readonly second: number; readonly index: number; readonly henries: number }[];
}

/** Values below these count as nothing when a step's error is judged: V across a capacitor, A through an inductor. */
const SMALL_VOLTS = 5;
const SMALL_AMPS = 0.05;

/** Capacitors, inductors and their couplings of a netlist, with what a step over time needs of them. */
export function storesOf(netlist: Netlist): Stores {
  const at = Int32Array.from(netlist.elements.flatMap((e, i) => (e.kind === "capacitor" || e.kind === "inductor" ? [i] : [])));
  const elements = Array.from(at, (i) => netlist.elements[i]!);
  const place = new Map(elements.map((e, s) => [e.id, s]));
  const size = Float64Array.from(elements, (e) => (e.kind === "capacitor" ? e.farads : e.kind === "inductor" ? e.henries : 0));
  const isInductor = Uint8Array.from(elements, (e) => (e.kind === "inductor" ? 1 : 0));
  const pairs = (netlist.couplings ?? []).flatMap((c, index) => {
    const [first, second] = [place.get(c.first), place.get(c.second)];
    if (first === undefined || second === undefined) return [];
    return [{ first, second, index, henries: c.factor * Math.sqrt(size[first]! * size[second]!) }];
  });
  const zeros = (): Float64Array => new Float64Array(at.length);
  const peak = Float64Array.from(isInductor, (i) => (i === 1 ? SMALL_AMPS : SMALL_VOLTS));
  return {
    at,
    size,
    isInductor,
    value: zeros(),
    before: zeros(),
    beforeThat: zeros(),
    peak,
    stepBefore: 0,
    stepBeforeThat: 0,
    pairs,
  };
}

/**
 * Writes what the rule makes of each store for a step of length h: i = g·v + c for capacitors, v = r·i + e for inductors. Backward differences of second order over
 * unequal steps, dv/dt = a·v + b·v₁ + c·v₂; backward Euler where only one value is known since the last corner. Returns a, 1/s: all that the slopes depend on.
 * `alone`: as if nothing was known before.
 */
export function writeStores(system: System, s: Stores, h: number, alone = false): number {
  const { slope, offset, mutual } = system;
  const w = s.stepBefore > 0 && !alone ? h / s.stepBefore : 0;
  const a = (1 + 2 * w) / (1 + w) / h;
  const b = -(1 + w) / h;
  const c = (w * w) / (1 + w) / h;
  for (let k = 0; k < s.at.length; k++) {
    const i = s.at[k]!;
    slope[i] = s.size[k]! * a;
    offset[i] = s.size[k]! * (b * s.value[k]! + c * s.before[k]!);
  }
  for (const { first, second, index, henries } of s.pairs) {
    mutual[index] = -henries * a;
    offset[s.at[first]!]! += henries * (b * s.value[second]! + c * s.before[second]!);
    offset[s.at[second]!]! += henries * (b * s.value[first]! + c * s.before[first]!);
  }
  return a;
}

const valueAt = (system: System, s: Stores, x: Float64Array, k: number): number => {
  const i = s.at[k]!;
  if (s.isInductor[k] === 1) return system.branchOf[i]! < 0 ? 0 : x[system.branchOf[i]!]!;
  const [p, q] = [system.first[i]!, system.second[i]!];
  return (p < 0 ? 0 : x[p]!) - (q < 0 ? 0 : x[q]!);
};

/**
 * Largest error of a step as a share of the largest value so far: the rule's own, h²·(h + h₁)²/(6·(2h + h₁)) times the third derivative, which divided differences of
 * the last four values give. 0 while there are not so many.
 */
export function stepError(system: System, s: Stores, x: Float64Array, h: number): number {
  const [h1, h2] = [s.stepBefore, s.stepBeforeThat];
  if (!(h1 > 0 && h2 > 0)) return 0;
  const share = ((h * (h + h1)) ** 2 / (6 * (2 * h + h1))) * 6;
  let worst = 0;
  for (let k = 0; k < s.at.length; k++) {
    const d01 = (valueAt(system, s, x, k) - s.value[k]!) / h;
    const d12 = (s.value[k]! - s.before[k]!) / h1;
    const d23 = (s.before[k]! - s.beforeThat[k]!) / h2;
    const bend = (d01 - d12) / (h + h1) - (d12 - d23) / (h1 + h2);
    worst = Math.max(worst, Math.abs((share * bend) / (h + h1 + h2)) / s.peak[k]!);
  }
  return worst;
}

/** Takes a step as done; `corner`: it ends at one, so that what lies before says nothing about what comes. */
export function advance(system: System, s: Stores, x: Float64Array, h: number, corner: boolean): void {
  for (let k = 0; k < s.at.length; k++) {
    const now = valueAt(system, s, x, k);
    s.beforeThat[k] = s.before[k]!;
    s.before[k] = s.value[k]!;
    s.value[k] = now;
    if (Math.abs(now) > s.peak[k]!) s.peak[k] = Math.abs(now);
  }
  s.stepBeforeThat = corner ? 0 : s.stepBefore;
  s.stepBefore = corner ? 0 : h;
}
