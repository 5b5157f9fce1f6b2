/** Printable ASCII as bytes, cut or filled up to a length. Anything else becomes "?". */
export function fromAscii(text: string, length: number, fill = 0): Uint8Array {
  const bytes = new Uint8Array(length).fill(fill);
  for (let i = 0; i < Math.min(length, text.length); i++) {
    const c = text.charCodeAt(i);
    bytes[i] = c >= 0x20 && c < 0x7f ? c : 0x3f;
  }
  return bytes;
}

/** Bytes as text, up to the first zero; what is no printable ASCII as a dot. */
export function asciiOf(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  return [...(end < 0 ? bytes : bytes.subarray(0, end))].map((b) => (b >= 0x20 && b < 0x7f ? String.fromCharCode(b) : ".")).join("");
}

/** "02 FD 80 01". */
export const hexOf = (bytes: Uint8Array): string => [...bytes].map((b) => b.toString(16).toUpperCase().padStart(2, "0")).join(" ");

/** Each byte as the sign of its number (ISO 8859-1), and back; what is no byte becomes "?". */
export function latin1Of(bytes: Uint8Array): string {
  let text = "";
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return text;
}
/**
 *
 */
export const fromLatin1 = (text: string): Uint8Array => Uint8Array.from(text, (c) => (c.charCodeAt(0) < 256 ? c.charCodeAt(0) : 63));
