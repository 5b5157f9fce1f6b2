/** Levels of a LIN line one after the other: dominant or not, and for how many bits. */
export type LinRun = readonly [isDominant: boolean, bits: number];

const BREAK_BITS = 13;
const SYNC = 0x55;

/** Break, delimiter, sync and protected identifier (ISO 17987-3). Throws RangeError for an identifier above 63. */
export function linHeaderRuns(id: number): readonly LinRun[] {
  if (!Number.isInteger(id) || id < 0 || id > 63) throw new RangeError(`${id} is no identifier of a LIN frame`);
  return [[true, BREAK_BITS], [false, 1], ...byteRuns(SYNC), ...byteRuns(protectedId(id))];
}

/** Data and the enhanced checksum over them and the protected identifier. */
export function linResponseRuns(id: number, data: readonly number[]): readonly LinRun[] {
  let sum = protectedId(id);
  for (const b of data) {
    sum += b;
    if (sum > 255) sum -= 255;
  }
  return [...data, 255 - sum].flatMap(byteRuns);
}

function protectedId(id: number): number {
  const bit = (k: number): number => (id >> k) & 1;
  const p0 = bit(0) ^ bit(1) ^ bit(2) ^ bit(4);
  const p1 = 1 - (bit(1) ^ bit(3) ^ bit(4) ^ bit(5));
  return id | (p0 << 6) | (p1 << 7);
}

/** Start bit, eight bits with the least first, stop bit; 1 is recessive. */
const byteRuns = (byte: number): LinRun[] => [
  [true, 1],
  ...Array.from({ length: 8 }, (_, k): LinRun => [((byte >> k) & 1) === 0, 1]),
  [false, 1],
];
