import { actuatorsOf } from "@rheonom/core/codes";
import { createWriter } from "@rheonom/protocol/bytes";
import {
  ALL_CODES,
  CONTROL,
  decodeUds,
  encodeResponse,
  QUIET_WHEN_FUNCTIONAL,
  REFUSALS,
  SERVICE,
  SESSIONS,
  type UdsRequest,
  type UdsResponse,
} from "@rheonom/protocol/uds";
import { AVAILABLE, type Memory, type Remembered } from "./memory.ts";
import { commonBytes, valueBytes, type Identity } from "./values.ts";
import type { World } from "./world.ts";

/** An answer, and how long after the request it comes, ms. */
export interface Timed {
  readonly afterMs: number;
  readonly bytes: Uint8Array;
}

/** A module that is asked by a tester. Whether it can answer at all is for its caller to know. */
export interface Module {
  readonly id: string;
  /** `nowMs`: any clock that only goes forward. */
  readonly ask: (bytes: Uint8Array, isFunctional: boolean, nowMs: number) => readonly Timed[];
  /** Ends a session that nobody has kept up. */
  readonly tick: (nowMs: number) => void;
}

/** Without a word from the tester a session ends after this, ms (S3 of ISO 14229-2). */
const SESSION_MS = 5000;
const P2_MS = 50;
const P2_STAR_MS = 5000;
/** How long clearing takes, ms; longer than P2, so that the module asks for patience first. */
const CLEARING_MS = 120;
/** ISO 14229-1 format of codes: SAE J2012-DA. */
const CODE_FORMAT = 0x04;
const SNAPSHOT_RECORD = 0x01;
const OCCURRENCES = 0x01;
const AGEING = 0x02;
const ANY_RECORD = 0xff;

export function createModule(
  id: string,
  world: World,
  memory: Memory,
  who: Identity,
  work: (pin: string, on: boolean | undefined) => void,
): Module {
  let session: number = SESSIONS.default;
  let heardMs = 0;
  const worked = new Set<string>();

  const leave = (): void => {
    session = SESSIONS.default;
    for (const pin of worked) work(pin, undefined);
    worked.clear();
    memory.setUpdating(id, true);
  };
  const tick = (nowMs: number): void => {
    if (session !== SESSIONS.default && nowMs - heardMs > SESSION_MS) leave();
  };

  function answer(r: UdsRequest): UdsResponse | number {
    switch (r.service) {
      case "session":
        if (r.session === SESSIONS.programming) return REFUSALS.conditionsNotCorrect;
        leave();
        session = r.session;
        return { service: "session", session, p2Ms: P2_MS, p2StarMs: P2_STAR_MS };
      case "present":
        return { service: "present" };
      case "clear": {
        const known = memory.codesOf(id).some((c) => c.code === r.group);
        if (r.group !== ALL_CODES && !known) return REFUSALS.outOfRange;
        memory.clear(id, r.group);
        return { service: "clear" };
      }
      case "codes":
        return report(r);
      case "read": {
        const values = r.ids.flatMap((did) => {
          const data = commonBytes(world.harness, who, id, did, session) ?? valueBytes(world.harness, world.now(), id, did);
          return data === undefined ? [] : [{ id: did, data }];
        });
        return values.length === 0 ? REFUSALS.outOfRange : { service: "read", values };
      }
      case "actuate":
        return actuate(r);
      case "codeSetting":
        if (session === SESSIONS.default) return REFUSALS.serviceNotInSession;
        memory.setUpdating(id, r.on);
        return { service: "codeSetting", on: r.on };
    }
  }

  function report(r: Extract<UdsRequest, { service: "codes" }>): UdsResponse | number {
    const codes = memory.codesOf(id);
    switch (r.report) {
      case "count by mask":
        return {
          service: "count by mask",
          availability: AVAILABLE,
          format: CODE_FORMAT,
          count: codes.filter((c) => (c.status & r.mask) !== 0).length,
        };
      case "by mask":
        return { service: "codes", report: "by mask", availability: AVAILABLE, codes: codes.filter((c) => (c.status & r.mask) !== 0) };
      case "supported":
        return { service: "codes", report: "supported", availability: AVAILABLE, codes };
      case "snapshot ids":
        return {
          service: "snapshot ids",
          ids: codes.flatMap((c) => (c.snapshot === undefined ? [] : [{ code: c.code, record: SNAPSHOT_RECORD }])),
        };
      case "snapshot": {
        const code = codes.find((c) => c.code === r.code);
        if (code === undefined || (r.record !== ANY_RECORD && r.record !== SNAPSHOT_RECORD)) return REFUSALS.outOfRange;
        const data = [...(code.snapshot ?? [])].map(([did, raw]) => ({ id: did, data: createWriter().u16(raw).bytes() }));
        return {
          service: "snapshot",
          code: code.code,
          status: code.status,
          records: code.snapshot === undefined ? [] : [{ record: SNAPSHOT_RECORD, data }],
        };
      }
      case "extended": {
        const code = codes.find((c) => c.code === r.code);
        const records = code === undefined ? [] : extendedOf(code).filter((e) => r.record === ANY_RECORD || r.record === e.record);
        if (code === undefined || records.length === 0) return REFUSALS.outOfRange;
        return { service: "extended", code: code.code, status: code.status, records };
      }
    }
  }

  /** Works an output. Only what harms nobody, only in the extended session, only while the engine stands. */
  function actuate(r: Extract<UdsRequest, { service: "actuate" }>): UdsResponse | number {
    if (session !== SESSIONS.extended) return REFUSALS.serviceNotInSession;
    const found = actuatorsOf(world.harness, id).find((a) => a.did === r.id);
    if (found === undefined) return REFUSALS.outOfRange;
    if (r.control === CONTROL.giveBack) {
      if (r.state.length !== 0) return REFUSALS.wrongLength;
      worked.delete(found.pin);
      work(found.pin, undefined);
      return { service: "actuate", id: r.id, control: r.control, state: new Uint8Array(0) };
    }
    if (r.control !== CONTROL.adjust) return REFUSALS.outOfRange;
    if (r.state.length !== 1) return REFUSALS.wrongLength;
    if (r.state[0]! > 1) return REFUSALS.outOfRange;
    if (world.state().engine !== "stopped") return REFUSALS.conditionsNotCorrect;
    worked.add(found.pin);
    work(found.pin, r.state[0] === 1);
    return { service: "actuate", id: r.id, control: r.control, state: r.state };
  }

  return {
    id,
    tick,
    ask: (bytes, isFunctional, nowMs) => {
      tick(nowMs);
      heardMs = nowMs;
      const read = decodeUds(bytes);
      const refuse = (service: number, refusal: number): readonly Timed[] =>
        isFunctional && QUIET_WHEN_FUNCTIONAL.includes(refusal)
          ? []
          : [{ afterMs: 0, bytes: encodeResponse({ service: "refused", of: service, refusal }) }];
      if (read.kind === "bad") return refuse(read.service, read.refusal);
      const { request } = read;
      const response = answer(request);
      if (typeof response === "number") return refuse(SERVICE[request.service], response);
      if ("quiet" in request && request.quiet === true) return [];
      const done = encodeResponse(response);
      if (request.service !== "clear") return [{ afterMs: 0, bytes: done }];
      return [
        { afterMs: 0, bytes: encodeResponse({ service: "refused", of: SERVICE.clear, refusal: REFUSALS.pending }) },
        { afterMs: CLEARING_MS, bytes: done },
      ];
    },
  };
}

const extendedOf = (c: Remembered): readonly { readonly record: number; readonly data: Uint8Array }[] => [
  { record: OCCURRENCES, data: Uint8Array.of(c.occurrences) },
  { record: AGEING, data: Uint8Array.of(Math.min(255, c.healthy)) },
];
