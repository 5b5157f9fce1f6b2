import type { Leads } from "@rheonom/core/instruments";
import type { Band } from "@rheonom/core/job";
import { formatAmps, formatOhms, formatVolts } from "@rheonom/core/quantity";

/** A value of a meter with its unit. */
export const valueWords = (quantity: Leads["quantity"], value: number): string =>
  ({ volts: formatVolts, ohms: formatOhms, amps: formatAmps })[quantity](value);

/** "12.2 V, 11.8 to 12.6 V (5 good ones)". */
export function bandWords(quantity: Leads["quantity"], { count, median, low, high }: Band): string {
  const of = count === 1 ? "1 good one" : `${count} good ones`;
  return `${valueWords(quantity, median)}, ${valueWords(quantity, low)} to ${valueWords(quantity, high)} (${of})`;
}
