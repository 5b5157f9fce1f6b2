import { type Amps, ohms, type Ohms } from "../quantity/index.ts";

/** Cold resistance of regular blade fuses: rating in A, resistance in mΩ. Typical values; makers differ by some 15 %. */
const BLADE_COLD: readonly (readonly [number, number])[] = [
  [2, 53.5],
  [3, 31.1],
  [4, 22.8],
  [5, 17.9],
  [7.5, 10.9],
  [10, 7.7],
  [15, 4.8],
  [20, 3.4],
  [25, 2.5],
  [30, 2.0],
];

/**
 * Cold resistance of a fuse of the given rating. Between table values: straight line in log–log; beyond them R falls
 * as 1/rating, an estimate for bolted and maxi fuses. Throws RangeError when the rating is not positive.
 */
export function fuseOhms(rating: Amps): Ohms {
  if (!(rating > 0)) throw new RangeError(`fuse rating must be positive: ${rating} A`);
  const first = BLADE_COLD[0]!;
  const last = BLADE_COLD.at(-1)!;
  if (rating <= first[0]) return ohms((first[1] * first[0]) / rating / 1000);
  if (rating >= last[0]) return ohms((last[1] * last[0]) / rating / 1000);
  const above = BLADE_COLD.findIndex(([amps]) => amps >= rating);
  const [lowA, lowR] = BLADE_COLD[above - 1]!;
  const [highA, highR] = BLADE_COLD[above]!;
  const share = Math.log(rating / lowA) / Math.log(highA / lowA);
  return ohms(Math.exp(Math.log(lowR) + share * Math.log(highR / lowR)) / 1000);
}

/** Multiples of the rating and the middle of the range of opening times that the standard allows there, s (ISO 8820-3, blade fuses). */
const OPENING: readonly (readonly [number, number])[] = [
  [1.1, 360_000],
  [1.35, 21.2],
  [1.6, 3.54],
  [2, 0.866],
  [3.5, 0.141],
  [6, 0.0447],
];
/** From here on a fuse opens within a minute and is taken for blown in a circuit at rest. */
export const BLOWS_AT = 1.6;

/**
 * Time in which a fuse opens at a steady current, s: a curve through the middles of the ranges, straight in log–log. Infinity below 110 %. Faster and slower
 * ones by a factor of five either way are within the standard; beyond 600 % it falls with the square of the current (constant I²t).
 */
export function fuseOpeningS(ratingAmps: number, amps: number): number {
  const times = Math.abs(amps) / ratingAmps;
  const [first, last] = [OPENING[0]!, OPENING.at(-1)!];
  if (times < first[0]) return Infinity;
  if (times >= last[0]) return last[1] * (last[0] / times) ** 2;
  const above = OPENING.findIndex(([t]) => t > times);
  const [t0, s0] = OPENING[above - 1]!;
  const [t1, s1] = OPENING[above]!;
  return s0 * (s1 / s0) ** (Math.log(times / t0) / Math.log(t1 / t0));
}
