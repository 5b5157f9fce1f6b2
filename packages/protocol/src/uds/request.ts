import { createReader, createWriter, type Reader } from "../bytes/index.ts";
import { REFUSALS } from "./refusal.ts";

/** Services of ISO 14229-1 by number. */
export const SERVICE = {
  session: 0x10,
  reset: 0x11,
  clear: 0x14,
  codes: 0x19,
  read: 0x22,
  actuate: 0x2f,
  present: 0x3e,
  codeSetting: 0x85,
} as const;

export const SESSIONS = { default: 0x01, programming: 0x02, extended: 0x03 } as const;
/** All groups of codes. */
export const ALL_CODES = 0xffffff;

/** Reports of service 0x19. */
export const REPORT = { countByMask: 0x01, byMask: 0x02, snapshotIds: 0x03, snapshot: 0x04, extended: 0x06, supported: 0x0a } as const;

/** inputOutputControlParameter. */
export const CONTROL = { giveBack: 0x00, reset: 0x01, freeze: 0x02, adjust: 0x03 } as const;

/** Requests to one module. `quiet`: no positive answer is wanted. Codes are numbers of three bytes, the last the failure type. */
export type UdsRequest =
  | { readonly service: "session"; readonly session: number; readonly quiet?: boolean }
  | { readonly service: "present"; readonly quiet?: boolean }
  | { readonly service: "clear"; readonly group: number }
  | { readonly service: "codes"; readonly report: "count by mask" | "by mask"; readonly mask: number }
  | { readonly service: "codes"; readonly report: "snapshot ids" | "supported" }
  /** `record`: 0xFF for all. */
  | { readonly service: "codes"; readonly report: "snapshot" | "extended"; readonly code: number; readonly record: number }
  | { readonly service: "read"; readonly ids: readonly number[] }
  | { readonly service: "actuate"; readonly id: number; readonly control: number; readonly state: Uint8Array }
  | { readonly service: "codeSetting"; readonly on: boolean; readonly quiet?: boolean };

const QUIET = 0x80;
/** Most identifiers in one request; ISO 14229-1 leaves it to the module. */
export const MOST_IDS = 32;

/** Bytes of a request of ISO 14229-1. */
export function encodeUds(r: UdsRequest): Uint8Array {
  const w = createWriter().u8(SERVICE[r.service]);
  switch (r.service) {
    case "session":
      return w.u8(r.session | (r.quiet === true ? QUIET : 0)).bytes();
    case "present":
      return w.u8(r.quiet === true ? QUIET : 0).bytes();
    case "clear":
      return w.u24(r.group).bytes();
    case "codes":
      switch (r.report) {
        case "count by mask":
          return w.u8(REPORT.countByMask).u8(r.mask).bytes();
        case "by mask":
          return w.u8(REPORT.byMask).u8(r.mask).bytes();
        case "snapshot ids":
          return w.u8(REPORT.snapshotIds).bytes();
        case "supported":
          return w.u8(REPORT.supported).bytes();
        case "snapshot":
          return w.u8(REPORT.snapshot).u24(r.code).u8(r.record).bytes();
        case "extended":
          return w.u8(REPORT.extended).u24(r.code).u8(r.record).bytes();
      }
    case "read":
      for (const id of r.ids) w.u16(id);
      return w.bytes();
    case "actuate":
      return w.u16(r.id).u8(r.control).raw(r.state).bytes();
    case "codeSetting":
      return w.u8((r.on ? 0x01 : 0x02) | (r.quiet === true ? QUIET : 0)).bytes();
  }
}

export type ReadRequest =
  | { readonly kind: "request"; readonly request: UdsRequest }
  /** What a module answers to it. */
  | { readonly kind: "bad"; readonly service: number; readonly refusal: number };

const BY_NUMBER = new Map<number, keyof typeof SERVICE>(Object.entries(SERVICE).map(([name, n]) => [n, name as keyof typeof SERVICE]));

/** Reads a request as a module does; what is wrong with it comes as the refusal that ISO 14229-1 wants. */
export function decodeUds(bytes: Uint8Array): ReadRequest {
  const r = createReader(bytes);
  const number = r.u8();
  const service = BY_NUMBER.get(number);
  const bad = (refusal: number): ReadRequest => ({ kind: "bad", service: number, refusal });
  if (bytes.length === 0) return bad(REFUSALS.wrongLength);
  if (service === undefined || service === "reset") return bad(REFUSALS.serviceNotSupported);
  const request = bodyOf(service, r);
  if (typeof request === "number") return bad(request);
  return r.ok() && r.left() === 0 ? { kind: "request", request } : bad(REFUSALS.wrongLength);
}

function bodyOf(service: Exclude<keyof typeof SERVICE, "reset">, r: Reader): UdsRequest | number {
  switch (service) {
    case "session": {
      const sub = r.u8();
      if (!r.ok()) return REFUSALS.wrongLength;
      const session = sub & ~QUIET;
      if (session < 1 || session > 3) return REFUSALS.subFunctionNotSupported;
      return { service, session, quiet: (sub & QUIET) !== 0 };
    }
    case "present": {
      const sub = r.u8();
      if (!r.ok()) return REFUSALS.wrongLength;
      return (sub & ~QUIET) === 0 ? { service, quiet: (sub & QUIET) !== 0 } : REFUSALS.subFunctionNotSupported;
    }
    case "clear":
      return { service, group: r.u24() };
    case "codes":
      return reportOf(r);
    case "read": {
      const ids: number[] = [];
      while (r.left() >= 2 && ids.length < MOST_IDS) ids.push(r.u16());
      return ids.length === 0 ? REFUSALS.wrongLength : { service, ids };
    }
    case "actuate":
      return { service, id: r.u16(), control: r.u8(), state: r.rest() };
    case "codeSetting": {
      const sub = r.u8();
      if (!r.ok()) return REFUSALS.wrongLength;
      const which = sub & ~QUIET;
      if (which !== 1 && which !== 2) return REFUSALS.subFunctionNotSupported;
      // An option record may follow; nothing here knows one.
      return { service, on: which === 1, quiet: (sub & QUIET) !== 0 };
    }
  }
}

function reportOf(r: Reader): UdsRequest | number {
  const service = "codes";
  const report = r.u8();
  if (!r.ok()) return REFUSALS.wrongLength;
  switch (report) {
    case REPORT.countByMask:
      return { service, report: "count by mask", mask: r.u8() };
    case REPORT.byMask:
      return { service, report: "by mask", mask: r.u8() };
    case REPORT.snapshotIds:
      return { service, report: "snapshot ids" };
    case REPORT.supported:
      return { service, report: "supported" };
    case REPORT.snapshot:
      return { service, report: "snapshot", code: r.u24(), record: r.u8() };
    case REPORT.extended:
      return { service, report: "extended", code: r.u24(), record: r.u8() };
    default:
      return REFUSALS.subFunctionNotSupported;
  }
}
