import type { Wave } from "./wave.ts";

/** A circuit ready for the solver. Node indices count from 0; node 0 is battery negative and has 0 V. */
export interface Netlist {
  /** Names by node index. */
  readonly nodes: readonly string[];
  readonly elements: readonly Element[];
  /** Pairs of inductors on one core. */
  readonly couplings?: readonly Coupling[];
}

export interface Coupling {
  readonly id: string;
  /** Ids of two inductors. */
  readonly first: string;
  readonly second: string;
  /** Coupling factor, above 0 and at most 1. */
  readonly factor: number;
}

interface TwoTerminal {
  /** The user's own name, such as "W2" or "C12.4". */
  readonly id: string;
  readonly a: number;
  readonly b: number;
}

export type Element =
  /** Ohms above 0. */
  | (TwoTerminal & { readonly kind: "resistor"; readonly ohms: number })
  /** a is positive. Internal resistance of 0 makes it ideal. `wave` is its course in a transient; `volts` holds at rest. */
  | (TwoTerminal & { readonly kind: "source"; readonly volts: number; readonly internalOhms: number; readonly wave?: Wave })
  /** Drives amps from a through itself to b. */
  | (TwoTerminal & { readonly kind: "current"; readonly amps: number; readonly wave?: Wave })
  /** Any rising current–voltage curve. `at`: V across → A and its slope in S (above 0). `text`: the current as an expression in V(a,b), for export. */
  | (TwoTerminal & {
      readonly kind: "curve";
      readonly at: (volts: number) => { readonly amps: number; readonly siemens: number };
      readonly text: string;
      /** True for a curve with flat ends and a steep middle, which Newton's method must not jump over: a current-limited source. */
      readonly sharp?: boolean;
    })
  /** Junction from a (anode) to b: I = Is·(exp(V/(N·Vt)) − 1). */
  | (TwoTerminal & { readonly kind: "diode"; readonly saturationAmps: number; readonly emission: number })
  /** A contact or transistor that is closed while its rule holds. */
  | (TwoTerminal & { readonly kind: "switch"; readonly rule: Rule; readonly onOhms: number; readonly offOhms: number })
  | (TwoTerminal & { readonly kind: "capacitor"; readonly farads: number; readonly initialVolts?: number })
  | (TwoTerminal & { readonly kind: "inductor"; readonly henries: number; readonly initialAmps?: number });

/**
 * Watches a voltage and remembers: holds when V(plus) − V(minus) rises above `rises`, no longer when it falls below `falls`, and between them stays as it
 * was. One object named by several rules is one watcher with one memory.
 */
export interface Watcher {
  readonly kind: "watcher";
  readonly plus: number;
  readonly minus: number;
  readonly rises: number;
  readonly falls: number;
  /** Takes the size of the voltage, whichever way round: a coil without a diode. */
  readonly eitherWay?: boolean;
  /**
   * How quickly it moves: electronics, then contacts, then a module that starts again, then fuses. A slower one moves only when all quicker ones rest, so that a
   * module is reset by a dip before a relay falls, the relay has fallen before the module is back, and a fuse bears a solenoid's pull-in.
   */
  readonly pace: Pace;
  /** The same for its rise, where that is slower. */
  readonly paceUp?: Pace;
  /** Its state before anything has happened. */
  readonly starts: boolean;
}

export type Pace = "electronics" | "contact" | "boot" | "fuse";

/** When a switch is closed. */
export type Rule =
  | Watcher
  | { readonly kind: "not"; readonly of: Rule }
  | { readonly kind: "all"; readonly of: readonly Rule[] }
  | { readonly kind: "any"; readonly of: readonly Rule[] };

/** A state of the circuit at one moment. */
export interface Point {
  /** V by node index; NaN-free: a floating node holds 0 and is told by `floating`. */
  readonly volts: Float64Array;
  /** 1 where no path leads to node 0, so that the node has no potential of its own. */
  readonly floating: Uint8Array;
  /** A by element index, from a to b through the element. */
  readonly amps: Float64Array;
  /** 1 by element index where a switch is closed. */
  readonly closed: Uint8Array;
}

export type SolveFailure =
  /** `node`: the node (or source) whose potential nothing decides. */
  | { readonly kind: "singular"; readonly node: string }
  /** `element`: what moved most in the last round. */
  | { readonly kind: "diverged"; readonly element: string }
  /**
   * Switches that have no rest: closing makes them open. That is behaviour, not an error of the model: a relay that chatters. `points`: those that it
   * goes through, round and round.
   */
  | { readonly kind: "chatter"; readonly elements: readonly string[]; readonly points: readonly Point[] };

export type SolveResult = ({ readonly kind: "solved"; readonly memory: () => Memory } & Point) | SolveFailure;

/** What watchers remember, 1 for holding, by the names of what they watch and their thresholds: good for another netlist of the same circuit. */
export type Memory = ReadonlyMap<string, number>;
