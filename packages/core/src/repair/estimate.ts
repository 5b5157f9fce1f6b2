import { z } from "zod";

/** Currency of ISO 4217; how many decimals it has comes from the platform's own tables. */
const currency = z
  .string()
  .regex(/^[A-Z]{3}$/, "is three capital letters, such as EUR")
  .refine((code) => decimalsOf(code) !== undefined, { message: "is not a currency that is known here" });

/** Largest amount of one line, in the currency's own unit. */
const MOST = 1e9;

/** A line of an estimate. */
export const estimateLine = z.strictObject({
  kind: z.enum(["labour", "part", "material", "other"]),
  text: z.string().trim().min(1).max(200),
  /** Hours, pieces or metres. */
  quantity: z.number().min(0).max(1e6),
  /** Of one, in the currency's smallest unit: cents where it has them. */
  unitPrice: z.number().int().min(-MOST).max(MOST),
});
export type EstimateLine = z.infer<typeof estimateLine>;

export const estimate = z.strictObject({
  currency,
  /** % on top. */
  taxPercent: z.number().min(0).max(100),
  lines: z.array(estimateLine).min(1, "An estimate has at least one line.").max(200),
});
export type Estimate = z.infer<typeof estimate>;

/** Decimals of a currency: 2 for EUR, 0 for JPY; undefined for what is none. */
export function decimalsOf(code: string): number | undefined {
  try {
    const known = new Intl.DisplayNames("en", { type: "currency", fallback: "none" }).of(code);
    return known === undefined
      ? undefined
      : new Intl.NumberFormat("en", { style: "currency", currency: code }).resolvedOptions().maximumFractionDigits;
  } catch {
    return undefined;
  }
}

/** An amount as it is written: 1234 of EUR is "€12.34". Throws RangeError for an unknown currency. `minor`: in its smallest unit. */
export function formatMoney(minor: number, code: string, locale = "en-GB"): string {
  const decimals = decimalsOf(code);
  if (decimals === undefined) throw new RangeError(`not a currency: ${code}`);
  return new Intl.NumberFormat(locale, { style: "currency", currency: code }).format(minor / 10 ** decimals);
}

/** What somebody typed as an amount, "12.34" or "12,34", in the currency's smallest unit; undefined for what is none, or has more decimals than the currency. */
export function readMoney(text: string, code: string): number | undefined {
  const decimals = decimalsOf(code);
  const [, sign, whole, rest = ""] = /^\s*([-−]?)(\d{1,9})(?:[.,](\d+))?\s*$/.exec(text) ?? [];
  if (decimals === undefined || whole === undefined || rest.length > decimals) return undefined;
  const value = Number(whole) * 10 ** decimals + Number(rest.padEnd(decimals, "0") || "0");
  return sign === "" ? value : -value;
}

/** Sums of an estimate, in the currency's smallest unit, each line rounded by itself as it is printed. */
export interface Totals {
  readonly lines: readonly number[];
  readonly net: number;
  readonly tax: number;
  readonly gross: number;
}

/** Sums an estimate. */
export function totalsOf({ lines, taxPercent }: Estimate): Totals {
  const each = lines.map((l) => Math.round(l.quantity * l.unitPrice));
  const net = each.reduce((sum, v) => sum + v, 0);
  const tax = Math.round((net * taxPercent) / 100);
  return { lines: each, net, tax, gross: net + tax };
}
