import { deviceNode, deviceOf, linMasterAt, lookupOf, pinPlace, type BusMember, type Harness } from "../harness/index.ts";
import type { Fault } from "./fault.ts";
import { settingsOf, surroundingsOf } from "./sound.ts";
import type { VehicleState } from "./state.ts";

/** A pin at which a part waits for pulses or messages in a state. */
export interface CommandPin {
  readonly part: string;
  readonly pin: string;
  /** Nodes by name between which the pulses stand. */
  readonly at: string;
  readonly against: string;
  readonly risesAbove: number;
  readonly fallsBelow: number;
  /** Whose messages they are: the levels count while it holds the line and while nobody does. */
  readonly speaker?: BusMember;
}

/** Every pin of a vehicle at which pulses or messages are waited for in a state. A line without a master says nothing of who tells the part. */
export const commandPinsOf = (harness: Harness, state: VehicleState): readonly CommandPin[] =>
  harness.components.flatMap((part) => {
    if (part.kind !== "device" || state.opened.includes(part.id)) return [];
    const { device, settings } = deviceOf(part);
    return (device.commands?.(settings, surroundingsOf(harness, state, part.id, {})) ?? []).flatMap((c): CommandPin[] => {
      const speaker = c.byMessage === true ? linMasterAt(harness, pinPlace(part.id, c.pin)) : undefined;
      if (c.byMessage === true && speaker === undefined) return [];
      return [
        {
          part: part.id,
          pin: c.pin,
          at: deviceNode(part.id, c.pin),
          against: deviceNode(part.id, c.against),
          risesAbove: c.risesAbove,
          fallsBelow: c.fallsBelow,
          ...(speaker === undefined ? {} : { speaker }),
        },
      ];
    });
  });

/** The lowest and the highest level at a pin over a period, V. */
export type Levels = readonly [low: number, high: number];

/** Whether pulses stand at a pin that goes between these levels. */
export const isTold = ({ risesAbove, fallsBelow }: CommandPin, [low, high]: Levels): boolean => high > risesAbove && low < fallsBelow;

/** What parts do that are told nothing at these pins, as changes of their settings beside `faults`: those stay as they are. */
export function untoldParts(harness: Harness, pins: readonly CommandPin[], faults: readonly Fault[]): readonly Fault[] {
  return [...new Set(pins.map((p) => p.part))].map((id): Fault => {
    const part = lookupOf(harness).parts.get(id);
    if (part?.kind !== "device") throw new RangeError(`${id} is not a device`);
    const changed = Object.assign({}, ...faults.map((f) => (f.kind === "settings" && f.component === id ? f.settings : {}))) as object;
    const now = settingsOf(part, new Map([[id, changed as Readonly<Record<string, unknown>>]]));
    const untold = deviceOf(part).device.untold!(
      now,
      pins.flatMap((p) => (p.part === id ? [p.pin] : [])),
    );
    return { kind: "settings", component: id, settings: { ...untold } };
  });
}
