/** Reads off bytes, most significant first. Past the end it gives zeros and stays failed, so that a parser asks `ok` once, at its end. */
export interface Reader {
  /** False from the first reading past the end on. */
  readonly ok: () => boolean;
  /** Bytes not yet read. */
  readonly left: () => number;
  readonly u8: () => number;
  readonly u16: () => number;
  readonly u24: () => number;
  readonly u32: () => number;
  /** A copy of the next so many bytes; zeros for what is not there. */
  readonly take: (count: number) => Uint8Array;
  /** A copy of all that is left. */
  readonly rest: () => Uint8Array;
}

/** A reader from the first byte on. It never throws: past the end it gives zeros, and `ok` says so. */
export function createReader(bytes: Uint8Array): Reader {
  let at = 0;
  let ok = true;
  const number = (count: number): number => {
    if (bytes.length - at < count) {
      ok = false;
      at = bytes.length;
      return 0;
    }
    let n = 0;
    for (let i = 0; i < count; i++) n = n * 256 + bytes[at + i]!;
    at += count;
    return n;
  };
  const take = (count: number): Uint8Array => {
    const found = new Uint8Array(count);
    if (bytes.length - at < count) ok = false;
    found.set(bytes.subarray(at, at + count));
    at = Math.min(bytes.length, at + count);
    return found;
  };
  return {
    ok: () => ok,
    left: () => bytes.length - at,
    u8: () => number(1),
    u16: () => number(2),
    u24: () => number(3),
    u32: () => number(4),
    take,
    rest: () => take(bytes.length - at),
  };
}
