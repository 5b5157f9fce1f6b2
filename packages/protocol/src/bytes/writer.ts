/** Puts bytes together, most significant first. Throws RangeError for a number that does not fit. */
export interface Writer {
  readonly u8: (n: number) => Writer;
  readonly u16: (n: number) => Writer;
  readonly u24: (n: number) => Writer;
  readonly u32: (n: number) => Writer;
  readonly raw: (bytes: Uint8Array) => Writer;
  /** A copy of all that was written. */
  readonly bytes: () => Uint8Array;
}

/** An empty writer, most significant byte first. */
export function createWriter(): Writer {
  const written: number[] = [];
  const number = (n: number, count: number): Writer => {
    if (!Number.isInteger(n) || n < 0 || n >= 256 ** count) throw new RangeError(`${n} does not fit into ${count} bytes`);
    for (let i = count - 1; i >= 0; i--) written.push(Math.floor(n / 256 ** i) % 256);
    return writer;
  };
  const writer: Writer = {
    u8: (n) => number(n, 1),
    u16: (n) => number(n, 2),
    u24: (n) => number(n, 3),
    u32: (n) => number(n, 4),
    raw: (bytes) => {
      for (const b of bytes) written.push(b);
      return writer;
    },
    bytes: () => Uint8Array.from(written),
  };
  return writer;
}
