/** What a vehicle identification number says about itself. */
export type VinRead =
  | { readonly kind: "ok"; readonly checked: boolean }
  /** Taken all the same: not every maker's numbers carry a check digit. `at`: index of the character in question. */
  | { readonly kind: "odd"; readonly at: number; readonly words: string };

/** Values of the letters, ISO 3779 annex; I, O and Q are not used. */
const VALUES: Readonly<Record<string, number>> = Object.fromEntries(
  [..."ABCDEFGH", ..."JKLMN", ..."P", ..."R", ..."STUVWXYZ"].map((c) => [
    c,
    {
      A: 1,
      B: 2,
      C: 3,
      D: 4,
      E: 5,
      F: 6,
      G: 7,
      H: 8,
      J: 1,
      K: 2,
      L: 3,
      M: 4,
      N: 5,
      P: 7,
      R: 9,
      S: 2,
      T: 3,
      U: 4,
      V: 5,
      W: 6,
      X: 7,
      Y: 8,
      Z: 9,
    }[c]!,
  ]),
);
const WEIGHTS = [8, 7, 6, 5, 4, 3, 2, 10, 0, 9, 8, 7, 6, 5, 4, 3, 2];
const CHECK_AT = 8;

/**
 * Looks a VIN over: length, characters, and the check digit in place nine, which is sure only for vehicles of North America (first character 1 to 5) and China (L). Elsewhere a digit
 * that does not fit says nothing.
 */
export function readVin(typed: string): VinRead {
  const vin = typed.trim().toUpperCase();
  if (vin === "") return { kind: "ok", checked: false };
  for (let i = 0; i < vin.length; i++)
    if (!/[A-HJ-NPR-Z0-9]/.test(vin[i]!))
      return { kind: "odd", at: i, words: `“${vin[i]}” in place ${i + 1} is not used in a VIN; I, O and Q are 1, 0 and 0 misread.` };
  if (vin.length !== 17)
    return { kind: "odd", at: vin.length, words: `A VIN has 17 characters; these are ${vin.length}. Older vehicles have shorter numbers.` };
  const sum = [...vin].reduce((s, c, i) => s + WEIGHTS[i]! * (VALUES[c] ?? Number(c)), 0);
  const digit = sum % 11 === 10 ? "X" : String(sum % 11);
  if (vin[CHECK_AT] === digit) return { kind: "ok", checked: true };
  if (!/[1-5L]/.test(vin[0]!)) return { kind: "ok", checked: false };
  return {
    kind: "odd",
    at: CHECK_AT,
    words: `The check digit in place 9 should be ${digit}, not ${vin[CHECK_AT]}: one character is probably misread.`,
  };
}
