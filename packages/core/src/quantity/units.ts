/**
 * Physical quantities as branded numbers. SI inside (V, A, Ω, W, m, °C as named), cross-section in mm².
 * Arithmetic drops a brand; re-brand at the door with the constructors below.
 */
declare const unit: unique symbol;
export type Quantity<U extends string> = number & { readonly [unit]: U };

export type Volts = Quantity<"V">;
export type Amps = Quantity<"A">;
export type Ohms = Quantity<"Ω">;
export type Watts = Quantity<"W">;
export type Metres = Quantity<"m">;
export type SquareMillimetres = Quantity<"mm²">;
export type Celsius = Quantity<"°C">;

/** Throws RangeError for NaN and infinity, which never leave a function of this package. */
function finite(value: number, unitName: string): number {
  if (!Number.isFinite(value)) throw new RangeError(`not a finite number of ${unitName}: ${value}`);
  return value;
}

/** V. Throws RangeError when the number is not finite. */
export const volts = (v: number): Volts => finite(v, "V") as Volts;
/** A. Throws RangeError when the number is not finite. */
export const amps = (v: number): Amps => finite(v, "A") as Amps;
/** Ω. Throws RangeError when the number is not finite. */
export const ohms = (v: number): Ohms => finite(v, "Ω") as Ohms;
/** W. Throws RangeError when the number is not finite. */
export const watts = (v: number): Watts => finite(v, "W") as Watts;
/** m. Throws RangeError when the number is not finite. */
export const metres = (v: number): Metres => finite(v, "m") as Metres;
/** mm². Throws RangeError when the number is not finite. */
export const squareMillimetres = (v: number): SquareMillimetres => finite(v, "mm²") as SquareMillimetres;
/** °C. Throws RangeError when the number is not finite. */
export const celsius = (v: number): Celsius => finite(v, "°C") as Celsius;
