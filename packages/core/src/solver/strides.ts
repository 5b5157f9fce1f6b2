/** First step taken towards a sharp curve, V; when it has gone past, the next goes back half as far. */
const FIRST_STRIDE = 16;
/** So small a step cannot leap over a bend, V; without it, going to and fro in the last digits would wear the steps away. */
const FREE_STRIDE = 1e-6;
/** After so many braked steps the same way the brake is let off by half. */
const STRAIGHT = 3;

/** How far Newton's method may go on each of several sharp curves; they have flat ends from which it would leap to and fro. */
export interface Strides {
  /** Forgets all steps. */
  readonly begin: () => void;
  /** The step to take at place k where `wanted` was asked for, V. */
  readonly take: (k: number, wanted: number) => number;
}

/** Strides for so many sharp curves, all forgotten. */
export function createStrides(places: number): Strides {
  const last = new Float64Array(places);
  const most = new Float64Array(places).fill(FIRST_STRIDE);
  /** Braked steps the same way, one after another. */
  const straight = new Uint8Array(places);
  return {
    begin: () => {
      last.fill(0);
      most.fill(FIRST_STRIDE);
      straight.fill(0);
    },
    take: (k, wanted) => {
      if (Math.abs(wanted) <= FREE_STRIDE) return wanted;
      const braked = Math.abs(wanted) > most[k]!;
      if (last[k]! * wanted < 0) {
        most[k] = Math.max(Math.abs(last[k]!) / 2, FREE_STRIDE);
        straight[k] = 0;
      } else if (!braked) straight[k] = 0;
      else if (++straight[k]! >= STRAIGHT) most[k] = Math.min(2 * most[k]!, FIRST_STRIDE);
      const step = Math.abs(wanted) <= most[k]! ? wanted : Math.sign(wanted) * most[k]!;
      last[k] = step;
      return step;
    },
  };
}
