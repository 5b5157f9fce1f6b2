import { type Run, runsOf, type Thresholds } from "./runs.ts";

/** One frame of a CAN bus. Times in s from the first sample. */
export interface CanFrame {
  readonly startS: number;
  readonly endS: number;
  readonly id: number;
  readonly isExtended: boolean;
  readonly isRemote: boolean;
  /** With flexible data rate: what comes behind the arbitration is not read. */
  readonly isFlexible: boolean;
  readonly data: readonly number[];
  /** Somebody else has received it; undefined where it did not come so far. */
  readonly isAcknowledged: boolean | undefined;
  readonly problems: readonly string[];
}

export interface CanRead {
  /** Bits a second; undefined where there are too few edges. */
  readonly baud: number | undefined;
  readonly frames: readonly CanFrame[];
  /** Stretches that are no frames, in words. */
  readonly faults: readonly { readonly atS: number; readonly words: string }[];
  /** Mean length of single bits in bits: what edges that are not alike make of them. */
  readonly dominantBits: number | undefined;
  readonly recessiveBits: number | undefined;
}

/** Of the difference between both wires a receiver takes 0.9 V for dominant and 0.5 V for recessive. Source: ISO 11898-2. */
const DIFFERENCE: Thresholds = { rises: 0.9, falls: 0.5 };
/** A single wire against ground, V: dominant is high, and a receiver changes its mind between these. Source: SAE J2411. */
export const SINGLE_WIRE: Thresholds = { rises: 2.2, falls: 1.8 };
/** Dominant for longer than this many bits is no frame and no error flag: a line that is held. */
const HELD_BITS = 25;
const IDLE_BITS = 7;
const STUFF = 5;
/** Runs that are counted for the length of a bit at least. */
const LEAST_RUNS = 20;

/** Reads the frames of a CAN bus from the difference of its wires, V, or from what is dominant above other `thresholds`. */
export function decodeCan(difference: Float32Array, rateHz: number, thresholds: Thresholds = DIFFERENCE): CanRead {
  const runs = runsOf(difference, rateHz, thresholds);
  const bitS = bitOf(runs);
  const none = { baud: undefined, frames: [], dominantBits: undefined, recessiveBits: undefined };
  if (bitS === undefined) return { ...none, faults: heldIn(runs, undefined) };
  const bits = bitsOf(runs, bitS);
  const frames: CanFrame[] = [];
  const faults = [...heldIn(runs, bitS)];
  let idle = 0;
  const { dominant } = bits;
  for (let i = 0; i < dominant.length;) {
    if (dominant[i] === 0) {
      idle++;
      i++;
    } else if (idle < IDLE_BITS && !(frames.length === 0 && i === 0 && idle > 0)) {
      idle = 0;
      i++;
    } else {
      const read = readFrame(bits, i, bitS);
      if (read.kind === "frame") frames.push(read.frame);
      else faults.push({ atS: bits.atS[i]!, words: read.words });
      idle = 0;
      i = Math.min(dominant.length, Math.max(i + 1, read.next));
      // The bits that ended it are idle already.
      while (idle < IDLE_BITS && i - idle - 1 >= 0 && dominant[i - idle - 1] === 0) idle++;
    }
  }
  const single = (isDominant: boolean): number | undefined => {
    const list = runs.filter((r) => r.isHigh === isDominant && r.endS - r.startS < 1.5 * bitS && r.endS - r.startS > 0.5 * bitS);
    return list.length === 0 ? undefined : list.reduce((sum, r) => sum + (r.endS - r.startS), 0) / list.length / bitS;
  };
  return { baud: 1 / bitS, frames, faults: faults.sort((p, q) => p.atS - q.atS), dominantBits: single(true), recessiveBits: single(false) };
}

/** Length of a bit, s: what all stretches of up to five are multiples of, taken over two edges of the same way so that slow ones do not count. */
function bitOf(runs: readonly Run[]): number | undefined {
  if (runs.length < LEAST_RUNS) return undefined;
  const sorted = new Float64Array(runs.length >> 1);
  let n = 0;
  for (let i = 0; i + 2 < runs.length && n < sorted.length; i++) if (runs[i]!.isHigh) sorted[n++] = runs[i + 2]!.startS - runs[i]!.startS;
  const spans = sorted.subarray(0, n).sort();
  if (n === 0) return undefined;
  // The shortest from one dominant edge to the next are two bits; a glitch or two do not make them shorter.
  const shortest = spans[Math.floor(n * 0.02)]! / 2;
  let bitS = shortest;
  for (let round = 0; round < 4; round++) {
    let [length, count] = [0, 0];
    for (const s of spans) {
      const n = Math.round(s / bitS);
      if (n < 2 || n > 2 * STUFF || Math.abs(s / bitS - n) > 0.25) continue;
      length += s;
      count += n;
    }
    if (count === 0) return undefined;
    bitS = length / count;
  }
  return bitS;
}

/** A line bit by bit. */
interface Bits {
  /** 1 for dominant. */
  readonly dominant: Uint8Array;
  readonly atS: Float64Array;
}

/** Longest stretch that is written out, bits: what is longer is idle, or held. */
const MOST_WRITTEN = 30;

function bitsOf(runs: readonly Run[], bitS: number): Bits {
  const countOf = (run: Run): number => Math.min(MOST_WRITTEN, Math.round((run.endS - run.startS) / bitS));
  let count = 0;
  for (const run of runs) count += countOf(run);
  const [dominant, atS] = [new Uint8Array(count), new Float64Array(count)];
  let i = 0;
  for (const run of runs) {
    const here = countOf(run);
    for (let k = 0; k < here; k++, i++) {
      dominant[i] = run.isHigh ? 1 : 0;
      atS[i] = run.startS + k * bitS;
    }
  }
  return { dominant, atS };
}

function heldIn(runs: readonly Run[], bitS: number | undefined): CanRead["faults"] {
  const longest = bitS === undefined ? 2e-3 : HELD_BITS * bitS;
  return runs.flatMap((r) =>
    r.isHigh && r.endS - r.startS > longest
      ? [{ atS: r.startS, words: `dominant for ${((r.endS - r.startS) * 1e3).toPrecision(3)} ms: something holds the bus` }]
      : [],
  );
}

const CUT_OFF = "cut off by the end of the recording";
/** What ends a frame before its time. */
class Broken extends Error {}

type FrameRead =
  | { readonly kind: "frame"; readonly frame: CanFrame; readonly next: number }
  | { readonly kind: "fault"; readonly words: string; readonly next: number };

/** Reads a frame whose start is bit `first`. Source of the fields: ISO 11898-1. */
function readFrame({ dominant, atS }: Bits, first: number, bitS: number): FrameRead {
  const end = dominant.length;
  let at = first;
  let [same, last] = [0, -1];
  let crc = 0;
  let counts = true;
  /** The next bit without stuffing: 0 for dominant. Throws what is wrong. */
  const take = (): number => {
    if (at >= end) throw new Broken(CUT_OFF);
    const value = 1 - dominant[at++]!;
    same = value === last ? same + 1 : 1;
    last = value;
    if (same > STUFF) throw new Broken("six equal bits: an error flag, or a bit that was lost");
    if (counts) crc = nextCrc(crc, value);
    if (same === STUFF) {
      if (at >= end) throw new Broken(CUT_OFF);
      if (1 - dominant[at++]! === value) throw new Broken("six equal bits: an error flag, or a bit that was lost");
      [same, last] = [1, 1 - value];
    }
    return value;
  };
  const number = (count: number): number => {
    let value = 0;
    for (let k = 0; k < count; k++) value = value * 2 + take();
    return value;
  };
  const timeAt = (): number => (atS[Math.min(at, end) - 1] ?? 0) + bitS;
  const base = { startS: atS[first]!, isAcknowledged: undefined, data: [] as number[], problems: [] as string[] };
  let head: { readonly id: number; readonly isExtended: boolean; readonly isRemote: boolean } | undefined;
  try {
    take();
    const id = number(11);
    const remoteOrSubstitute = take();
    const isExtended = take() === 1;
    const whole = isExtended ? id * 2 ** 18 + number(18) : id;
    const isRemote = isExtended ? take() === 1 : remoteOrSubstitute === 1;
    head = { id: whole, isExtended, isRemote };
    const isFlexible = take() === 1;
    if (isFlexible)
      return { kind: "frame", frame: { ...base, ...head, isRemote: false, isFlexible, endS: timeAt() }, next: afterIdle(dominant, at) };
    if (isExtended) take();
    const length = Math.min(8, number(4));
    const data = isRemote ? [] : Array.from({ length }, () => number(8));
    counts = false;
    const computed = crc;
    const sent = number(15);
    const problems: string[] = [];
    if (sent !== computed)
      problems.push(`checksum 0x${sent.toString(16).toUpperCase()} in place of 0x${computed.toString(16).toUpperCase()}`);
    /** 1 for dominant, 0 for recessive, undefined behind the end. */
    const plain = (): number | undefined => dominant[at++];
    if (plain() !== 0) problems.push("the bit behind the checksum is dominant");
    const answer = plain();
    const isAcknowledged = answer === undefined ? undefined : answer === 1;
    if (!isAcknowledged) problems.push("nobody acknowledged it");
    if (plain() !== 0) problems.push("the bit behind the acknowledgement is dominant");
    for (let k = 0; k < 7; k++)
      if (plain() === 1) {
        problems.push(k === 6 ? "dominant in the last bit of its end" : "an error flag in its end");
        break;
      }
    return { kind: "frame", frame: { ...base, ...head, isFlexible: false, data, isAcknowledged, problems, endS: timeAt() }, next: at };
  } catch (error) {
    if (!(error instanceof Broken)) throw error;
    const stopped = error.message;
    const next = afterIdle(dominant, at);
    return head === undefined
      ? { kind: "fault", words: stopped, next }
      : { kind: "frame", frame: { ...base, ...head, isFlexible: false, problems: [stopped], endS: timeAt() }, next };
  }
}

/** The bit behind the next seven recessive ones. */
function afterIdle(dominant: Uint8Array, from: number): number {
  let recessive = 0;
  for (let i = from; i < dominant.length; i++) {
    recessive = dominant[i] === 1 ? 0 : recessive + 1;
    if (recessive === IDLE_BITS) return i + 1;
  }
  return dominant.length;
}

/** The checksum of 15 bits, a logical bit on: x¹⁵ + x¹⁴ + x¹⁰ + x⁸ + x⁷ + x⁴ + x³ + 1. Source: ISO 11898-1. */
export function nextCrc(crc: number, bit: number): number {
  const feeds = ((crc >> 14) & 1) ^ bit;
  const shifted = (crc << 1) & 0x7fff;
  return feeds === 1 ? shifted ^ 0x4599 : shifted;
}
