import { deviceOf, lookupOf, netAt, partNameIn, pinNameIn, placesOfComponent, settingsAs, type Harness } from "../harness/index.ts";
import type { Fault } from "./fault.ts";
import type { VehicleState } from "./state.ts";
import { surroundingsOf, type Circuit } from "./sound.ts";

/** A stretch of the common period of all pulsed outputs and buses in which nothing changes. */
export interface Phase {
  /** Its middle, 0…1. */
  readonly at: number;
  /** Its share of the period; all together 1. */
  readonly share: number;
  /**
   * Whether fuses bear whatever flows: heat gathers over many periods, and outputs that fire in turn are taken to fire together. The longest phase decides, and what
   * has blown there is open in the others.
   */
  readonly fusesHold: boolean;
}

/**
 * The phases of a circuit that pulses, the longest first: what a slow instrument shows is their mean, weighted by share. All pulses are taken to begin together, which for the mean of
 * independent ones is only right where they do not meet in one current. One phase where nothing pulses.
 */
export function phasesOf(harness: Harness, state: VehicleState): readonly Phase[] {
  const ends = new Set<number>();
  for (const part of harness.components) {
    if (part.kind !== "device") continue;
    const { device, settings } = deviceOf(part);
    for (const share of device.pulses?.(settings, surroundingsOf(harness, state, part.id, {})) ?? [])
      if (share > 0 && share < 1) ends.add(share);
  }
  const corners = [0, ...[...ends].sort((a, b) => a - b), 1];
  return corners
    .slice(1)
    .map((end, i) => ({ at: (corners[i]! + end) / 2, share: end - corners[i]! }))
    .sort((p, q) => q.share - p.share)
    .map((p, i) => ({ ...p, fusesHold: i > 0 }));
}

/** Fuses, those of leads among them, that have opened in a solved circuit, as faults for its other phases. `closed`: by element. One with a bad holder is no switch and does not blow. */
export function blownFuses(harness: Harness, { netlist: { elements }, elementOf }: Circuit, closed: ArrayLike<number>): readonly Fault[] {
  return openingLinks(harness, elementOf).flatMap((link): Fault[] => {
    const index = elementOf.get(link)!;
    return elements[index]!.kind === "switch" && closed[index] === 0 ? [{ kind: "open", link }] : [];
  });
}

const opening = new WeakMap<ReadonlyMap<string, number>, readonly string[]>();

/** Names of everything in a circuit that may blow: its fuses and the leads put on it. A circuit is asked over and over, so that it is gathered once. */
export function openingLinks(harness: Harness, elementOf: ReadonlyMap<string, number>): readonly string[] {
  const made = opening.get(elementOf) ?? [
    ...harness.components.flatMap((c) => (c.kind === "fuse" && elementOf.has(c.id) ? [c.id] : [])),
    ...[...elementOf.keys()].filter((id) => id.startsWith("jumper ")),
  ];
  opening.set(elementOf, made);
  return made;
}

const pulsed = new WeakMap<Harness, Map<string, boolean>>();

/** Whether a part stands on a line on which a module gives pulses. */
export function isDrivenByPulses(harness: Harness, id: string): boolean {
  const known = pulsed.get(harness) ?? new Map<string, boolean>();
  pulsed.set(harness, known);
  const found = known.get(id) ?? standsOnPulses(harness, id);
  known.set(id, found);
  return found;
}

const standsOnPulses = (harness: Harness, id: string): boolean =>
  placesOfComponent(harness, lookupOf(harness).parts.get(id)!).some((p) =>
    (netAt(harness, p)?.places ?? []).some((place) => {
      const pins = settingsAs(lookupOf(harness).parts.get(partNameIn(place)), "module")?.pins;
      const pin = pins?.[pinNameIn(place)];
      return pin !== undefined && "duty" in pin && pin.duty < 1;
    }),
  );
