/** What a number of a response stands for. Over and none are the values that SCPI-1999 (volume 1, 7.2.1) keeps for what cannot be told as a number. */
export type ScpiNumber =
  | { readonly kind: "value"; readonly value: number }
  /** Beyond the range of the instrument: 9.9E37 or larger, INF, OVLD. */
  | { readonly kind: "over"; readonly sign: 1 | -1 }
  /** No number was measured: 9.91E37, NAN. */
  | { readonly kind: "none" };

const OVER = 9.9e37;
const NONE = 9.91e37;
const DECIMAL = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:\s*E\s*[+-]?\d+)?$/i;
const BASES: Readonly<Record<string, number>> = { h: 16, q: 8, b: 2 };

/** Reads one number of a response (NR1, NR2, NR3, or of base 2, 8, 16); undefined for what is none. */
export function readNumber(text: string): ScpiNumber | undefined {
  const t = text.trim();
  if (/^\+?(INF|INFINITY|OVLD|OVERLOAD|OL)$/i.test(t)) return { kind: "over", sign: 1 };
  if (/^-(INF|INFINITY|OVLD|OL)$/i.test(t)) return { kind: "over", sign: -1 };
  if (/^NAN$/i.test(t)) return { kind: "none" };
  const [, base = "", digits = ""] = /^#([hqb])([0-9a-f]+)$/i.exec(t) ?? [];
  if (base !== "") {
    const value = Number.parseInt(digits, BASES[base.toLowerCase()]);
    return Number.isNaN(value) ? undefined : { kind: "value", value };
  }
  if (!DECIMAL.test(t)) return undefined;
  const value = Number(t.replace(/\s+/g, ""));
  const size = Math.abs(value);
  // 9.91E37 and nothing else is "none"; what is at or beyond 9.9E37 otherwise is over.
  if (Math.abs(size / NONE - 1) < 1e-6) return { kind: "none" };
  return size >= OVER * (1 - 1e-6) ? { kind: "over", sign: value < 0 ? -1 : 1 } : { kind: "value", value };
}

/** A number as an instrument tells it (NR3), with nine digits; over and none by their own values. */
export function writeNumber(number: ScpiNumber): string {
  switch (number.kind) {
    case "over":
      return number.sign < 0 ? "-9.90000000E+37" : "+9.90000000E+37";
    case "none":
      return "+9.91000000E+37";
    case "value": {
      const [digits, power] = number.value.toExponential(8).split("e") as [string, string];
      return `${number.value < 0 ? "" : "+"}${digits}E${power[0]}${power.slice(1).padStart(2, "0")}`;
    }
  }
}
