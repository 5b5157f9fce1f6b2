import { createReader, createWriter, fromAscii, type Reader, type Writer } from "../bytes/index.ts";

/** Messages of ISO 13400-2. Addresses are logical addresses, 0…0xFFFF. */
export type DoipMessage =
  | { readonly type: "header refused"; readonly code: number }
  | { readonly type: "identify" }
  | { readonly type: "identify by eid"; readonly eid: Uint8Array }
  | { readonly type: "identify by vin"; readonly vin: Uint8Array }
  | Announcement
  | { readonly type: "activate"; readonly source: number; readonly activation: number; readonly oem?: Uint8Array }
  | { readonly type: "activated"; readonly tester: number; readonly entity: number; readonly code: number; readonly oem?: Uint8Array }
  | { readonly type: "alive?" }
  | { readonly type: "alive"; readonly source: number }
  | { readonly type: "status?" }
  | {
      readonly type: "status";
      readonly node: number;
      readonly mostSockets: number;
      readonly openSockets: number;
      readonly mostBytes?: number;
    }
  | { readonly type: "power mode?" }
  | { readonly type: "power mode"; readonly mode: number }
  | { readonly type: "diagnostic"; readonly source: number; readonly target: number; readonly data: Uint8Array }
  | Receipt<"received">
  | Receipt<"not received">;

/** A vehicle that tells what it is: 17, 6 and 6 bytes. */
export interface Announcement {
  readonly type: "announcement";
  readonly vin: Uint8Array;
  readonly address: number;
  readonly eid: Uint8Array;
  readonly gid: Uint8Array;
  readonly furtherAction: number;
  /** Left out by older entities. */
  readonly sync?: number;
}

/** What an entity says to a diagnostic message, before the module it is for has answered. `previous`: the message again, or its beginning, or nothing. */
interface Receipt<T> {
  readonly type: T;
  readonly source: number;
  readonly target: number;
  readonly code: number;
  readonly previous: Uint8Array;
}

export type DoipType = DoipMessage["type"];

/** Bytes before the payload: version, its inverse, payload type, payload length. */
export const HEADER_BYTES = 8;
/** Version 2 is ISO 13400-2:2012, version 3 that of 2019. */
export const VERSION = 0x02;
/** Allowed in vehicle identification requests, when the tester does not know the entity's version. */
export const ANY_VERSION = 0xff;

/** Codes of a generic header negative acknowledge. */
export const HEADER_REFUSALS = { pattern: 0x00, type: 0x01, tooLarge: 0x02, memory: 0x03, length: 0x04 } as const;
/** Codes of a routing activation response. */
export const ACTIVATION = {
  unknownSource: 0x00,
  socketsTaken: 0x01,
  otherSource: 0x02,
  sourceTaken: 0x03,
  authenticate: 0x04,
  rejected: 0x05,
  type: 0x06,
  done: 0x10,
  confirm: 0x11,
} as const;
/** Codes of a diagnostic message negative acknowledge. */
export const UNDELIVERED = {
  source: 0x02,
  unknownTarget: 0x03,
  tooLarge: 0x04,
  memory: 0x05,
  unreachable: 0x06,
  network: 0x07,
  transport: 0x08,
} as const;

interface Shape {
  readonly payload: number;
  /** Bytes of payload that are allowed. */
  readonly lengths: (bytes: number) => boolean;
}
const exactly =
  (...allowed: number[]) =>
  (bytes: number): boolean =>
    allowed.includes(bytes);
const atLeast = (least: number) => (bytes: number) => bytes >= least;

/** Payload types and lengths, ISO 13400-2 table "Overview of DoIP payload types". */
const SHAPES: Readonly<Record<DoipType, Shape>> = {
  "header refused": { payload: 0x0000, lengths: exactly(1) },
  identify: { payload: 0x0001, lengths: exactly(0) },
  "identify by eid": { payload: 0x0002, lengths: exactly(6) },
  "identify by vin": { payload: 0x0003, lengths: exactly(17) },
  announcement: { payload: 0x0004, lengths: exactly(32, 33) },
  activate: { payload: 0x0005, lengths: exactly(7, 11) },
  activated: { payload: 0x0006, lengths: exactly(9, 13) },
  "alive?": { payload: 0x0007, lengths: exactly(0) },
  alive: { payload: 0x0008, lengths: exactly(2) },
  "status?": { payload: 0x4001, lengths: exactly(0) },
  status: { payload: 0x4002, lengths: exactly(3, 7) },
  "power mode?": { payload: 0x4003, lengths: exactly(0) },
  "power mode": { payload: 0x4004, lengths: exactly(1) },
  diagnostic: { payload: 0x8001, lengths: atLeast(5) },
  received: { payload: 0x8002, lengths: atLeast(5) },
  "not received": { payload: 0x8003, lengths: atLeast(5) },
};
const TYPES = new Map(Object.entries(SHAPES).map(([type, s]) => [s.payload, type as DoipType]));

/** The kind of message with that number in its header (ISO 13400-2, table of payload types); undefined for any other. */
export const payloadTypeOf = (payload: number): DoipType | undefined => TYPES.get(payload);
/** Whether a message of that kind may have so many bytes after the header. */
export const fitsLength = (type: DoipType, bytes: number): boolean => SHAPES[type].lengths(bytes);

/** A whole message with its header. Throws RangeError for numbers that do not fit. */
export function encodeDoip(message: DoipMessage, version = VERSION): Uint8Array {
  const payload = payloadOf(message).bytes();
  return createWriter()
    .u8(version)
    .u8(version ^ 0xff)
    .u16(SHAPES[message.type].payload)
    .u32(payload.length)
    .raw(payload)
    .bytes();
}

function payloadOf(m: DoipMessage): Writer {
  const w = createWriter();
  switch (m.type) {
    case "header refused":
      return w.u8(m.code);
    case "identify":
    case "alive?":
    case "status?":
    case "power mode?":
      return w;
    case "identify by eid":
      return w.raw(sized(m.eid, 6));
    case "identify by vin":
      return w.raw(sized(m.vin, 17));
    case "announcement":
      w.raw(sized(m.vin, 17)).u16(m.address).raw(sized(m.eid, 6)).raw(sized(m.gid, 6)).u8(m.furtherAction);
      return m.sync === undefined ? w : w.u8(m.sync);
    case "activate":
      w.u16(m.source).u8(m.activation).u32(0);
      return m.oem === undefined ? w : w.raw(sized(m.oem, 4));
    case "activated":
      w.u16(m.tester).u16(m.entity).u8(m.code).u32(0);
      return m.oem === undefined ? w : w.raw(sized(m.oem, 4));
    case "alive":
      return w.u16(m.source);
    case "status":
      w.u8(m.node).u8(m.mostSockets).u8(m.openSockets);
      return m.mostBytes === undefined ? w : w.u32(m.mostBytes);
    case "power mode":
      return w.u8(m.mode);
    case "diagnostic":
      return w.u16(m.source).u16(m.target).raw(m.data);
    case "received":
    case "not received":
      return w.u16(m.source).u16(m.target).u8(m.code).raw(m.previous);
  }
}

function sized(bytes: Uint8Array, length: number): Uint8Array {
  if (bytes.length !== length) throw new RangeError(`${bytes.length} bytes where ${length} belong`);
  return bytes;
}

/** A payload of a length that fits its type. */
export function decodePayload(type: DoipType, payload: Uint8Array): DoipMessage {
  const r = createReader(payload);
  switch (type) {
    case "header refused":
      return { type, code: r.u8() };
    case "identify":
    case "alive?":
    case "status?":
    case "power mode?":
      return { type };
    case "identify by eid":
      return { type, eid: r.take(6) };
    case "identify by vin":
      return { type, vin: r.take(17) };
    case "announcement":
      return {
        type,
        vin: r.take(17),
        address: r.u16(),
        eid: r.take(6),
        gid: r.take(6),
        furtherAction: r.u8(),
        ...(r.left() > 0 ? { sync: r.u8() } : {}),
      };
    case "activate": {
      const [source, activation] = [r.u16(), r.u8()];
      r.u32();
      return { type, source, activation, ...oemOf(r) };
    }
    case "activated": {
      const [tester, entity, code] = [r.u16(), r.u16(), r.u8()];
      r.u32();
      return { type, tester, entity, code, ...oemOf(r) };
    }
    case "alive":
      return { type, source: r.u16() };
    case "status":
      return { type, node: r.u8(), mostSockets: r.u8(), openSockets: r.u8(), ...(r.left() > 0 ? { mostBytes: r.u32() } : {}) };
    case "power mode":
      return { type, mode: r.u8() };
    case "diagnostic":
      return { type, source: r.u16(), target: r.u16(), data: r.rest() };
    case "received":
    case "not received":
      return { type, source: r.u16(), target: r.u16(), code: r.u8(), previous: r.rest() };
  }
}

const oemOf = (r: Reader): { readonly oem?: Uint8Array } => (r.left() > 0 ? { oem: r.take(4) } : {});

/** A VIN as its 17 bytes. */
export const vinBytes = (vin: string): Uint8Array => fromAscii(vin, 17, 0x30);
