/** A reading as typed. The digits are kept as they were. */
export type TypedReading =
  | {
      readonly kind: "value";
      /** V, Ω or A. */ readonly value: number;
      readonly quantity: "volts" | "ohms" | "amps";
      readonly text: string;
    }
  | { readonly kind: "over"; readonly text: string }
  | {
      readonly kind: "bad";
      readonly code: "empty" | "decimal-comma" | "two-points" | "unit" | "not-a-number" | "too-large";
      readonly message: string;
    };

const UNITS: Record<string, { quantity: "volts" | "ohms" | "amps"; factor: number }> = {
  "": { quantity: "volts", factor: 1 },
  v: { quantity: "volts", factor: 1 },
  mv: { quantity: "volts", factor: 1e-3 },
  a: { quantity: "amps", factor: 1 },
  ma: { quantity: "amps", factor: 1e-3 },
  ohm: { quantity: "ohms", factor: 1 },
  ohms: { quantity: "ohms", factor: 1 },
  r: { quantity: "ohms", factor: 1 },
  ω: { quantity: "ohms", factor: 1 },
  k: { quantity: "ohms", factor: 1e3 },
  kohm: { quantity: "ohms", factor: 1e3 },
  kω: { quantity: "ohms", factor: 1e3 },
  mohm: { quantity: "ohms", factor: 1e-3 },
  mω: { quantity: "ohms", factor: 1e-3 },
};
const LARGEST = { volts: 1000, amps: 3000, ohms: 1e9 } as const;

const bad = (code: Extract<TypedReading, { kind: "bad" }>["code"], message: string): TypedReading => ({ kind: "bad", code, message });

/**
 * Reads `12.31`, `0.44 V`, `440 mV`, `-0.02`, `18 A`, `4.7 kohm`, `MΩ` values and `OL`. A number without unit is volts.
 * Nothing is guessed: a decimal comma or a second point is sent back with what to type.
 */
export function parseReading(typed: string): TypedReading {
  const text = typed.trim().replace(/\s+/g, " ");
  if (text === "") return bad("empty", "Type what the meter shows, such as 12.31, 440 mV or OL.");
  if (/^o\.?l\.?$/i.test(text)) return { kind: "over", text: "OL" };
  const parts = /^([+\-−]?)([\d.,]+) ?(.*)$/.exec(text);
  if (parts === null) return bad("not-a-number", `"${text.slice(0, 30)}" is not a reading. Type a number such as 12.31 or 440 mV, or OL.`);
  const [, sign, digits, unitText] = parts as unknown as [string, string, string, string];
  if (digits.includes(",")) {
    return bad("decimal-comma", `"${digits}" has a comma. Type the decimal point: ${digits.replace(",", ".")}`);
  }
  if ((digits.match(/\./g)?.length ?? 0) > 1)
    return bad("two-points", `"${digits}" has more than one point. Which number does the meter show?`);
  if (digits === ".") return bad("not-a-number", "A point alone is not a reading. Type a number such as 0.44.");
  const unit =
    unitText === "MΩ" || unitText === "Mohm" || unitText === "M"
      ? { quantity: "ohms" as const, factor: 1e6 }
      : UNITS[unitText.toLowerCase().replace("Ω", "ω")];
  if (unit === undefined) return bad("unit", `"${unitText.slice(0, 20)}" is not a unit of a meter. Use V, mV, A, mA, ohm or kohm.`);
  const value = Number(digits) * unit.factor * (sign === "-" || sign === "−" ? -1 : 1);
  if (Math.abs(value) > LARGEST[unit.quantity])
    return bad("too-large", `${text} is more than any reading on a vehicle's low-voltage side. Check the digits and the unit.`);
  return { kind: "value", value, quantity: unit.quantity, text };
}
