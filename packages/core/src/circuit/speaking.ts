import { type BusMember, type Harness, lookupOf, settingsAs } from "../harness/index.ts";
import type { Fault } from "./fault.ts";

/**
 * A module's drivers held as while it sends, as a change of its settings, for solving beside `faults`: what those have done to its pins stays, with the drivers held on top. Throws
 * RangeError for what is no module.
 */
export function speaking(harness: Harness, { id, pins }: BusMember, faults: readonly Fault[] = []): Fault {
  const settings = settingsAs(lookupOf(harness).parts.get(id), "module");
  if (settings === undefined) throw new RangeError(`${id} is not a module`);
  const changes = faults.map((f) => (f.kind === "settings" && f.component === id ? f.settings : {}));
  const now = Object.assign({}, settings, ...changes) as typeof settings;
  const held = Object.fromEntries(pins.map((pin) => [pin, { ...now.pins[pin], holds: true }]));
  return { kind: "settings", component: id, settings: { pins: { ...now.pins, ...held } } };
}
