import { type BusMember, type Harness, lookupOf, settingsAs } from "../harness/index.ts";
import type { Fault } from "./fault.ts";

const known = new WeakMap<Harness, Map<string, Fault>>();

/**
 * A module's drivers held as while it sends, as a change of its settings, for solving beside `faults`: what those have done to its pins stays, with the drivers held on top. The same object
 * each time where they have done nothing. Throws RangeError for what is no module.
 */
export function speaking(harness: Harness, member: BusMember, faults: readonly Fault[] = []): Fault {
  const changes = faults.flatMap((f) => (f.kind === "settings" && f.component === member.id ? [f.settings] : []));
  if (changes.length > 0) return holding(harness, member, changes);
  const byMember = known.get(harness) ?? new Map<string, Fault>();
  known.set(harness, byMember);
  const key = `${member.id} ${member.pins.join()}`;
  const made = byMember.get(key) ?? holding(harness, member, []);
  byMember.set(key, made);
  return made;
}

function holding(harness: Harness, { id, pins }: BusMember, changes: readonly object[]): Fault {
  const settings = settingsAs(lookupOf(harness).parts.get(id), "module");
  if (settings === undefined) throw new RangeError(`${id} is not a module`);
  const now = Object.assign({}, settings, ...changes) as typeof settings;
  const held = Object.fromEntries(pins.map((pin) => [pin, { ...now.pins[pin], holds: true }]));
  return { kind: "settings", component: id, settings: { pins: { ...now.pins, ...held } } };
}
