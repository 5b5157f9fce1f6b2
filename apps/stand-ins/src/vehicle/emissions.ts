import { LIVE_IDENTIFIERS, STATUS_BITS } from "@rheonom/core/codes";
import { createWriter, fromAscii } from "@rheonom/protocol/bytes";
import {
  decodeObd,
  encodeObdResponse,
  encodeReadiness,
  PIDS,
  supportedBytes,
  type ObdRequest,
  type ObdResponse,
} from "@rheonom/protocol/obd";
import type { Memory, Remembered } from "./memory.ts";
import { pidValues, type Identity } from "./values.ts";
import type { World } from "./world.ts";

const { confirmed: CONFIRMED, pending: PENDING, warningLamp: LAMP } = STATUS_BITS;
const NOT_TESTED = STATUS_BITS.notTestedSinceClear | STATUS_BITS.notTestedThisCycle;
/** Continuous monitors: misfire, fuel system, components. */
const CONTINUOUS = 0b111;
/** Monitors beside the continuous ones (SAE J1979): catalyst, evaporative system, oxygen sensor and its heater; NMHC catalyst, boost, exhaust sensor, filter, EGR. */
const SPARK_MONITORS = 0b0110_0101;
const DIESEL_MONITORS = 0b1110_1001;
/** What identifies the vehicle under service 0x09: VIN, and the name of the module. */
const VIN = 0x02;
const NAME = 0x0a;

/** The emissions services of one module. Undefined: it does not answer, as these services want it for what is not supported. */
export function askEmissions(
  bytes: Uint8Array,
  module: string,
  world: World,
  memory: Memory,
  who: Identity,
  sinceStartS: number,
): Uint8Array | undefined {
  const read = decodeObd(bytes);
  const response = read.kind === "bad" ? undefined : answer(read.request);
  return response === undefined ? undefined : encodeObdResponse(response);

  function answer(r: ObdRequest): ObdResponse | undefined {
    switch (r.service) {
      case "live": {
        const values = r.pids.flatMap((pid) => {
          const data = pidBytes(pid);
          return data === undefined ? [] : [{ pid, data }];
        });
        return values.length === 0 ? undefined : { service: "live", values };
      }
      case "freeze frame":
        return frozen(r.pid, r.frame);
      case "stored":
        return { service: "stored", codes: codesWith((c) => (c.status & CONFIRMED) !== 0) };
      case "pending":
        return { service: "pending", codes: codesWith((c) => (c.status & PENDING) !== 0) };
      case "permanent":
        return { service: "permanent", codes: codesWith((c) => c.permanent) };
      case "clear":
        memory.clear(module, 0xffffff);
        return { service: "clear" };
      case "vehicle":
        return vehicle(r.what);
    }
  }

  function codesWith(is: (c: Remembered) => boolean): readonly number[] {
    return powertrain().flatMap((c) => (is(c) ? [c.code >> 8] : []));
  }
  function powertrain(): readonly Remembered[] {
    return memory.codesOf(module).filter((c) => c.monitor.code.startsWith("P"));
  }

  function pidBytes(pid: number): Uint8Array | undefined {
    const values = pidValues(world, module, sinceStartS);
    if (pid % 0x20 === 0) return supportedBytes(pid, new Set([0x01, ...values.keys()]));
    if (pid === 0x01) return readiness();
    const [known, value] = [PIDS.get(pid), values.get(pid)];
    return known === undefined || value === undefined ? undefined : numberBytes(known.bytes, known.toRaw(value));
  }

  function readiness(): Uint8Array {
    const codes = powertrain();
    const isDiesel = world.harness.components.some((c) => c.kind === "device" && c.device === "glowplug");
    // Cleared and not driven yet: none has run.
    const isFresh = codes.some((c) => (c.status & NOT_TESTED) !== 0);
    const others = isDiesel ? DIESEL_MONITORS : SPARK_MONITORS;
    return encodeReadiness({
      lamp: codes.some((c) => (c.status & LAMP) !== 0),
      codes: codesWith((c) => (c.status & CONFIRMED) !== 0).length,
      diesel: isDiesel,
      continuous: { there: CONTINUOUS, incomplete: isFresh ? CONTINUOUS & ~1 : 0 },
      others: { there: others, incomplete: isFresh ? others : 0 },
    });
  }

  /** What stood when the first confirmed code was set. Only frame 0. */
  function frozen(pid: number, frame: number): ObdResponse | undefined {
    const code = powertrain().find((c) => (c.status & CONFIRMED) !== 0 && c.snapshot !== undefined);
    if (frame !== 0 || code === undefined) return undefined;
    const stored = new Map<number, Uint8Array>([
      [
        0x02,
        createWriter()
          .u16(code.code >> 8)
          .bytes(),
      ],
    ]);
    const millivolts = code.snapshot!.get(LIVE_IDENTIFIERS.supply);
    if (millivolts !== undefined) stored.set(0x42, numberBytes(2, millivolts));
    const data =
      pid === 0 ? supportedBytes(0, new Set(stored.keys())) : pid === 0x40 ? supportedBytes(0x40, new Set(stored.keys())) : stored.get(pid);
    return data === undefined ? undefined : { service: "freeze frame", frame, values: [{ pid, data }] };
  }

  function vehicle(what: number): ObdResponse | undefined {
    switch (what) {
      case 0x00:
        return { service: "vehicle", what, data: supportedBytes(0, new Set([VIN, NAME])) };
      case VIN:
        return { service: "vehicle", what, data: Uint8Array.of(1, ...fromAscii(who.vin, 17, 0x30)) };
      case NAME:
        return { service: "vehicle", what, data: Uint8Array.of(1, ...fromAscii(`${module}-Engine`, 20)) };
      default:
        return undefined;
    }
  }
}

const numberBytes = (bytes: number, n: number): Uint8Array => (bytes === 1 ? createWriter().u8(n) : createWriter().u16(n)).bytes();
