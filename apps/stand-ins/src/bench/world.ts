import type { Fault, VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { shaken } from "../shaken.ts";
import type { World } from "../vehicle/world.ts";

/** Where the leads of an instrument are. */
export type BenchLeads =
  | { readonly on: "nothing" }
  /** Red and black held together. */
  | { readonly on: "each other" }
  | { readonly on: "places"; readonly red: string; readonly black: string }
  | { readonly on: "wire"; readonly around: string };

/** A vehicle with what is wrong with it, and an instrument at it: what a person does with both. */
export interface BenchWorld extends Pick<World, "harness" | "state" | "setState" | "setFaults" | "setMoving" | "moving"> {
  /** Leads of a meter, or of one channel of a scope (from 1). */
  readonly leads: (channel?: number) => BenchLeads;
  readonly setLeads: (leads: BenchLeads, channel?: number) => void;
  readonly isBatteryLow: () => boolean;
  readonly setBatteryLow: (low: boolean) => void;
  /** The faults as they are at this moment: shaken while something is moved. */
  readonly faults: () => readonly Fault[];
  readonly chance: () => number;
}

/** Leads on nothing, everything as `state` says. `chance`: numbers from 0 to below 1. */
export function createBenchWorld(harness: Harness, hidden: readonly Fault[], start: VehicleState, chance: () => number): BenchWorld {
  let [state, faults, moving, low] = [start, hidden, undefined as string | undefined, false];
  const leads = new Map<number, BenchLeads>();
  return {
    harness,
    chance,
    state: () => state,
    setState: (next) => void (state = next),
    setFaults: (next) => void (faults = next),
    moving: () => moving,
    setMoving: (at) => void (moving = at),
    leads: (channel = 1) => leads.get(channel) ?? { on: "nothing" },
    setLeads: (next, channel = 1) => void leads.set(channel, next),
    isBatteryLow: () => low,
    setBatteryLow: (next) => void (low = next),
    faults: () => shaken(harness, faults, moving, chance),
  };
}
