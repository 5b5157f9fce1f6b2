/** A number that somebody typed, with a point or a comma; undefined for none, NaN for what is not one. */
export function typedNumber(text: string): number | undefined {
  const bare = text.trim().replace(",", ".");
  if (bare === "") return undefined;
  return /^\d+(\.\d+)?$/.test(bare) ? Number(bare) : Number.NaN;
}

/** What is wrong with a number that may be left out. */
export const numberProblem = (text: string, least: number, most: number, unit: string): string | true => {
  const value = typedNumber(text);
  if (value === undefined) return true;
  return value >= least && value <= most ? true : `A number from ${least} to ${most} ${unit}, such as ${Math.max(least, 1)}.`;
};
