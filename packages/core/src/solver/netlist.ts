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
    })
  /** Junction from a (anode) to b: I = Is·(exp(V/(N·Vt)) − 1). */
  | (TwoTerminal & { readonly kind: "diode"; readonly saturationAmps: number; readonly emission: number })
  /** Closed when V(plus) − V(minus) rises above `closesAt`, open when it falls below `opensAt`; between them it stays as it was. */
  | (TwoTerminal & {
      readonly kind: "switch";
      readonly plus: number;
      readonly minus: number;
      readonly closesAt: number;
      readonly opensAt: number;
      readonly onOhms: number;
      readonly offOhms: number;
      readonly startsClosed: boolean;
    })
  | (TwoTerminal & { readonly kind: "capacitor"; readonly farads: number; readonly initialVolts?: number })
  | (TwoTerminal & { readonly kind: "inductor"; readonly henries: number; readonly initialAmps?: number });

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
  /** Switches that have no rest: closing makes them open. That is behaviour, not an error of the model: a relay that chatters. */
  | { readonly kind: "chatter"; readonly elements: readonly string[] };

export type SolveResult = ({ readonly kind: "solved" } & Point) | SolveFailure;
