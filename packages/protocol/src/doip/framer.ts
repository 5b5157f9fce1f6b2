import { createReader } from "../bytes/index.ts";
import { ANY_VERSION, decodePayload, fitsLength, HEADER_BYTES, HEADER_REFUSALS, payloadTypeOf, type DoipMessage } from "./message.ts";

/** What comes out of a stream or a datagram: a message, or what is wrong and what an entity says to it. */
export type Framed =
  | { readonly kind: "message"; readonly message: DoipMessage; readonly version: number }
  /** `refusal`: code of the generic header negative acknowledge. `fatal`: the connection is closed, nothing after it can be trusted. */
  | { readonly kind: "fault"; readonly refusal: number; readonly fatal: boolean; readonly why: string };

export interface Framer {
  /** Takes what has come and gives what is whole. After a fatal fault it gives nothing more. */
  readonly push: (chunk: Uint8Array) => readonly Framed[];
}

/** Cuts a stream into messages. Never holds more than one message of `mostBytes` of payload; a larger one is let pass and refused. */
export function createFramer(mostBytes: number): Framer {
  let held = new Uint8Array(0);
  let skip = 0;
  let dead = false;
  const take = (chunk: Uint8Array): void => {
    const skipped = Math.min(skip, chunk.length);
    skip -= skipped;
    const joined = new Uint8Array(held.length + chunk.length - skipped);
    joined.set(held);
    joined.set(chunk.subarray(skipped), held.length);
    held = joined;
  };
  return {
    push: (chunk) => {
      if (dead) return [];
      take(chunk);
      const found: Framed[] = [];
      while (held.length >= HEADER_BYTES) {
        const header = readHeader(held);
        if ("kind" in header) {
          found.push(header);
          dead = true;
          held = new Uint8Array(0);
          break;
        }
        const { version, payload, length } = header;
        const type = payloadTypeOf(payload);
        if (length > mostBytes) {
          found.push(fault("tooLarge", `a payload of ${length} bytes; ${mostBytes} is the most taken`));
          const rest = held.subarray(HEADER_BYTES);
          skip = Math.max(0, length - rest.length);
          held = rest.slice(Math.min(length, rest.length));
          continue;
        }
        // A length that cannot be is known before all of it has come.
        if (type !== undefined && !fitsLength(type, length)) {
          found.push(fault("length", `${length} bytes of payload in a message "${type}"`));
          dead = true;
          held = new Uint8Array(0);
          break;
        }
        if (held.length < HEADER_BYTES + length) break;
        const body = held.subarray(HEADER_BYTES, HEADER_BYTES + length);
        held = held.slice(HEADER_BYTES + length);
        if (type === undefined) found.push(fault("type", `payload type 0x${payload.toString(16)}`));
        else found.push({ kind: "message", message: decodePayload(type, body), version });
      }
      return found;
    },
  };
}

/** One datagram holds one message, whole. */
export function readDatagram(bytes: Uint8Array): Framed {
  if (bytes.length < HEADER_BYTES) return fault("pattern", `${bytes.length} bytes are no header`);
  const header = readHeader(bytes);
  if ("kind" in header) return header;
  const { version, payload, length } = header;
  const type = payloadTypeOf(payload);
  if (type === undefined) return fault("type", `payload type 0x${payload.toString(16)}`);
  if (length !== bytes.length - HEADER_BYTES || !fitsLength(type, length))
    return fault("length", `${length} bytes of payload in a message "${type}"`);
  return { kind: "message", message: decodePayload(type, bytes.subarray(HEADER_BYTES)), version };
}

function readHeader(
  bytes: Uint8Array,
): Extract<Framed, { kind: "fault" }> | { readonly version: number; readonly payload: number; readonly length: number } {
  const r = createReader(bytes);
  const [version, inverse, payload, length] = [r.u8(), r.u8(), r.u16(), r.u32()];
  const known = (version >= 1 && version <= 3) || version === ANY_VERSION;
  if (!known || (version ^ 0xff) !== inverse)
    return fault("pattern", `version 0x${version.toString(16)} with inverse 0x${inverse.toString(16)}`);
  return { version, payload, length };
}

const FATAL: readonly (keyof typeof HEADER_REFUSALS)[] = ["pattern", "length"];
const fault = (what: keyof typeof HEADER_REFUSALS, why: string): Extract<Framed, { kind: "fault" }> => ({
  kind: "fault",
  refusal: HEADER_REFUSALS[what],
  fatal: FATAL.includes(what),
  why,
});
