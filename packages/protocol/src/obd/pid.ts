/** A value of services 0x01 and 0x02: how many bytes, and which number they mean. SAE J1979 (ISO 15031-5), annex B. */
export interface Pid {
  readonly pid: number;
  readonly name: string;
  readonly unit: string;
  readonly bytes: number;
  /** Raw whole number to the value in its unit, and back, rounded and held in range. */
  readonly fromRaw: (raw: number) => number;
  readonly toRaw: (value: number) => number;
}

function linear(pid: number, name: string, unit: string, bytes: number, scale: number, offset = 0): Pid {
  const most = 256 ** bytes - 1;
  return {
    pid,
    name,
    unit,
    bytes,
    fromRaw: (raw) => raw * scale + offset,
    // What cannot be told stands at the end of the scale.
    toRaw: (value) => (Number.isNaN(value) ? most : Math.min(most, Math.max(0, Math.round((value - offset) / scale)))),
  };
}

/** Values that this product reads, by number. */
export const PIDS: ReadonlyMap<number, Pid> = new Map(
  [
    linear(0x04, "calculated load", "%", 1, 100 / 255),
    linear(0x05, "coolant temperature", "°C", 1, 1, -40),
    linear(0x06, "short-term fuel trim, bank 1", "%", 1, 100 / 128, -100),
    linear(0x07, "long-term fuel trim, bank 1", "%", 1, 100 / 128, -100),
    linear(0x0b, "intake manifold pressure", "kPa", 1, 1),
    linear(0x0c, "engine speed", "rpm", 2, 0.25),
    linear(0x0d, "vehicle speed", "km/h", 1, 1),
    linear(0x0e, "ignition advance", "°", 1, 0.5, -64),
    linear(0x0f, "intake air temperature", "°C", 1, 1, -40),
    linear(0x10, "air mass flow", "g/s", 2, 0.01),
    linear(0x11, "throttle position", "%", 1, 100 / 255),
    linear(0x1c, "emissions standard", "", 1, 1),
    linear(0x1f, "time since engine start", "s", 2, 1),
    linear(0x21, "distance with the warning lamp on", "km", 2, 1),
    linear(0x2f, "fuel level", "%", 1, 100 / 255),
    linear(0x30, "warm-ups since codes cleared", "", 1, 1),
    linear(0x31, "distance since codes cleared", "km", 2, 1),
    linear(0x33, "air pressure outside", "kPa", 1, 1),
    linear(0x42, "module supply", "V", 2, 0.001),
    linear(0x46, "air temperature outside", "°C", 1, 1, -40),
    linear(0x49, "accelerator position D", "%", 1, 100 / 255),
    linear(0x5c, "engine oil temperature", "°C", 1, 1, -40),
  ].map((p) => [p.pid, p]),
);

/** The four bytes that say which of the 32 numbers after `from` there are; the last says whether there are more beyond. */
export function supportedBytes(from: number, supported: ReadonlySet<number>): Uint8Array {
  const bytes = new Uint8Array(4);
  for (let i = 1; i <= 32; i++) {
    const there = i === 32 ? [...supported].some((p) => p > from + 32) : supported.has(from + i);
    if (there) bytes[(i - 1) >> 3]! |= 0x80 >> ((i - 1) & 7);
  }
  return bytes;
}

/** Numbers named by four bytes as `supportedBytes` makes them; missing bytes name none. */
export function supportedFrom(from: number, bytes: Uint8Array): readonly number[] {
  return Array.from({ length: 32 }, (_, i) => i).flatMap((i) => (((bytes[i >> 3] ?? 0) & (0x80 >> (i & 7))) === 0 ? [] : [from + i + 1]));
}

/** PID 0x01: the warning lamp, the number of codes, and which monitors are there and have run. */
export interface Readiness {
  readonly lamp: boolean;
  readonly codes: number;
  readonly diesel: boolean;
  /** Bits of the continuous monitors (misfire, fuel, components): there, and not yet complete. */
  readonly continuous: { readonly there: number; readonly incomplete: number };
  /** Bits of the others. */
  readonly others: { readonly there: number; readonly incomplete: number };
}

/** Four bytes of PID 0x01. */
export const encodeReadiness = (r: Readiness): Uint8Array =>
  Uint8Array.from([
    (r.lamp ? 0x80 : 0) | Math.min(127, r.codes),
    (r.continuous.there & 7) | (r.diesel ? 0x08 : 0) | ((r.continuous.incomplete & 7) << 4),
    r.others.there & 0xff,
    r.others.incomplete & 0xff,
  ]);

/** Reads PID 0x01. `b` must have four bytes. */
export const decodeReadiness = (b: Uint8Array): Readiness => ({
  lamp: (b[0]! & 0x80) !== 0,
  codes: b[0]! & 0x7f,
  diesel: (b[1]! & 0x08) !== 0,
  continuous: { there: b[1]! & 7, incomplete: (b[1]! >> 4) & 7 },
  others: { there: b[2]!, incomplete: b[3]! },
});
