/** How a code stands, in the words that evidence takes. "active": failed at the last test. "pending": failed once, not yet confirmed. "stored": confirmed, not failing now. */
export const STATUS_WORDS = ["active", "pending", "stored", "permanent"] as const;
export type StatusWord = (typeof STATUS_WORDS)[number];

/** Bits of the status byte of ISO 14229-1, annex D. */
export const STATUS_BITS = {
  failed: 0x01,
  failedThisCycle: 0x02,
  pending: 0x04,
  confirmed: 0x08,
  notTestedSinceClear: 0x10,
  failedSinceClear: 0x20,
  notTestedThisCycle: 0x40,
  warningLamp: 0x80,
} as const;
export type StatusBit = keyof typeof STATUS_BITS;

/** Names of the bits set in a status byte of ISO 14229-1, lowest first. */
export const bitsOf = (status: number): readonly StatusBit[] =>
  (Object.keys(STATUS_BITS) as StatusBit[]).filter((b) => (status & STATUS_BITS[b]) !== 0);

/** The one word for a status byte; undefined when it says that there is nothing. */
export function statusWord(status: number): StatusWord | undefined {
  if ((status & STATUS_BITS.failed) !== 0) return "active";
  if ((status & STATUS_BITS.confirmed) !== 0) return "stored";
  if ((status & STATUS_BITS.pending) !== 0) return "pending";
  return undefined;
}
