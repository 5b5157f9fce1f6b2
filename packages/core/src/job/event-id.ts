declare const eventId: unique symbol;
export type EventId = string & { readonly [eventId]: true };

/**
 * A UUID of version 7 (RFC 9562): 48 bits of Unix time in milliseconds, then random bits, so that ids sort by time.
 * `random`: 10 random bytes. Throws RangeError for a time outside 48 bits or too few bytes.
 */
export function uuidV7(unixMs: number, random: Uint8Array): EventId {
  if (!(unixMs >= 0 && unixMs < 2 ** 48)) throw new RangeError(`time outside 48 bits: ${unixMs}`);
  if (random.length < 10) throw new RangeError(`10 random bytes are needed, not ${random.length}`);
  const bytes = new Uint8Array(16);
  let rest = Math.floor(unixMs);
  for (let i = 5; i >= 0; i--) {
    bytes[i] = rest % 256;
    rest = Math.floor(rest / 256);
  }
  bytes.set(random.subarray(0, 10), 6);
  bytes[6] = 0x70 | (bytes[6]! & 0x0f);
  bytes[8] = 0x80 | (bytes[8]! & 0x3f);
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("");
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}` as EventId;
}
