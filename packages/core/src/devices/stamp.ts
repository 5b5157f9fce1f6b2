import type { Shape } from "./curves.ts";
import type { Element, Pace, Rule, Watcher, Wave } from "../solver/index.ts";

/** Resistance of an open contact or a blocked transistor, Ω: so high that a 10 MΩ meter behind it reads 0. */
export const OPEN_OHMS = 1e12;

/**
 * Where a device puts its elements. Nodes are its terminals by name; inner ones begin with a point. Parts are named inside the device; the circuit gives them
 * the device's name in front.
 */
export interface Stamp {
  readonly resistor: (part: string, a: string, b: string, ohms: number) => void;
  /** Behind `ohms`, above 0. */
  readonly source: (part: string, a: string, b: string, volts: number, ohms: number, wave?: Wave) => void;
  readonly current: (part: string, a: string, b: string, amps: number, wave?: Wave) => void;
  /** See the solver's element of that name. */
  readonly curve: (part: string, a: string, b: string, shape: Shape) => void;
  readonly diode: (part: string, anode: string, cathode: string, junction: Junction) => void;
  readonly contact: (part: string, a: string, b: string, rule: Rule, onOhms: number) => void;
  /**
   * A winding: its resistance, and in a course over time its inductance in series and the iron's eddy currents beside both, which damp what would ring with the
   * picofarads of a probe. `lossOhms`: those currents as a resistance; 0.2 MΩ for each henry when not said.
   */
  readonly winding: (part: string, a: string, b: string, ohms: number, henries: number, lossOhms?: number) => void;
  /** Only in a course over time. */
  readonly capacitor: (part: string, a: string, b: string, farads: number) => void;
  readonly coupling: (firstPart: string, secondPart: string, factor: number) => void;
  readonly watcher: (
    plus: string,
    minus: string,
    rises: number,
    falls: number,
    how?: { eitherWay?: boolean; starts?: boolean; pace?: Pace; paceUp?: Pace },
  ) => Watcher;
}

export interface Junction {
  readonly saturationAmps: number;
  readonly emission: number;
}

/** Silicon power diode: 0.72 V at 1 A. */
export const SILICON: Junction = { saturationAmps: 1e-12, emission: 1 };
/** Light-emitting diode, red to white: about 2 V at 20 mA. */
export const LIGHT_EMITTING: Junction = { saturationAmps: 1e-20, emission: 1.85 };

/** Holds when every one holds. */
export const all = (...of: Rule[]): Rule => ({ kind: "all", of });
/** Holds when one of them holds. */
export const any = (...of: Rule[]): Rule => ({ kind: "any", of });
/** Holds when the other does not. */
export const not = (of: Rule): Rule => ({ kind: "not", of });
/** Holds whatever the circuit does; the other never holds. */
export const ALWAYS: Rule = { kind: "all", of: [] };
export const NEVER: Rule = { kind: "any", of: [] };

const LOSS_OHMS_PER_HENRY = 2e5;

interface StampOptions {
  /** Name of the device. */
  readonly id: string;
  /** Node index of a terminal, or of an inner node by its name with the device's in front. */
  readonly node: (name: string) => number;
  readonly elements: Element[];
  readonly couplings: { id: string; first: string; second: string; factor: number }[];
  readonly transient: boolean;
}

/** Gives a device what it adds its elements with, named after it; they are appended to `elements` and `couplings`. Windings have inductance, and capacitors and couplings exist, only where `transient`. */
export function createStamp({ id, node, elements, couplings, transient }: StampOptions): Stamp {
  const name = (part: string): string => `${id}.${part}`;
  const ends = (part: string, a: string, b: string): { id: string; a: number; b: number } => ({ id: name(part), a: node(a), b: node(b) });
  const resistor: Stamp["resistor"] = (part, a, b, ohms) => elements.push({ ...ends(part, a, b), kind: "resistor", ohms });
  return {
    resistor,
    source: (part, a, b, volts, internalOhms, wave) =>
      elements.push({ ...ends(part, a, b), kind: "source", volts, internalOhms, ...(wave === undefined || !transient ? {} : { wave }) }),
    current: (part, a, b, amps, wave) =>
      elements.push({ ...ends(part, a, b), kind: "current", amps, ...(wave === undefined || !transient ? {} : { wave }) }),
    curve: (part, a, b, shape) => elements.push({ ...ends(part, a, b), kind: "curve", ...shape }),
    diode: (part, a, b, junction) => elements.push({ ...ends(part, a, b), kind: "diode", ...junction }),
    contact: (part, a, b, rule, onOhms) => elements.push({ ...ends(part, a, b), kind: "switch", rule, onOhms, offOhms: OPEN_OHMS }),
    winding: (part, a, b, ohms, henries, lossOhms = LOSS_OHMS_PER_HENRY * henries) => {
      if (!transient) return resistor(part, a, b, ohms);
      resistor(part, a, `.${part}`, ohms);
      elements.push({ ...ends(`${part} inductance`, `.${part}`, b), kind: "inductor", henries });
      if (lossOhms < Infinity) resistor(`${part} iron loss`, a, b, lossOhms);
    },
    capacitor: (part, a, b, farads) => {
      if (transient) elements.push({ ...ends(part, a, b), kind: "capacitor", farads });
    },
    coupling: (first, second, factor) => {
      if (transient)
        couplings.push({
          id: name(`${first} and ${second}`),
          first: name(`${first} inductance`),
          second: name(`${second} inductance`),
          factor,
        });
    },
    watcher: (plus, minus, rises, falls, how = {}) => ({
      kind: "watcher",
      plus: node(plus),
      minus: node(minus),
      rises,
      falls,
      starts: how.starts ?? false,
      pace: how.pace ?? "electronics",
      ...(how.paceUp === undefined ? {} : { paceUp: how.paceUp }),
      ...(how.eitherWay === undefined ? {} : { eitherWay: how.eitherWay }),
    }),
  };
}
