export type { ReadRequest, UdsRequest } from "./request.ts";
export { ALL_CODES, CONTROL, decodeUds, encodeUds, MOST_IDS, REPORT, SERVICE, SESSIONS } from "./request.ts";
export type { CodeRecord, DataRecord, LengthOf, ReadResponse, SnapshotRecord, UdsResponse } from "./response.ts";
export { decodeResponse, encodeResponse, isPending, NEGATIVE } from "./response.ts";
export { QUIET_WHEN_FUNCTIONAL, REFUSALS, refusalWords } from "./refusal.ts";
