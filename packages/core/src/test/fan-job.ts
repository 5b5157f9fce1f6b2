import type { Scan } from "../codes/index.ts";
import { foldJob, type JobView } from "../job/fold.ts";
import { circuitOf, FAN, fanOn } from "./circuits.ts";
import { COMPLAINT, LogWriter } from "./log.ts";

export const fan = circuitOf(FAN);
export const MEND = { at: "C1.4", found: "Green socket", cause: "", method: "terminal renewed", done: "New terminal" };
export const CLOSING = { safeToDrive: "yes", advice: "", withoutProof: "" } as const;

export const viewOf = (log: LogWriter): JobView => {
  const view = foldJob(log.events);
  if (view === undefined) throw new Error("empty log");
  return view;
};

/** A job on the fan with 2 Ω in C1.4: readings as the model shows them there (0.8497 A). */
export function tracedJob(): LogWriter {
  const log = new LogWriter();
  log.add("job-opened", COMPLAINT);
  log.add("circuit-set", { notation: FAN });
  for (const [text, red] of [
    ["11.99", "BAT.+"],
    ["10.19", "FAN.1"],
    ["11.90", "C1.4a"],
    ["10.20", "C1.4b"],
  ] as const)
    log.read(text, red, { state: fanOn });
  return log;
}

export const SCAN: Scan = {
  format: "rheonom-scan",
  version: 1,
  takenAt: "2026-05-20T10:00:00.000Z",
  source: "typed",
  modules: [{ id: "ECM", answers: false }],
  codes: [{ module: "BCM", code: "U0100", failureType: "87", status: "active" }],
};
