/** Shapes that several devices share. Each returns A and S at a voltage, and says itself as an expression in V(a,b) for other programs. */
export interface Shape {
  readonly at: (volts: number) => { amps: number; siemens: number };
  readonly text: string;
  /** See the solver's curves. */
  readonly sharp?: boolean;
}

/** Sharpness of the bends of a limited source: the share of the full current over which it bends is about 3/K. */
const K = 60;
const soft = (u: number): number => (u > 30 / K ? u : Math.log1p(Math.exp(K * u)) / K);
const sigma = (u: number): number => (u > 30 / K ? 1 : u < -30 / K ? 0 : 1 / (1 + Math.exp(-K * u)));
/** The same written out, without overflow. */
const softText = (u: string): string => `(max(0,${K}*${u})+ln(1+exp(-abs(${K}*${u}))))/${K}`;
/** Keeps the slope above 0 where the source gives nothing, S. */
const LEAK = 1e-9;

/**
 * A source that holds `volts` behind `ohms` up to `mostAmps` and not more, and takes nothing back: a regulator. The current flows into the element at a, so that
 * what it gives is negative.
 */
export function limitedSource(volts: number, ohms: number, mostAmps: number): Shape {
  const span = ohms * mostAmps;
  return {
    sharp: true,
    at: (v) => {
      const u = (volts - v) / span;
      return { amps: LEAK * v - mostAmps * (soft(u) - soft(u - 1)), siemens: LEAK + (sigma(u) - sigma(u - 1)) / ohms };
    },
    text: `${LEAK}*V(a,b)-${mostAmps}*(${softText(`(${volts}-V(a,b))/${span}`)}-${softText(`((${volts}-V(a,b))/${span}-1)`)})`,
  };
}

/** I = Iₙ·(V/Vₙ)^exponent, with the cold resistance as a floor: metal that heats itself. */
export function selfHeating(ratedVolts: number, hotOhms: number, exponent: number, coldShare: number): Shape {
  return {
    at: (v) => {
      const share = (Math.abs(v) / ratedVolts) ** (1 - exponent);
      const cold = share <= coldShare;
      const ohms = hotOhms * (cold ? coldShare : share);
      return { amps: v / ohms, siemens: (cold ? 1 : exponent) / ohms };
    },
    text: `V(a,b)/(${hotOhms}*max(${coldShare},(abs(V(a,b))/${ratedVolts})^${(1 - exponent).toFixed(3)}))`,
  };
}

/** V across such a part at a current, A: what it does goes by this, as a bad joint inside it takes its share of the voltage at the pins. */
export function selfHeatingVolts(ratedVolts: number, hotOhms: number, exponent: number, coldShare: number, amps: number): number {
  const hot = ratedVolts * (Math.abs(amps) / (ratedVolts / hotOhms)) ** (1 / exponent);
  return (hot / ratedVolts) ** (1 - exponent) > coldShare ? hot : Math.abs(amps) * hotOhms * coldShare;
}

/** V across a part of `bentAt` at a current, A. */
export const bentVolts = (ohms: number, bendVolts: number, siemensBeyond: number, amps: number): number =>
  Math.abs(amps) <= bendVolts / ohms ? Math.abs(amps) * ohms : bendVolts + (Math.abs(amps) - bendVolts / ohms) / siemensBeyond;

/** V across a part of `flattening` at a current, A. */
export const flatteningVolts = (ohms: number, kneeVolts: number, amps: number): number => {
  const asCold = Math.abs(amps) * ohms;
  return asCold < kneeVolts ? asCold / Math.sqrt(1 - (asCold / kneeVolts) ** 2) : Infinity;
};

/** A resistance up to a bend, and a smaller slope from there on, the same both ways round: a motor that begins to turn. */
export function bentAt(ohms: number, bendVolts: number, siemensBeyond: number): Shape {
  const bendAmps = bendVolts / ohms;
  return {
    sharp: true,
    at: (v) =>
      Math.abs(v) <= bendVolts
        ? { amps: v / ohms, siemens: 1 / ohms }
        : { amps: Math.sign(v) * (bendAmps + (Math.abs(v) - bendVolts) * siemensBeyond), siemens: siemensBeyond },
    text: `sgn(V(a,b))*(min(abs(V(a,b)),${bendVolts})/${ohms}+max(0,abs(V(a,b))-${bendVolts})*${siemensBeyond})`,
  };
}

/** I = V/(R·√(1 + (V/Vk)²)): a resistance that rises with its own heat until the current hardly grows. */
export function flattening(ohms: number, kneeVolts: number): Shape {
  return {
    at: (v) => {
      const bend = 1 + (v / kneeVolts) ** 2;
      return { amps: v / (ohms * Math.sqrt(bend)), siemens: 1 / (ohms * bend ** 1.5) };
    },
    text: `V(a,b)/(${ohms}*sqrt(1+(V(a,b)/${kneeVolts})^2))`,
  };
}
