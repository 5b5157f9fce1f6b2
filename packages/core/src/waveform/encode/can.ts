import { nextCrc } from "../decode/can.ts";

/** Bits of a frame on the line, 1 for dominant. */
export interface CanBits {
  readonly bits: readonly (0 | 1)[];
  /** Which of them is the slot in which whoever has received it answers. */
  readonly ackAt: number;
}

const STUFF = 5;
/** Delimiter of the answer, end of frame, pause between frames: recessive. */
const TAIL = 1 + 7 + 3;

/** A data frame with an identifier of 11 bits and up to eight bytes (ISO 11898-1), without anybody's answer. Throws RangeError for what does not fit. */
export function canFrameBits(id: number, data: readonly number[]): CanBits {
  if (!Number.isInteger(id) || id < 0 || id > 0x7ff) throw new RangeError(`${id} is no identifier of 11 bits`);
  if (data.length > 8 || data.some((b) => !Number.isInteger(b) || b < 0 || b > 255)) throw new RangeError("up to eight bytes");
  // As logic: 0 is dominant.
  const plain = [0, ...bitsOf(id, 11), 0, 0, 0, ...bitsOf(data.length, 4), ...data.flatMap((b) => bitsOf(b, 8))];
  const logic = stuffed([...plain, ...bitsOf(plain.reduce(nextCrc, 0), 15)]);
  logic.push(1);
  const ackAt = logic.length;
  logic.push(1, ...Array.from({ length: TAIL }, () => 1));
  return { bits: logic.map((b) => (b === 0 ? 1 : 0)), ackAt };
}

const bitsOf = (value: number, width: number): number[] => Array.from({ length: width }, (_, k) => (value >> (width - 1 - k)) & 1);

/** After five alike bits comes one of the other kind. */
function stuffed(bits: readonly number[]): number[] {
  const made: number[] = [];
  let run = 0;
  for (const bit of bits) {
    run = made.at(-1) === bit ? run + 1 : 1;
    made.push(bit);
    if (run === STUFF) {
      made.push(1 - bit);
      run = 1;
    }
  }
  return made;
}
