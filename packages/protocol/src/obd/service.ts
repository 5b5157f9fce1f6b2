import { createReader, createWriter } from "../bytes/index.ts";
import { PIDS } from "./pid.ts";

/** Emissions services of SAE J1979 (ISO 15031-5) with their framing on CAN and beyond: codes are counted, two bytes each. */
export type ObdRequest =
  | { readonly service: "live"; readonly pids: readonly number[] }
  | { readonly service: "freeze frame"; readonly pid: number; readonly frame: number }
  | { readonly service: "stored" | "pending" | "permanent" | "clear" }
  | { readonly service: "vehicle"; readonly what: number };

export type ObdResponse =
  | { readonly service: "live"; readonly values: readonly PidBytes[] }
  | { readonly service: "freeze frame"; readonly frame: number; readonly values: readonly PidBytes[] }
  | { readonly service: "stored" | "pending" | "permanent"; readonly codes: readonly number[] }
  | { readonly service: "clear" }
  | { readonly service: "vehicle"; readonly what: number; readonly data: Uint8Array };

interface PidBytes {
  readonly pid: number;
  readonly data: Uint8Array;
}

const NUMBER = { live: 0x01, "freeze frame": 0x02, stored: 0x03, clear: 0x04, pending: 0x07, vehicle: 0x09, permanent: 0x0a } as const;
const BY_NUMBER = new Map<number, ObdRequest["service"]>(Object.entries(NUMBER).map(([name, n]) => [n, name as ObdRequest["service"]]));
const POSITIVE = 0x40;
/** Values in one request of service 0x01. */
const MOST_PIDS = 6;

/** Whether a request is one of the emissions services, whatever follows. */
export const isObd = (bytes: Uint8Array): boolean => BY_NUMBER.has(bytes[0] ?? 0);

/** Bytes of a value: what is supported, readiness and the code that froze the frame beside the table. */
const bytesOf = (pid: number): number | undefined => (pid % 0x20 === 0 || pid === 0x01 ? 4 : pid === 0x02 ? 2 : PIDS.get(pid)?.bytes);

/** Bytes of a request, without the framing of the line. */
export function encodeObd(r: ObdRequest): Uint8Array {
  const w = createWriter().u8(NUMBER[r.service]);
  switch (r.service) {
    case "live":
      for (const p of r.pids) w.u8(p);
      return w.bytes();
    case "freeze frame":
      return w.u8(r.pid).u8(r.frame).bytes();
    case "vehicle":
      return w.u8(r.what).bytes();
    case "stored":
    case "pending":
    case "permanent":
    case "clear":
      return w.bytes();
  }
}

/** A request that has the wrong length is not answered, as these services want it. */
export type ReadObdRequest = { readonly kind: "request"; readonly request: ObdRequest } | { readonly kind: "bad" };

/** Reads a request; "bad" when the service is unknown or the length is wrong. */
export function decodeObd(bytes: Uint8Array): ReadObdRequest {
  const r = createReader(bytes);
  const service = BY_NUMBER.get(r.u8());
  const request = ((): ObdRequest | undefined => {
    switch (service) {
      case undefined:
        return undefined;
      case "live": {
        const pids = [...r.take(Math.min(r.left(), MOST_PIDS))];
        return pids.length === 0 ? undefined : { service, pids };
      }
      case "freeze frame":
        return { service, pid: r.u8(), frame: r.u8() };
      case "vehicle":
        return { service, what: r.u8() };
      case "stored":
      case "pending":
      case "permanent":
      case "clear":
        return { service };
    }
  })();
  return request === undefined || !r.ok() || r.left() > 0 ? { kind: "bad" } : { kind: "request", request };
}

/** Bytes of a positive response, without the framing of the line. */
export function encodeObdResponse(r: ObdResponse): Uint8Array {
  const w = createWriter().u8(NUMBER[r.service] + POSITIVE);
  switch (r.service) {
    case "live":
      for (const v of r.values) w.u8(v.pid).raw(v.data);
      return w.bytes();
    case "freeze frame":
      for (const v of r.values) w.u8(v.pid).u8(r.frame).raw(v.data);
      return w.bytes();
    case "stored":
    case "pending":
    case "permanent":
      w.u8(r.codes.length);
      for (const c of r.codes) w.u16(c);
      return w.bytes();
    case "clear":
      return w.bytes();
    case "vehicle":
      return w.u8(r.what).raw(r.data).bytes();
  }
}

export type ReadObdResponse =
  { readonly kind: "response"; readonly response: ObdResponse } | { readonly kind: "bad"; readonly why: string };

/** Reads a positive response; "bad" with the reason when it cannot be. A value of unknown length takes the rest. */
export function decodeObdResponse(bytes: Uint8Array): ReadObdResponse {
  const r = createReader(bytes);
  const bad = (why: string): ReadObdResponse => ({ kind: "bad", why });
  const first = r.u8();
  const service = BY_NUMBER.get(first - POSITIVE);
  if (service === undefined) return bad(`0x${first.toString(16).padStart(2, "0")} answers nothing that was asked`);
  const values: PidBytes[] = [];
  const readValues = (withFrame: boolean): number => {
    let frame = 0;
    while (r.left() > 0 && r.ok()) {
      const pid = r.u8();
      if (withFrame) frame = r.u8();
      // What nobody knows takes the rest.
      values.push({ pid, data: r.take(bytesOf(pid) ?? r.left()) });
    }
    return frame;
  };
  const whole = (response: ObdResponse): ReadObdResponse =>
    !r.ok()
      ? bad(`the answer ends early, after ${bytes.length} bytes`)
      : r.left() > 0
        ? bad(`${r.left()} bytes too many`)
        : { kind: "response", response };
  switch (service) {
    case "live":
      readValues(false);
      return whole({ service, values });
    case "freeze frame":
      return whole({ service, frame: readValues(true), values });
    case "stored":
    case "pending":
    case "permanent": {
      const count = r.u8();
      const codes: number[] = [];
      for (let i = 0; i < count && r.ok(); i++) codes.push(r.u16());
      return whole({ service, codes });
    }
    case "clear":
      return whole({ service });
    case "vehicle":
      return whole({ service, what: r.u8(), data: r.rest() });
  }
}
