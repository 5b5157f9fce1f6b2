import type { z } from "zod";
import type { EngineState, KeyPosition } from "./conditions.ts";
import type { Stamp } from "./stamp.ts";

/** What a terminal is for. Interlocks of instruments go by it. */
export type TerminalRole =
  "feed" | "ground" | "control" | "load" | "signal" | "reference" | "bus" | "output" | "high voltage" | "untouchable";

export interface Terminal {
  readonly name: string;
  readonly role: TerminalRole;
  /** Usually stands without a wire of its own. */
  readonly bare?: boolean;
}

/** A way that current can take through a device, by the name of the part that carries it. */
export interface DeviceWay {
  readonly part: string;
  readonly a: string;
  readonly b: string;
  /** True where it does work there (a winding, a filament), false where it only passes (a contact). */
  readonly consumes: boolean;
}

/** What a device knows of the world around it. */
export interface Surroundings {
  readonly key: KeyPosition;
  readonly engine: EngineState;
  readonly temperatureC: number;
  readonly nominalVolts: number;
  /** What acts on the device itself: °C at a sensor, 0…1 of a pedal's travel, Hz of a toothed wheel; undefined where the state says nothing. */
  readonly input: number | undefined;
  readonly asleep: boolean;
  /** Moment in the period of pulsed outputs and bus traffic, 0…1: an output of 30 % duty is on while it is below 0.3. */
  readonly phase: number;
  /** True for a course over time: windings get their inductance, pulsed outputs their edges. */
  readonly transient: boolean;
}

/** What is wrong inside. Parts as named by the stamp. */
export type Harm =
  | { readonly kind: "open"; readonly part: string }
  | { readonly kind: "series"; readonly part: string }
  | { readonly kind: "shunt"; readonly a: string; readonly b: string }
  | { readonly kind: "stuck"; readonly part: string; readonly closed: boolean }
  | { readonly kind: "settings"; readonly change: (severity: number) => Readonly<Record<string, unknown>> };

/** What a failure mode does to the circuit. */
export const MODE_EFFECTS = [
  "open",
  "series",
  "shorted inside",
  /** A contact or driver that no longer opens. */
  "stuck closed",
  /** One that no longer closes. */
  "stuck open",
  /** It holds or pulls down a line on which others live: a bus, a reference. */
  "holds",
  /** Something else than it should be: drifted, weak, dead inside, of the wrong rating. */
  "setting",
] as const;
export type ModeEffect = (typeof MODE_EFFECTS)[number];

export interface FailureMode {
  /** Stable and short: "coil open". */
  readonly id: string;
  /** In trade words, behind the device's name: "coil open circuit". */
  readonly words: string;
  /** How often, relative to other things of the circuit. */
  readonly weight: number;
  readonly harm: Harm;
  /** What mends it where the part itself stays, in trade words: "clean and tighten the strap". Without it the part is renewed. */
  readonly mend?: string;
  /** Where the harm alone does not say what it comes to: a changed setting that opens, shorts or holds something. */
  readonly effect?: ModeEffect;
  /** Ω for series and shunt, the setting's own unit otherwise; a single 0 where the mode has no degree. */
  readonly severities: readonly number[];
}

/** How a solved circuit looks from inside one device. */
export interface Inside {
  /** V of a terminal or inner node; 0 where it floats. */
  readonly volts: (node: string) => number;
  /** A through a part; 0 where it is not there. */
  readonly amps: (part: string) => number;
  readonly closed: (part: string) => boolean;
}

/** What can be seen, heard or felt without an instrument. */
export type Sight =
  /** Share of the light at rated voltage. */
  | { readonly kind: "brightness"; readonly share: number }
  /** Revolutions per minute; 0 when it stands. `stalled`: current flows and it stands. */
  | { readonly kind: "speed"; readonly rpm: number; readonly stalled: boolean }
  /** Share of the rated heat. */
  | { readonly kind: "heat"; readonly share: number }
  | { readonly kind: "pulled in"; readonly yes: boolean }
  | { readonly kind: "awake"; readonly yes: boolean }
  | { readonly kind: "charging"; readonly amps: number }
  /** Energy stored in a winding that delivers it when it is switched off, as a share of what the nominal voltage stores. */
  | { readonly kind: "stored"; readonly share: number }
  /** The fuse has opened, or would after so many seconds; Infinity when it holds. */
  | { readonly kind: "fuse"; readonly blown: boolean; readonly secondsLeft: number }
  /** What a module reads at an input, in V or in the sensor's own unit. */
  | { readonly kind: "reads"; readonly at: string; readonly value: number; readonly unit: string };

/** A pin that a device is told something at by pulses. */
export interface Command {
  readonly pin: string;
  /** The terminal that its level counts against. */
  readonly against: string;
  /** It is told something while the level goes above the one and below the other within a period, V. */
  readonly risesAbove: number;
  readonly fallsBelow: number;
  /** It is told by messages: what counts is its level while the master of its line speaks and while nobody does. */
  readonly byMessage?: boolean;
}

/** One kind of device, whole: what it is, its equations, how it fails, what it shows. The only place that knows it. */
export interface DeviceKind<S extends object> {
  /** Its word in notation and in a harness. */
  readonly kind: string;
  /** What sort of part it is, for lists and menus. */
  readonly family: "load" | "sensor" | "module" | "supply" | "switching" | "passive";
  /** Whoever drives the vehicle sees or feels what it does. */
  readonly isNoticed?: boolean;
  /** "relay", "starter motor with solenoid". */
  readonly words: string;
  /** Every setting has a default, a unit in its name and limits. */
  readonly settings: z.ZodType<S>;
  readonly terminals: (settings: S) => readonly Terminal[];
  readonly ways: (settings: S) => readonly DeviceWay[];
  readonly stamp: (settings: S, at: Surroundings, into: Stamp) => void;
  readonly modes: (settings: S) => readonly FailureMode[];
  /** Shares of their period for which its pulsed outputs are on, 0…1, where it has any. */
  readonly pulses?: (settings: S, at: Surroundings) => readonly number[];
  readonly sights: (settings: S, at: Surroundings, inside: Inside) => readonly Sight[];
  /** The one sight that tells its work, where it has so many that it is worth asking for alone. */
  readonly workSight?: (settings: S, at: Surroundings, inside: Inside) => Sight;
  /** Pins at which it waits for pulses in this state. */
  readonly commands?: (settings: S, at: Surroundings) => readonly Command[];
  /** Its settings while nothing is told at these pins: what it does on its own. Only with `commands`. */
  readonly untold?: (settings: S, pins: readonly string[]) => S;
  /** It works by being switched off: what it delivers in a period comes of the step between the most and the least that it stores. Told by its "stored". */
  readonly deliversAtSwitchOff?: boolean;
  /** What counts as all of its work where it tells rpm or A; 1, a share, when not said. */
  readonly ratedWork?: (settings: S) => number;
}

/** From a damp trace to a corroded contact that a meter's microamps no longer notice. Ω. */
export const SERIES_OHMS = [0.1, 1, 10, 1000, 1e5] as const;
/** From a dead short to a damp one. Ω. */
export const SHUNT_OHMS = [0.05, 2, 50, 2000] as const;
export const NO_DEGREE = [0] as const;

/** Crankshaft speed by what the engine does, rpm: middle values of petrol and diesel engines. */
export const CRANKSHAFT_RPM: Readonly<Record<EngineState, number>> = { stopped: 0, cranking: 200, idling: 800, "at speed": 2500 };
