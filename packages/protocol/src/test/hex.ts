/** Bytes from their digits, spaces left out: "02 FD 8001". */
export const bytesOf = (hex: string): Uint8Array =>
  Uint8Array.from(
    hex
      .replace(/\s+/g, "")
      .match(/../g)
      ?.map((b) => Number.parseInt(b, 16)) ?? [],
  );
