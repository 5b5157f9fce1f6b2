import { COMMON_IDENTIFIERS, liveValuesOf, toldFrom, toRaw, type LiveValue } from "@rheonom/core/codes";
import { type Harness, lookupOf, moduleGround } from "@rheonom/core/harness";
import { createWriter, fromAscii } from "@rheonom/protocol/bytes";
import { PIDS } from "@rheonom/protocol/obd";
import type { Snapshot, World } from "./world.ts";

/** What the simulated vehicle is called. */
export interface Identity {
  /** 17 characters. */
  readonly vin: string;
}

/** A value as the module sees it, in its unit. */
export const seenBy = (now: Snapshot, v: LiveValue): number => {
  if (v.wants !== undefined) {
    const ground = now.volts(moduleGround(v.module));
    const { key, engine, inputs } = now.state;
    const volts = (pin: string): number => now.volts(`${v.module}.${pin}`) - ground;
    const pulses = (pin: string): boolean => !now.untold.has(`${v.module}.${pin}`);
    return now.awake.has(v.module) && v.wants({ volts, pulses, key, engine, input: inputs?.[v.module] ?? 0 }) ? 100 : 0;
  }
  return toldFrom(v, now.volts);
};

/** Two bytes of a value under its identifier; undefined when the module has nothing there. */
export function valueBytes(harness: Harness, now: Snapshot, module: string, did: number): Uint8Array | undefined {
  const v = liveValuesOf(harness, module).find((x) => x.did === did);
  return v === undefined
    ? undefined
    : createWriter()
        .u16(toRaw(v.unit, seenBy(now, v)))
        .bytes();
}

/** What every module tells of itself. */
export function commonBytes(harness: Harness, who: Identity, module: string, did: number, session: number): Uint8Array | undefined {
  const part = lookupOf(harness).parts.get(module);
  const label = part?.kind === "device" ? (part.label ?? module) : module;
  switch (did) {
    case COMMON_IDENTIFIERS.session:
      return Uint8Array.of(session);
    case COMMON_IDENTIFIERS.serial:
      return fromAscii(`NL-${module}-0001`, 16, 0x20);
    case COMMON_IDENTIFIERS.vin:
      return fromAscii(who.vin, 17, 0x30);
    case COMMON_IDENTIFIERS.software:
      return fromAscii("1.0", 8, 0x20);
    case COMMON_IDENTIFIERS.name:
      return fromAscii(`${module} ${label}`, 32, 0x20);
    default:
      return undefined;
  }
}

/** What a module freezes with a code: every value that it tells, as it is sent. */
export function freezeOf(harness: Harness, module: string, now: Snapshot): ReadonlyMap<number, number> {
  return new Map(liveValuesOf(harness, module).map((v) => [v.did, toRaw(v.unit, seenBy(now, v))]));
}

const IDLE_RPM = 780;
const SPEED_RPM = 2200;
const STANDARD_EOBD = 6;

/** Values of service 0x01 in their units, by number: only those that this vehicle has a sensor for. */
export function pidValues(world: World, module: string, sinceStartS: number): ReadonlyMap<number, number> {
  const now = world.now();
  const live = liveValuesOf(world.harness, module);
  const sensed = (unit: LiveValue["unit"], words: RegExp): number | undefined => {
    const v = live.find((x) => x.unit === unit && words.test(x.name));
    return v === undefined ? undefined : seenBy(now, v);
  };
  const { engine } = world.state();
  const rpm = engine === "idling" ? IDLE_RPM : engine === "at speed" ? SPEED_RPM : engine === "cranking" ? now.starterRpm : 0;
  const found: (readonly [number, number | undefined])[] = [
    [0x05, sensed("°C", /coolant/)],
    [0x0c, rpm],
    [0x0d, 0],
    [0x0f, sensed("°C", /intake|air temp/)],
    [0x11, sensed("%", /throttle/)],
    [0x1c, STANDARD_EOBD],
    [0x1f, now.engineRuns ? sinceStartS : 0],
    [0x42, live[0] === undefined ? undefined : seenBy(now, live[0])],
    [0x46, world.state().temperatureC],
    [0x49, sensed("%", /pedal/)],
    [0x5c, sensed("°C", /oil/)],
  ];
  return new Map(found.flatMap(([pid, v]) => (v === undefined || !PIDS.has(pid) ? [] : [[pid, v] as const])));
}
