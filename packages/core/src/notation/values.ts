/** A number with its unit as typed in a circuit text. */
export type TypedValue =
  | { readonly kind: "value"; readonly value: number; readonly unit: "" | "V" | "A" | "W" | "ohm" | "m" | "mm2" }
  | { readonly kind: "bad"; readonly code: string; readonly message: string };

const UNITS: Record<string, { unit: "V" | "A" | "W" | "ohm" | "m" | "mm2"; factor: number }> = {
  v: { unit: "V", factor: 1 },
  mv: { unit: "V", factor: 1e-3 },
  a: { unit: "A", factor: 1 },
  ma: { unit: "A", factor: 1e-3 },
  w: { unit: "W", factor: 1 },
  kw: { unit: "W", factor: 1e3 },
  ohm: { unit: "ohm", factor: 1 },
  ohms: { unit: "ohm", factor: 1 },
  ω: { unit: "ohm", factor: 1 },
  r: { unit: "ohm", factor: 1 },
  mohm: { unit: "ohm", factor: 1e-3 },
  mω: { unit: "ohm", factor: 1e-3 },
  kohm: { unit: "ohm", factor: 1e3 },
  kω: { unit: "ohm", factor: 1e3 },
  m: { unit: "m", factor: 1 },
  cm: { unit: "m", factor: 1e-2 },
  mm: { unit: "m", factor: 1e-3 },
  mm2: { unit: "mm2", factor: 1 },
  "mm²": { unit: "mm2", factor: 1 },
  "mm^2": { unit: "mm2", factor: 1 },
  sq: { unit: "mm2", factor: 1 },
};

/** d = 0.127·92^((36−n)/39) mm for gauge n. */
export const areaOfGauge = (gauge: number): number => (Math.PI / 4) * (0.127 * 92 ** ((36 - gauge) / 39)) ** 2;

/** Whether a word begins like a number, whatever follows. */
export const looksLikeNumber = (text: string): boolean => /^[+\-−]?[.,]?\d/.test(text);

/** Reads "16", "16mm2", "1.2m", "22A", "6mohm", "14AWG". Says what is wrong with "1,2m", "1.2.3" and unknown units. */
export function readValue(text: string): TypedValue {
  const gauge = /^(\d{1,2})awg$/i.exec(text);
  if (gauge !== null) return { kind: "value", value: areaOfGauge(Number(gauge[1])), unit: "mm2" };
  const parts = /^([+\-−]?[\d.,]+)(.*)$/.exec(text);
  if (parts === null) return { kind: "bad", code: "not-a-number", message: `"${text}" is not a number with a unit.` };
  const [, digits, unitText] = parts as unknown as [string, string, string];
  if (digits.includes(",")) {
    return {
      kind: "bad",
      code: "decimal-comma",
      message: `"${text}" has a decimal comma. Write it with a point: ${digits.replace(",", ".")}${unitText}`,
    };
  }
  if (!/^[+\-−]?(\d+\.?\d*|\.\d+)$/.test(digits)) {
    return { kind: "bad", code: "not-a-number", message: `"${digits}" is not one number. Check the points.` };
  }
  const value = Number(digits.replace("−", "-"));
  if (!Number.isFinite(value) || Math.abs(value) > 1e9) {
    return { kind: "bad", code: "out-of-range", message: `"${text}" is too large to be real.` };
  }
  if (unitText === "") return { kind: "value", value, unit: "" };
  const known = UNITS[unitText.toLowerCase().replace("Ω", "ω")];
  if (known === undefined) {
    return { kind: "bad", code: "unknown-unit", message: `"${unitText}" is not a unit known here. Use V, A, W, ohm, m or mm2.` };
  }
  return { kind: "value", value: value * known.factor, unit: known.unit };
}
