/** How much of the belief a thing holds; never rounded up to certainty. */
export const percent = (p: number): string => (p > 0.995 ? "> 99 %" : p < 0.01 ? "< 1 %" : `${Math.round(100 * p)} %`);
