export type { LinFrame, LinRead } from "./lin.ts";
export { decodeLin, protectedId } from "./lin.ts";
export type { CanFrame, CanRead } from "./can.ts";
export { decodeCan, SINGLE_WIRE } from "./can.ts";
export type { PwmRead, PwmStretch } from "./pwm.ts";
export { decodePwm } from "./pwm.ts";
