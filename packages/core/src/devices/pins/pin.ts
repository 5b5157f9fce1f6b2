import type { FailureMode, Surroundings, TerminalRole } from "../device.ts";
import type { Stamp } from "../stamp.ts";
import type { Rule } from "../../solver/index.ts";

/** What stands behind one pin of a module. Inner nodes of the module: ".supply", ".ground". Parts are called "A7 driver" and so on. */
export interface PinContext {
  readonly pin: string;
  readonly awake: Rule;
  /** Whether the module's rules want this output on. */
  readonly wanted: Rule;
  readonly at: Surroundings;
}

export interface PinKind<P> {
  readonly sort: string;
  readonly role: TerminalRole;
  readonly stamp: (p: P, c: PinContext, into: Stamp) => void;
  /** Failure modes; `change` gives a module's settings with this pin changed. */
  readonly modes: (p: P, pin: string, change: (with_: Partial<P>) => Readonly<Record<string, unknown>>) => readonly FailureMode[];
  readonly pulses?: (p: P) => readonly number[];
}

/** Resistance of a switch inside a module that only passes a bias on, Ω. */
export const GATE_OHMS = 1;
