/** Numbers from 0 to below 1, the same from the same seed: a linear congruence (Numerical Recipes). */
export function chanceOf(seed: number): () => number {
  let x = seed >>> 0;
  return () => (x = (Math.imul(x, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}
