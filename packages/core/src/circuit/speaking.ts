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

const holding = (harness: Harness, { id, pins }: BusMember, changes: readonly object[]): Fault =>
  withPins(harness, id, changes, new Map(pins.map((pin) => [pin, { holds: true }])));

/**
 * A module's transceivers beginning and ending to hold their lines at times of a trace, s, by turns; as a change of its settings, for solving beside `faults`. Throws RangeError for what
 * is no module.
 */
export const talking = (harness: Harness, id: string, turns: ReadonlyMap<string, readonly number[]>, faults: readonly Fault[]): Fault =>
  withPins(
    harness,
    id,
    faults.flatMap((f) => (f.kind === "settings" && f.component === id ? [f.settings] : [])),
    new Map([...turns].map(([pin, talk]) => [pin, { talk }])),
  );

/** A module's settings with what `changes` have done to them, and some of its pins changed on top. */
function withPins(harness: Harness, id: string, changes: readonly object[], pins: ReadonlyMap<string, object>): Fault {
  const settings = settingsAs(lookupOf(harness).parts.get(id), "module");
  if (settings === undefined) throw new RangeError(`${id} is not a module`);
  const now = Object.assign({}, settings, ...changes) as typeof settings;
  const held = Object.fromEntries([...pins].map(([pin, change]) => [pin, { ...now.pins[pin], ...change }]));
  return { kind: "settings", component: id, settings: { pins: { ...now.pins, ...held } } };
}
