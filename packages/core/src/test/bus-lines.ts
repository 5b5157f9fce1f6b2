/** Builds CAN frames apart from what reads them: strings of 0 (dominant) and 1, polynomial division on strings, stuffing sign by sign. */
export const binary = (value: number, width: number): string => value.toString(2).padStart(width, "0");
function division(bits: string): string {
  const generator = "1100010110011001";
  const rest = [...`${bits}${"0".repeat(15)}`].map(Number);
  for (let i = 0; i < bits.length; i++) if (rest[i] === 1) for (let k = 0; k < 16; k++) rest[i + k]! ^= Number(generator[k]);
  return rest.slice(-15).join("");
}
export function stuffed(bits: string): string {
  let [out, run, last] = ["", 0, ""];
  for (const b of bits) {
    run = b === last ? run + 1 : 1;
    last = b;
    out += b;
    if (run === 5) {
      last = b === "0" ? "1" : "0";
      out += last;
      run = 1;
    }
  }
  return out;
}
export interface WantedCan {
  readonly id: number;
  readonly data: readonly number[];
  readonly extended?: boolean;
  readonly remote?: boolean;
  readonly acknowledged?: boolean;
}
/** All bits of a frame, 0 for dominant. */
export function canBits({ id, data, extended = false, remote = false, acknowledged = true }: WantedCan): string {
  const rtr = remote ? "1" : "0";
  const arbitration = extended ? `${binary(id, 29).slice(0, 11)}11${binary(id, 29).slice(11)}${rtr}00` : `${binary(id, 11)}${rtr}00`;
  const body = `0${arbitration}${binary(remote ? 0 : data.length, 4)}${remote ? "" : data.map((d) => binary(d, 8)).join("")}`;
  return `${stuffed(body + division(body))}1${acknowledged ? "0" : "1"}11111111`;
}
export interface CanLine {
  readonly baud?: number;
  readonly rateHz?: number;
  readonly dominantVolts?: number;
  readonly noise?: number;
  /** Dominant bits are longer by this share of a bit. */
  readonly longer?: number;
}
/** The difference of both wires, V. */
export function canDifference(
  bits: string,
  { baud = 500_000, rateHz = 1e7, dominantVolts = 2, noise = 0, longer = 0 }: CanLine = {},
): Float32Array {
  let seed = 7;
  const chance = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647;
  const level = (t: number): number => (bits[Math.floor(t)] === "0" ? dominantVolts : 0);
  return Float32Array.from({ length: Math.floor((bits.length / baud) * rateHz) }, (_, i) => {
    const t = (i * baud) / rateHz + 0.013;
    return Math.max(level(t), level(Math.max(0, t - longer))) + noise * (2 * chance() - 1);
  });
}

/** A stretch of a LIN line: its level and its length in bits. */
export type Piece = readonly [level: 0 | 1, bits: number];
/** A byte with its start and stop bit. */
export const linByte = (value: number): Piece[] => [
  [0, 1],
  ...Array.from({ length: 8 }, (_, k): Piece => [((value >> k) & 1) as 0 | 1, 1]),
  [1, 1],
];
export const linSum = (bytes: readonly number[]): number => {
  const total = bytes.reduce((a, b) => a + b, 0);
  // With the carries added in until none is left.
  let folded = total;
  while (folded > 255) folded = (folded >> 8) + (folded & 255);
  return 255 - folded;
};
/** Identifiers with their parity, from the standard's table. */
export const PROTECTED: Readonly<Record<number, number>> = { 0: 0x80, 1: 0xc1, 2: 0x42, 0x10: 0x50, 0x3c: 0x3c, 0x3d: 0x7d, 0x23: 0xa3 };
export const linHeader = (pid: number, breakBits = 13): Piece[] => [[0, breakBits], [1, 1], ...linByte(0x55), ...linByte(pid)];
export const linResponse = (data: readonly number[], first?: number): Piece[] => [
  [1, 2],
  ...[...data, linSum(first === undefined ? data : [first, ...data])].flatMap((b) => linByte(b)),
];
export interface LinLine {
  readonly baud?: number;
  readonly rateHz?: number;
  readonly high?: number;
  readonly low?: number;
  /** Time constant of the rising edge, bits. */
  readonly slow?: number;
}
/** A LIN line, V. */
export function linLine(
  pieces: readonly Piece[],
  { baud = 19_200, rateHz = 1e6, high = 13.6, low = 0.9, slow = 0 }: LinLine = {},
): Float32Array {
  const ends: number[] = [];
  let at = 0;
  for (const [, bits] of pieces) ends.push((at += bits));
  let [k, v] = [0, high];
  return Float32Array.from({ length: Math.floor((at / baud) * rateHz) }, (_, i) => {
    const t = (i * baud) / rateHz;
    while (k < ends.length - 1 && ends[k]! <= t) k++;
    const target = pieces[k]![0] === 1 ? high : low;
    // The pull-up lifts slowly, the driver pulls down at once.
    v = slow > 0 && target > v ? v + (target - v) * (1 - Math.exp(-baud / rateHz / slow)) : target;
    return v;
  });
}
