import type { VehicleState } from "@rheonom/core/circuit";
import type { MeterFunction, MeterSaid, SimulatedLeads } from "@rheonom/contract/instrument";

export type InstrumentKind = "meter" | "scope";

/** What an instrument's line tells of it. */
export type Told =
  | { readonly type: "connected"; readonly what: InstrumentKind; readonly name: string }
  | { readonly type: "reading"; readonly function: MeterFunction; readonly said: MeterSaid }
  /** The instrument's own words about itself. */
  | { readonly type: "says"; readonly text: string }
  /** Samples of channels, packed as traces are kept. */
  | { readonly type: "recorded"; readonly packed: ArrayBuffer }
  /** It is gone. */
  | { readonly type: "lost"; readonly message: string }
  /** Something was not done; the line stays. */
  | { readonly type: "failed"; readonly message: string };

/** A line to an instrument, whatever carries it. What comes of it is told to the function that it was opened with. */
export interface InstrumentPort {
  /** Turns the meter and reads on and on. */
  readonly read: (what: MeterFunction) => void;
  readonly pause: () => void;
  /** Where the leads are: for instruments that are simulated, which cannot see them. */
  readonly leads: (leads: readonly SimulatedLeads[], state: VehicleState, moving: string | undefined) => void;
  readonly record: (channels: readonly number[], seconds: number, points: number) => void;
  readonly close: () => void;
}
