import { createReader, createWriter } from "../bytes/index.ts";
import { REPORT, SERVICE } from "./request.ts";
import { REFUSALS } from "./refusal.ts";

/** A code of three bytes with its status byte. */
export interface CodeRecord {
  readonly code: number;
  readonly status: number;
}

/** One value under its identifier, as bytes. */
export interface DataRecord {
  readonly id: number;
  readonly data: Uint8Array;
}

export interface SnapshotRecord {
  readonly record: number;
  readonly data: readonly DataRecord[];
}

export type UdsResponse =
  | { readonly service: "refused"; readonly of: number; readonly refusal: number }
  /** Times in which the module answers: ms, and 10 ms steps for after "received". */
  | { readonly service: "session"; readonly session: number; readonly p2Ms: number; readonly p2StarMs: number }
  | { readonly service: "present" }
  | { readonly service: "clear" }
  | { readonly service: "count by mask"; readonly availability: number; readonly format: number; readonly count: number }
  | {
      readonly service: "codes";
      readonly report: "by mask" | "supported";
      readonly availability: number;
      readonly codes: readonly CodeRecord[];
    }
  | { readonly service: "snapshot ids"; readonly ids: readonly { readonly code: number; readonly record: number }[] }
  | { readonly service: "snapshot"; readonly code: number; readonly status: number; readonly records: readonly SnapshotRecord[] }
  | {
      readonly service: "extended";
      readonly code: number;
      readonly status: number;
      readonly records: readonly { readonly record: number; readonly data: Uint8Array }[];
    }
  | { readonly service: "read"; readonly values: readonly DataRecord[] }
  | { readonly service: "actuate"; readonly id: number; readonly control: number; readonly state: Uint8Array }
  | { readonly service: "codeSetting"; readonly on: boolean };

const POSITIVE = 0x40;
export const NEGATIVE = 0x7f;

/** Bytes of a response of ISO 14229-1, negative ones too. */
export function encodeResponse(r: UdsResponse): Uint8Array {
  const w = createWriter();
  const to = (service: keyof typeof SERVICE) => w.u8(SERVICE[service] + POSITIVE);
  switch (r.service) {
    case "refused":
      return w.u8(NEGATIVE).u8(r.of).u8(r.refusal).bytes();
    case "session":
      return to("session")
        .u8(r.session)
        .u16(r.p2Ms)
        .u16(Math.round(r.p2StarMs / 10))
        .bytes();
    case "present":
      return to("present").u8(0).bytes();
    case "clear":
      return to("clear").bytes();
    case "count by mask":
      return to("codes").u8(REPORT.countByMask).u8(r.availability).u8(r.format).u16(r.count).bytes();
    case "codes":
      to("codes")
        .u8(r.report === "by mask" ? REPORT.byMask : REPORT.supported)
        .u8(r.availability);
      for (const c of r.codes) w.u24(c.code).u8(c.status);
      return w.bytes();
    case "snapshot ids":
      to("codes").u8(REPORT.snapshotIds);
      for (const s of r.ids) w.u24(s.code).u8(s.record);
      return w.bytes();
    case "snapshot":
      to("codes").u8(REPORT.snapshot).u24(r.code).u8(r.status);
      for (const s of r.records) {
        w.u8(s.record).u8(s.data.length);
        for (const d of s.data) w.u16(d.id).raw(d.data);
      }
      return w.bytes();
    case "extended":
      to("codes").u8(REPORT.extended).u24(r.code).u8(r.status);
      for (const s of r.records) w.u8(s.record).raw(s.data);
      return w.bytes();
    case "read":
      to("read");
      for (const d of r.values) w.u16(d.id).raw(d.data);
      return w.bytes();
    case "actuate":
      return to("actuate").u16(r.id).u8(r.control).raw(r.state).bytes();
    case "codeSetting":
      return to("codeSetting")
        .u8(r.on ? 1 : 2)
        .bytes();
  }
}

export type ReadResponse = { readonly kind: "response"; readonly response: UdsResponse } | { readonly kind: "bad"; readonly why: string };

/** Bytes under an identifier; undefined when nobody knows, and then all that is left belongs to it. */
export type LengthOf = (id: number) => number | undefined;

/** Reads what a module answered. Identifiers do not tell their length: `lengthOf` does. `extendedBytes`: length of an extended record. */
export function decodeResponse(bytes: Uint8Array, lengthOf: LengthOf = () => undefined, extendedBytes = 1): ReadResponse {
  const r = createReader(bytes);
  const bad = (why: string): ReadResponse => ({ kind: "bad", why });
  const first = r.u8();
  if (!r.ok()) return bad("an empty answer");
  const whole = (response: UdsResponse): ReadResponse =>
    !r.ok()
      ? bad(`the answer ends early, after ${bytes.length} bytes`)
      : r.left() > 0
        ? bad(`${r.left()} bytes too many`)
        : { kind: "response", response };
  const valueOf = (id: number): DataRecord => ({ id, data: r.take(Math.min(lengthOf(id) ?? r.left(), r.left() + 1)) });
  switch (first) {
    case NEGATIVE:
      return whole({ service: "refused", of: r.u8(), refusal: r.u8() });
    case SERVICE.session + POSITIVE:
      return whole({ service: "session", session: r.u8(), p2Ms: r.u16(), p2StarMs: r.u16() * 10 });
    case SERVICE.present + POSITIVE:
      return r.u8() === 0 ? whole({ service: "present" }) : bad("another sub-function came back");
    case SERVICE.clear + POSITIVE:
      return whole({ service: "clear" });
    case SERVICE.codeSetting + POSITIVE:
      return whole({ service: "codeSetting", on: r.u8() === 1 });
    case SERVICE.actuate + POSITIVE:
      return whole({ service: "actuate", id: r.u16(), control: r.u8(), state: r.rest() });
    case SERVICE.read + POSITIVE: {
      const values: DataRecord[] = [];
      while (r.left() > 0 && r.ok()) values.push(valueOf(r.u16()));
      return whole({ service: "read", values });
    }
    case SERVICE.codes + POSITIVE:
      break;
    default:
      return bad(`0x${first.toString(16).padStart(2, "0")} answers nothing that was asked`);
  }
  const report = r.u8();
  if (!r.ok()) return bad(`the answer ends early, after ${bytes.length} bytes`);
  switch (report) {
    case REPORT.countByMask:
      return whole({ service: "count by mask", availability: r.u8(), format: r.u8(), count: r.u16() });
    case REPORT.byMask:
    case REPORT.supported: {
      const availability = r.u8();
      const codes: CodeRecord[] = [];
      while (r.left() > 0 && r.ok()) codes.push({ code: r.u24(), status: r.u8() });
      return whole({ service: "codes", report: report === REPORT.byMask ? "by mask" : "supported", availability, codes });
    }
    case REPORT.snapshotIds: {
      const ids: { code: number; record: number }[] = [];
      while (r.left() > 0 && r.ok()) ids.push({ code: r.u24(), record: r.u8() });
      return whole({ service: "snapshot ids", ids });
    }
    case REPORT.snapshot: {
      const [code, status] = [r.u24(), r.u8()];
      const records: SnapshotRecord[] = [];
      while (r.left() > 0 && r.ok()) {
        const [record, count] = [r.u8(), r.u8()];
        const data: DataRecord[] = [];
        for (let i = 0; i < count && r.ok(); i++) data.push(valueOf(r.u16()));
        records.push({ record, data });
      }
      return whole({ service: "snapshot", code, status, records });
    }
    case REPORT.extended: {
      const [code, status] = [r.u24(), r.u8()];
      const records: { record: number; data: Uint8Array }[] = [];
      while (r.left() > 0 && r.ok()) records.push({ record: r.u8(), data: r.take(extendedBytes) });
      return whole({ service: "extended", code, status, records });
    }
    default:
      return bad(`report 0x${report.toString(16)} was not asked for`);
  }
}

/** Whether a response says that the real one will come later. */
export const isPending = (r: UdsResponse): boolean => r.service === "refused" && r.refusal === REFUSALS.pending;
