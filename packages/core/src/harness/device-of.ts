import { readDevice, type DeviceKind, type SettingsByKind } from "../devices/index.ts";
import type { Component, Device } from "./schema.ts";

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

/** The settings of a part, all defaults filled in, if it is a device of this kind; undefined for everything else. */
export function settingsAs<K extends keyof SettingsByKind>(part: Component | undefined, kind: K): SettingsByKind[K] | undefined {
  if (part?.kind !== "device" || part.device !== kind) return undefined;
  // The kind's own schema has read them.
  return deviceOf(part).settings as SettingsByKind[K];
}
