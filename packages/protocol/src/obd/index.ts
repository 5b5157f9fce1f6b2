export type { ObdRequest, ObdResponse, ReadObdRequest, ReadObdResponse } from "./service.ts";
export { decodeObd, decodeObdResponse, encodeObd, encodeObdResponse, isObd } from "./service.ts";
export type { Pid, Readiness } from "./pid.ts";
export { decodeReadiness, encodeReadiness, PIDS, supportedBytes, supportedFrom } from "./pid.ts";
