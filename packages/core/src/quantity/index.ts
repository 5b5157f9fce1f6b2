export type { Quantity, Volts, Amps, Ohms, Watts, Metres, SquareMillimetres, Celsius } from "./units.ts";
export { volts, amps, ohms, watts, metres, squareMillimetres, celsius } from "./units.ts";
export { formatVolts, formatAmps, formatOhms, formatSeconds, THIN_SPACE } from "./format.ts";
export { unreachable } from "./unreachable.ts";
export { medianOf, spreadOf } from "./median.ts";
export { lastUsed } from "./last-used.ts";
