/** Thin space between number and unit, U+2009. */
export const THIN_SPACE = "\u2009";
/** A true minus sign, so that polarity is visible at arm's length. */
const MINUS = "\u2212";

const signed = (text: string): string => (text.startsWith("-") ? MINUS + text.slice(1) : text);

function withUnit(value: number, decimals: number, unitName: string): string {
  const text = value.toFixed(decimals);
  const cleaned = /^-0(\.0*)?$/.test(text) ? text.slice(1) : text;
  return signed(cleaned) + THIN_SPACE + unitName;
}

/** Volts with two decimals from 1 V up, three from 0.1 V up, whole or tenths of millivolts below. */
export function formatVolts(value: number): string {
  const size = Math.abs(value);
  if (size >= 0.9995) return withUnit(value, 2, "V");
  if (size >= 0.0995) return withUnit(value, 3, "V");
  if (size >= 0.00995) return withUnit(value * 1000, 0, "mV");
  return withUnit(value * 1000, 1, "mV");
}

/** Amperes from kiloamps down to microamps, three figures. */
export function formatAmps(value: number): string {
  const size = Math.abs(value);
  if (size >= 99.5) return withUnit(value, 0, "A");
  if (size >= 9.95) return withUnit(value, 1, "A");
  if (size >= 0.995) return withUnit(value, 2, "A");
  if (size >= 0.000995) return withUnit(value * 1e3, size >= 0.0995 ? 0 : 1, "mA");
  return withUnit(value * 1e6, 1, "µA");
}

/** Ohms from megohms down to tenths of milliohms, two to three figures. */
export function formatOhms(value: number): string {
  const size = Math.abs(value);
  if (size >= 0.9995e6) return withUnit(value / 1e6, 2, "MΩ");
  if (size >= 999.5) return withUnit(value / 1e3, size >= 9995 ? 1 : 2, "kΩ");
  if (size >= 9.95) return withUnit(value, 0, "Ω");
  if (size >= 0.9995) return withUnit(value, 1, "Ω");
  if (size >= 0.00995) return withUnit(value * 1e3, 0, "mΩ");
  return withUnit(value * 1e3, size >= 0.000995 || size === 0 ? 1 : 2, "mΩ");
}

/** Microseconds below a millisecond, else milliseconds, two figures. */
export const formatSeconds = (seconds: number): string => {
  const [value, unitName] = seconds < 1e-3 ? [seconds * 1e6, "µs"] : [seconds * 1e3, "ms"];
  return signed(String(Number(value.toPrecision(2)))) + THIN_SPACE + unitName;
};
