import { checksumOf, protectedId } from "../decode/lin.ts";

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
  return [...data, checksumOf(data, protectedId(id))].flatMap(byteRuns);
}

/** Start bit, eight bits with the least first, stop bit; 1 is recessive. */
const byteRuns = (byte: number): LinRun[] => [
  [true, 1],
  ...Array.from({ length: 8 }, (_, k): LinRun => [((byte >> k) & 1) === 0, 1]),
  [false, 1],
];
