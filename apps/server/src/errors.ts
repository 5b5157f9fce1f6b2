import type { Problem } from "@rheonom/contract/problem";

/** Every kind of failure that leaves the server: its status and its words. Facts are filled in at {name}. */
export const ERRORS = {
  "body-not-json": { status: 400, message: "The body is not JSON: {why}. Nothing was stored." },
  "body-type": { status: 415, message: "Send the body as {type}. Nothing was stored." },
  "body-too-large": { status: 413, message: "The body is larger than {limit}. Send less at a time. Nothing was stored." },
  "body-invalid": { status: 400, message: "The body does not have the expected form. Nothing was stored." },
  "body-shape": { status: 400, message: "The body cannot be taken: {what}. Nothing was stored." },
  "body-encoded": { status: 415, message: "Send the body as it is, without {encoding}. Nothing was stored." },
  "request-malformed": { status: 400, message: "The request cannot be read: {why}." },
  "host-unknown": {
    status: 421,
    message: "This server is not asked under that name. Open it at the address that it printed when it started.",
  },
  "foreign-page": { status: 403, message: "A page of another site asked for this. Only Rheonom's own pages may." },
  "event-time": {
    status: 400,
    message:
      "Event {id} happened at {at}, more than a day ahead of this server's clock ({now}). Set the clock of the device right. Nothing was stored.",
  },
  "disk-full": {
    status: 507,
    message:
      "The disk of the shop's data is full: {free} MB are left and {needed} MB are needed. Free some space there. Nothing was stored; what you entered stays on your device and is sent by itself.",
  },
  "data-read-only": {
    status: 503,
    message:
      "The shop's data can only be looked at now: {why} Nothing was stored; what you entered stays on your device and is sent by itself.",
  },
  "data-opening": { status: 503, message: "The shop's data is being opened again. Try again in a moment. Nothing was stored." },
  "work-busy": { status: 503, message: "The server has as much to work out as it can take. Try again in a moment." },
  "work-too-long": { status: 503, message: "This took longer than {seconds} s and was stopped. {advice}" },
  "event-unknown-type": { status: 400, message: 'There is no event of type "{type}". Known types: {known}. Nothing was stored.' },
  "event-wrong-job": { status: 400, message: "Event {id} belongs to another job. Nothing was stored." },
  "event-id-reused": {
    status: 409,
    message: "Event id {id} already stands in the log with other contents. Make a new id. Nothing was stored.",
  },
  "event-refused": { status: 409, message: "The job does not allow this now. Nothing was stored." },
  "job-id-invalid": { status: 400, message: '"{id}" is not a job id. Job ids are UUIDs of version 7.' },
  "job-not-found": { status: 404, message: "There is no job {id} here. It may be on another server, or the address is mistyped." },
  "no-circuit": { status: 409, message: "The job has no circuit yet, or its text has errors. Write it first." },
  "no-stand-in": { status: 409, message: "No simulated vehicle stands behind this job. Take the reading on the vehicle and type it." },
  "practice-open": { status: 409, message: "The job is still open, and what is wrong stays hidden. Close it, then the debrief is there." },
  "practice-nothing": {
    status: 409,
    message: "On {vehicle} nothing of “{family}” would be noticed. Choose another family or another vehicle.",
  },
  "practice-family": { status: 400, message: "There is no family “{family}” of faults. Choose one of the list." },
  "practice-tool": { status: 409, message: "In this practice job there is no {tool}. Find another way." },
  "practice-fault": {
    status: 400,
    message: "This circuit has no fault “{fault}”. It may be of another version of the wiring; choose it anew.",
  },
  "practice-unknown": { status: 404, message: "There is no scenario “{id}”. It may be of another version; choose one of the list." },
  "place-unknown": { status: 400, message: "{why}. Choose a place that the circuit holds." },
  "bundle-refused": { status: 400, message: "The bundle cannot be taken: {why}. Nothing was stored." },
  "picture-refused": { status: 422, message: "The picture cannot be taken. {why} Nothing was stored." },
  "picture-not-found": { status: 404, message: "There is no picture {hash} here. It may have been taken off, or lie in another shop." },
  "trace-refused": { status: 422, message: "The trace cannot be taken: {why}. Nothing was stored." },
  "trace-not-found": { status: 404, message: "There is no trace {hash} here. It may lie in another shop." },
  "known-good-not-found": { status: 404, message: "There is no known-good {id} on the shelf." },
  "known-good-reused": {
    status: 409,
    message: "Known-good {id} already stands on the shelf with other contents. Make a new id. Nothing was stored.",
  },
  "shelf-full": { status: 409, message: "The shelf holds {most} known-goods and takes no more. Nothing was stored." },
  "shelf-file-refused": { status: 400, message: "The file cannot be taken: {why}. Nothing was stored." },
  "estimate-missing": { status: 409, message: "This job has no estimate yet. Make one on its Repair screen." },
  "vehicle-id-invalid": { status: 400, message: '"{id}" is not a short name of a vehicle. Use small letters, digits and hyphens.' },
  "vehicle-not-found": { status: 404, message: "There is no vehicle {id} here. Choose one from the list of vehicles." },
  "version-not-found": { status: 404, message: "Vehicle {id} has no version {version}." },
  "version-stale": {
    status: 409,
    message:
      "Vehicle {id} stands at version {latest}, and this was made from version {basedOn}. Look at what changed, then save again. Nothing was stored.",
  },
  "harness-invalid": { status: 400, message: "The wiring has {count} errors. Mend them first. Nothing was stored." },
  "link-outside": {
    status: 403,
    message: "{host} lies outside the workshop's network ({ranges}). Give an address within it, or set RHEONOM_LINK_RANGES.",
  },
  "link-own-server": { status: 403, message: "At {host}:{port} stands this server itself, and not a vehicle." },
  "link-host-unknown": { status: 502, message: "{host} is not known on this network. Give the vehicle's address as numbers." },
  "link-not-asked": { status: 502, message: "{host} cannot be asked for vehicles. Is this computer on the workshop's network?" },
  "link-no-answer": { status: 502, message: "No vehicle answers at {host}:{port}. Is the ignition on, and the cable in?" },
  "link-vehicle-gone": { status: 409, message: "No vehicle {vin} was found. Look for it again." },
  "link-late": { status: 502, message: "The vehicle does not answer the request to connect. Switch the ignition on and try again." },
  "link-not-admitted": { status: 502, message: "Not connected: {why}." },
  "link-not-connected": { status: 409, message: "Not connected to a vehicle. Look for it first." },
  "link-lost": { status: 502, message: "The connection to the vehicle is lost. Look for it again." },
  "link-closed": { status: 502, message: "The vehicle has closed the connection. Look for it again." },
  "link-hung-up": { status: 409, message: "The connection was closed here." },
  "link-unreadable": {
    status: 502,
    message: "What the vehicle sends cannot be read ({why}), so the connection was ended. Look for it again.",
  },
  "link-codes-not-kept": { status: 409, message: "The codes are not written down yet. Scan and keep them, then clear." },
  "instrument-no-answer": { status: 502, message: "No instrument answers at {host}:{port}. Is it on, its network on, and the port right?" },
  "instrument-none": { status: 409, message: "No instrument is connected. Connect it first." },
  "instrument-other": { status: 409, message: "The instrument that is connected is no {what}." },
  "instrument-late": {
    status: 502,
    message:
      "The instrument did not answer within {seconds} s, so the connection was ended: a late answer would be taken for another reading. Connect again.",
  },
  "instrument-unreadable": {
    status: 502,
    message: "What the instrument sends cannot be read ({why}), so the connection was ended. Connect again.",
  },
  "instrument-lost": { status: 502, message: "The connection to the instrument is lost. Is it still on? Connect again." },
  "instrument-odd": { status: 502, message: "The instrument recorded nothing that can be used: {why}." },
  "stand-in-none": { status: 409, message: "No simulated vehicle is in use. Look for it first." },
  "stand-in-ended": { status: 502, message: "The simulated vehicle has ended. Look for it again." },
  "stand-in-late": { status: 502, message: "The simulated vehicle does not come up. Try again; the server's log says more." },
  "stand-in-refused": { status: 409, message: "The simulated vehicle did not take that. Look for it again." },
  "message-invalid": { status: 400, message: "The message does not have the expected form: {why}." },
  "not-found": { status: 404, message: "There is nothing at {path}. The API is described at /api/openapi.json." },
  internal: { status: 500, message: "The server failed on this. Try again; if it stays, the server's log says more under {id}." },
} as const satisfies Record<string, { status: number; message: string }>;

export type ErrorCode = keyof typeof ERRORS;

/** A failure that the client is told about. Carries facts; the table has the words. */
export class AppError extends Error {
  readonly code: ErrorCode;
  readonly facts: Readonly<Record<string, string>>;
  readonly issues: Problem["issues"];

  /** `cause`: what the machine said, for the log only. */
  constructor(code: ErrorCode, facts: Readonly<Record<string, string>> = {}, issues: Problem["issues"] = [], cause?: unknown) {
    super(code, { cause });
    this.code = code;
    this.facts = facts;
    this.issues = issues;
  }
}

export function problemOf(error: AppError): { readonly status: number; readonly body: Problem } {
  const { status, message } = ERRORS[error.code];
  const words = message.replace(/\{(\w+)\}/g, (_, name: string) => error.facts[name] ?? "");
  return { status, body: { code: error.code, message: words, issues: error.issues } };
}
