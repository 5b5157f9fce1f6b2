import type { Problem } from "@rheonom/contract/problem";

/** Every kind of failure that leaves the server: its status and its words. Facts are filled in at {name}. */
export const ERRORS = {
  "body-not-json": { status: 400, message: "The body is not JSON: {why}. Nothing was stored." },
  "body-type": { status: 415, message: "Send the body as application/json. Nothing was stored." },
  "body-too-large": { status: 413, message: "The body is larger than {limit}. Send less at a time. Nothing was stored." },
  "body-invalid": { status: 400, message: "The body does not have the expected form. Nothing was stored." },
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
  "place-unknown": { status: 400, message: "{why}. Choose a place that the circuit holds." },
  "vehicle-id-invalid": { status: 400, message: '"{id}" is no short name of a vehicle. Use small letters, digits and hyphens.' },
  "vehicle-not-found": { status: 404, message: "There is no vehicle {id} here. Choose one from the list of vehicles." },
  "version-not-found": { status: 404, message: "Vehicle {id} has no version {version}." },
  "version-stale": {
    status: 409,
    message:
      "Vehicle {id} stands at version {latest}, and this was made from version {basedOn}. Look at what changed, then save again. Nothing was stored.",
  },
  "harness-invalid": { status: 400, message: "The wiring has {count} errors. Mend them first. Nothing was stored." },
  "not-found": { status: 404, message: "There is nothing at {path}. The API is described at /api/openapi.json." },
  internal: { status: 500, message: "The server failed on this. Try again; if it stays, the server's log says more under {id}." },
} as const satisfies Record<string, { status: number; message: string }>;

export type ErrorCode = keyof typeof ERRORS;

/** A failure that the client is told about. Carries facts; the table has the words. */
export class AppError extends Error {
  readonly code: ErrorCode;
  readonly facts: Readonly<Record<string, string>>;
  readonly issues: Problem["issues"];

  constructor(code: ErrorCode, facts: Readonly<Record<string, string>> = {}, issues: Problem["issues"] = []) {
    super(code);
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
