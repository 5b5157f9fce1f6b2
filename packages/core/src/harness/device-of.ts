import { readDevice, type DeviceKind } from "../devices/index.ts";
import type { Device } from "./schema.ts";

/** A device of a harness with its kind and all its settings. */
export interface KnownDevice {
  readonly device: DeviceKind<object>;
  readonly settings: object;
}

const known = new WeakMap<Device, KnownDevice>();

/** Throws RangeError for a device that the harness schema would refuse. */
export function deviceOf(part: Device): KnownDevice {
  const found = known.get(part);
  if (found !== undefined) return found;
  const read = readDevice(part.device, part.settings);
  if (read.kind === "unknown device") throw new RangeError(`${part.id}: no device is called "${part.device}"`);
  if (read.kind === "bad settings") throw new RangeError(`${part.id}: ${read.problems.map((p) => `${p.at} ${p.message}`).join("; ")}`);
  known.set(part, read);
  return read;
}
