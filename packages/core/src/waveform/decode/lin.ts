import { levelReader, type Run, runsOf } from "./runs.ts";

/** One frame of a LIN bus. Times in s from the first sample. */
export interface LinFrame {
  readonly startS: number;
  readonly endS: number;
  /** 0 to 63; undefined where no whole identifier was read. */
  readonly id: number | undefined;
  /** Without the checksum. */
  readonly data: readonly number[];
  /** Whether somebody responds to its header; undefined where no header was read, or the recording ends before a response could have begun. */
  readonly hasResponse: boolean | undefined;
  /** What its checksum covers: data alone, or the identifier too. Undefined where it fits neither. */
  readonly checksum: "classic" | "enhanced" | undefined;
  /** What is wrong with it, in words; empty for a good one. */
  readonly problems: readonly string[];
}

export interface LinRead {
  /** Bits a second, from the synchronisation fields; undefined where none was read. */
  readonly baud: number | undefined;
  readonly frames: readonly LinFrame[];
}

/** A receiver takes a level below 40 % of its supply for dominant, above 60 % for recessive. Source: ISO 17987-4. */
const DOMINANT_SHARE = 0.4;
const RECESSIVE_SHARE = 0.6;
/** A break has 13 bits; a receiver must take one of 11. */
const LEAST_BREAK_BITS = 10.5;
/** Bits without an edge after which no further byte belongs to a frame. */
const LONGEST_GAP_BITS = 40;
const MOST_BYTES = 9;
/** Diagnostic frames have the classic checksum whatever the version. */
const DIAGNOSTIC: ReadonlySet<number | undefined> = new Set([0x3c, 0x3d]);

/** Reads the frames of a LIN line, V, by the levels of a receiver that is fed with `supplyVolts`. */
export function decodeLin(samples: Float32Array, rateHz: number, supplyVolts: number): LinRead {
  const runs = runsOf(samples, rateHz, { rises: RECESSIVE_SHARE * supplyVolts, falls: DOMINANT_SHARE * supplyVolts });
  const headers = runs.flatMap((_, i) => syncAt(runs, i) ?? []);
  const bits = headers.map((h) => h.bitS).sort((p, q) => p - q);
  const usual = bits[bits.length >> 1];
  if (usual === undefined) return { baud: undefined, frames: [] };
  const read = levelReader(runs);
  const byBreak = new Map(headers.map((h) => [h.breakAt, h]));
  const frames = runs.flatMap((run, i): LinFrame[] => {
    const header = byBreak.get(i);
    if (header !== undefined) return [frameAfter(runs, read, header)];
    // A break that no synchronisation follows.
    if (run.isHigh || run.endS - run.startS < LEAST_BREAK_BITS * usual || i === 0 || i === runs.length - 1) return [];
    return [
      {
        startS: run.startS,
        endS: run.endS,
        id: undefined,
        data: [],
        hasResponse: undefined,
        checksum: undefined,
        problems: [`a break of ${Math.round((run.endS - run.startS) / usual)} bits without synchronisation`],
      },
    ];
  });
  return { baud: 1 / usual, frames };
}

interface Header {
  readonly breakAt: number;
  readonly bitS: number;
  /** The beginning of the synchronisation byte. */
  readonly syncS: number;
}

/** A break at run `i`, followed by 0x55: nine single bits in turn. */
function syncAt(runs: readonly Run[], i: number): Header | undefined {
  const [brk, delimiter] = [runs[i], runs[i + 1]];
  const bits = runs.slice(i + 2, i + 11);
  if (brk === undefined || brk.isHigh || delimiter === undefined || bits.length < 9 || bits[0]!.isHigh) return undefined;
  const bitS = (bits[8]!.startS - bits[0]!.startS) / 8;
  const isSingle = (r: Run): boolean => Math.abs(r.endS - r.startS - bitS) < 0.5 * bitS;
  if (!bits.every(isSingle) || brk.endS - brk.startS < LEAST_BREAK_BITS * bitS || delimiter.endS - delimiter.startS < 0.5 * bitS)
    return undefined;
  return { breakAt: i, bitS, syncS: bits[0]!.startS };
}

interface Byte {
  readonly value: number;
  readonly endS: number;
  readonly isStopped: boolean;
}

function frameAfter(runs: readonly Run[], read: (timeS: number) => boolean | undefined, { breakAt, bitS, syncS }: Header): LinFrame {
  const startS = runs[breakAt]!.startS;
  const byteAt = (at: number): Byte | undefined => {
    let value = 0;
    for (let k = 0; k < 8; k++) {
      const level = read(at + (k + 1.5) * bitS);
      if (level === undefined) return undefined;
      if (level) value |= 1 << k;
    }
    return { value, endS: at + 10 * bitS, isStopped: read(at + 9.5 * bitS) === true };
  };
  /** The next falling edge from a time on, if it is not too far and no break. */
  let next = breakAt;
  const startFrom = (timeS: number): number | undefined => {
    while (next < runs.length && (runs[next]!.isHigh || runs[next]!.startS < timeS - 0.4 * bitS)) next++;
    const run = runs[next];
    if (run === undefined || run.startS - timeS > LONGEST_GAP_BITS * bitS || run.endS - run.startS >= LEAST_BREAK_BITS * bitS)
      return undefined;
    return run.startS;
  };
  const problems: string[] = [];
  const bytes: number[] = [];
  let endS = syncS + 10 * bitS;
  for (let at = startFrom(endS); at !== undefined && bytes.length <= MOST_BYTES; at = startFrom(endS)) {
    const byte = byteAt(at);
    if (byte === undefined) {
      problems.push("cut off by the end of the recording");
      break;
    }
    bytes.push(byte.value);
    endS = byte.endS;
    if (!byte.isStopped) {
      problems.push(`stop bit missing after byte ${bytes.length}`);
      break;
    }
  }
  const [pid, ...rest] = bytes;
  if (pid === undefined)
    return {
      startS,
      endS,
      id: undefined,
      data: [],
      hasResponse: undefined,
      checksum: undefined,
      problems: [...problems, "no identifier after the synchronisation"],
    };
  const id = pid & 0x3f;
  if (pid !== protectedId(id)) problems.push(`parity of identifier 0x${hex(id)} is wrong`);
  if (rest.length === 0) {
    const couldBegin = problems.length === 0 && endS + LONGEST_GAP_BITS * bitS <= runs.at(-1)!.endS;
    const hasResponse = couldBegin ? false : undefined;
    return { startS, endS, id, data: [], hasResponse, checksum: undefined, problems: [...problems, "header without a response"] };
  }
  const [data, sum] = [rest.slice(0, -1), rest.at(-1)!];
  const checksum = checksumOf(data, 0) === sum ? "classic" : checksumOf(data, pid) === sum && !DIAGNOSTIC.has(id) ? "enhanced" : undefined;
  if (data.length === 0) problems.push("one byte of response only");
  else if (bytes.length > MOST_BYTES + 1) problems.push("more than eight bytes of data");
  else if (checksum === undefined)
    problems.push(`checksum 0x${hex(sum)} fits neither way: 0x${hex(checksumOf(data, 0))} or 0x${hex(checksumOf(data, pid))}`);
  return { startS, endS, id, data, hasResponse: true, checksum, problems };
}

const hex = (value: number): string => value.toString(16).toUpperCase().padStart(2, "0");

/** An identifier with its two parity bits. Source: ISO 17987-3. */
export function protectedId(id: number): number {
  const bit = (n: number): number => (id >> n) & 1;
  return id | ((bit(0) ^ bit(1) ^ bit(2) ^ bit(4)) << 6) | ((1 ^ bit(1) ^ bit(3) ^ bit(4) ^ bit(5)) << 7);
}

/** Inverted sum with carry, over the data and what begins it. */
export function checksumOf(data: readonly number[], first: number): number {
  let sum = first;
  for (const byte of data) {
    sum += byte;
    if (sum > 0xff) sum -= 0xff;
  }
  return ~sum & 0xff;
}
