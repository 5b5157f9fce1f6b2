import { solveDense } from "./dense.ts";
import type { Port } from "./port.ts";
import { createStrides } from "./strides.ts";

/** Ports taken together at most. */
export const MOST_PORTS = 48;
/** Rounds of Newton's method before giving up. */
const MAX_ROUNDS = 60;
const SETTLED_VOLTS = 1e-10;
/** Below this share of 1 a pivot has lost too many figures to be brought back. */
const LOOSE = 1e-14;

/** The equations v = v₀ − Z·J(v) of up to MOST_PORTS ports, in arrays that serve again and again; the first k (or k·k) entries count. */
export interface PortEquations {
  /** V at each port; the answer of the last `solve`. */
  readonly v: Float64Array;
  /** Writes what the ports see without any flow and Z. `at`: the unknowns without flow; `z`: for each port the answer to 1 A through it. */
  readonly fill: (ports: readonly Port[], at: Float64Array, z: readonly Float64Array[]) => void;
  /** Newton's method. Returns the smallest pivot it met, 1 at most; 0 when it found no answer. */
  readonly solve: (ports: readonly Port[]) => number;
  /** x −= Σ z·J: takes what flows through the ports of the last answer out of the unknowns. */
  readonly subtractFlows: (ports: readonly Port[], z: readonly Float64Array[], x: Float64Array) => void;
  /** What the ports draw, A, when something is driven into the nodes as the answer to it without ports; along the tangents of the last answer. */
  readonly drawnBy: (ports: readonly Port[], answer: Float64Array) => Float64Array | undefined;
  /** D·(1 + Z·D)⁻¹ of the first k ports at the last answer, made when asked for. */
  readonly inner: (k: number) => () => Float64Array;
}

/** `across`: V between two nodes in a vector of unknowns. */
export function createPortEquations(across: (at: Float64Array, a: number, b: number) => number): PortEquations {
  const room = (n: number): Float64Array => new Float64Array(n);
  const [v0, v, r, flow, siemens] = [room(MOST_PORTS), room(MOST_PORTS), room(MOST_PORTS), room(MOST_PORTS), room(MOST_PORTS)];
  /** Z: V at port i for 1 A through port j. */
  const mutual = room(MOST_PORTS * MOST_PORTS);
  const m = room(MOST_PORTS * MOST_PORTS);
  const strides = createStrides(MOST_PORTS);
  /** How many ports the equations were filled for. */
  let filled = 0;

  function fill(ports: readonly Port[], at: Float64Array, z: readonly Float64Array[]): void {
    const k = ports.length;
    filled = k;
    for (let i = 0; i < k; i++) {
      const port = ports[i]!;
      v0[i] = v[i] = across(at, port.a, port.b);
      for (let j = 0; j < k; j++) mutual[i * k + j] = across(z[j]!, port.a, port.b);
    }
  }

  /** Writes 1 + Z·D into m. */
  function writeUnityPlus(k: number): void {
    for (let i = 0; i < k; i++) for (let j = 0; j < k; j++) m[i * k + j] = (i === j ? 1 : 0) + mutual[i * k + j]! * siemens[j]!;
  }

  /** One straight change alone, v = (v₀ − z·c)/(1 + z·g). */
  function solveStraight(port: Port): number {
    const { amps: c, siemens: g } = port.extra(0);
    const z = mutual[0]!;
    const pivot = 1 + z * g;
    if (!(Math.abs(pivot) > LOOSE)) return 0;
    siemens[0] = g;
    v[0] = (v0[0]! - z * c) / pivot;
    return Math.min(1, Math.abs(pivot));
  }

  function solve(ports: readonly Port[]): number {
    const k = ports.length;
    if (k === 1 && ports[0]!.straight) return solveStraight(ports[0]!);
    const straight = ports.every((p) => p.straight);
    strides.begin();
    let smallestPivot = 1;
    for (let round = 0; round < MAX_ROUNDS; round++) {
      for (let p = 0; p < k; p++) {
        const at = ports[p]!.extra(v[p]!);
        flow[p] = at.amps;
        siemens[p] = at.siemens;
      }
      for (let i = 0; i < k; i++) {
        let sum = v[i]! - v0[i]!;
        for (let j = 0; j < k; j++) sum += mutual[i * k + j]! * flow[j]!;
        r[i] = -sum;
      }
      writeUnityPlus(k);
      const pivot = solveDense(k, m, r);
      if (!(pivot > LOOSE)) return 0;
      smallestPivot = Math.min(smallestPivot, pivot);
      let most = 0;
      for (let i = 0; i < k; i++) {
        const step = ports[i]!.sharp ? strides.take(i, r[i]!) : round < 30 ? r[i]! : r[i]! / 2;
        const next = ports[i]!.limit(v[i]! + step, v[i]!);
        if (!Number.isFinite(next)) return 0;
        most = Math.max(most, Math.abs(next - v[i]!) / (1 + Math.abs(next)));
        v[i] = next;
      }
      if (straight || most < SETTLED_VOLTS) return smallestPivot;
    }
    return 0;
  }

  function subtractFlows(ports: readonly Port[], z: readonly Float64Array[], x: Float64Array): void {
    for (let p = 0; p < ports.length; p++) {
      const j = ports[p]!.extra(v[p]!).amps;
      if (j !== 0) subtract(x, z[p]!, j);
    }
  }

  function drawnBy(ports: readonly Port[], answer: Float64Array): Float64Array | undefined {
    const k = ports.length;
    for (let i = 0; i < k; i++) r[i] = across(answer, ports[i]!.a, ports[i]!.b);
    writeUnityPlus(k);
    if (!(solveDense(k, m, r) > 0)) return undefined;
    for (let i = 0; i < k; i++) r[i]! *= siemens[i]!;
    return r;
  }

  function inner(k: number): () => Float64Array {
    const slopes = Float64Array.from(siemens.subarray(0, k));
    // Z of all ports stands row after row; of the first k it is kept for when it is asked for.
    const all = filled;
    const kept = Float64Array.from({ length: k * k }, (_, at) => mutual[Math.floor(at / k) * all + (at % k)]!);
    let made: Float64Array | undefined;
    return () => {
      if (made !== undefined) return made;
      made = new Float64Array(k * k);
      for (let c = 0; c < k; c++) {
        for (let i = 0; i < k; i++) {
          r[i] = i === c ? 1 : 0;
          for (let j = 0; j < k; j++) m[i * k + j] = (i === j ? 1 : 0) + kept[i * k + j]! * slopes[j]!;
        }
        solveDense(k, m, r);
        for (let i = 0; i < k; i++) made[i * k + c] = slopes[i]! * r[i]!;
      }
      return made;
    };
  }

  return { v, fill, solve, subtractFlows, drawnBy, inner };
}

/** x −= j·column. */
function subtract(x: Float64Array, column: Float64Array, j: number): void {
  for (let i = 0; i < x.length; i++) x[i]! -= column[i]! * j;
}
