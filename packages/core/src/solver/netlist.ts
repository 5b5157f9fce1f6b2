/** A circuit ready for the solver. Node indices count from 0; node 0 is battery negative and has 0 V. */
export interface Netlist {
  /** Names by node index. */
  readonly nodes: readonly string[];
  readonly elements: readonly Element[];
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
  /** a is positive. Internal resistance of 0 makes it ideal. */
  | (TwoTerminal & { readonly kind: "source"; readonly volts: number; readonly internalOhms: number })
  /** A resistance that depends on the voltage across it, V → Ω; must be continuous and above 0. */
  | (TwoTerminal & { readonly kind: "varying"; readonly ohmsAt: (acrossVolts: number) => number });

export type SolveResult =
  | {
      readonly kind: "solved";
      /** V by node index; NaN-free: a floating node holds 0 and is told by `floating`. */
      readonly volts: Float64Array;
      /** 1 where no path leads to node 0, so that the node has no potential of its own. */
      readonly floating: Uint8Array;
      /** A by element index, from a to b through the element. */
      readonly amps: Float64Array;
    }
  | { readonly kind: "singular"; readonly node: string }
  | { readonly kind: "diverged"; readonly element: string };
