import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import { parseReading, type Leads } from "../instruments/index.ts";
import { jobEvent, uuidV7, type JobEvent } from "../job/index.ts";

type Body = JobEvent extends infer E ? (E extends JobEvent ? { type: E["type"]; data: unknown } : never) : never;

export const COMPLAINT = {
  vehicle: "Selwick Plover",
  registration: "SKV 1",
  mileage: "",
  words: "The fan is weak.",
  conditions: "",
  triedBefore: "",
  triedBy: "",
  warningLamps: [],
  reproduced: "not tried",
  reproducedHow: "",
  risk: "not judged",
  riskWhy: "",
  vin: "",
  circumstances: [],
  highVoltage: false,
};

/** Writes events with rising ids and times, as one device would. */
export class LogWriter {
  #count = 0;
  readonly jobId: string = this.id();
  readonly events: JobEvent[] = [];

  id(): string {
    this.#count++;
    return uuidV7(
      1_700_000_000_000 + this.#count,
      Uint8Array.from({ length: 10 }, (_, i) => (this.#count * 7 + i) % 256),
    );
  }

  make(type: Body["type"], data: unknown, by = "Inga"): JobEvent {
    const id = this.id();
    return jobEvent.parse({ id, jobId: this.jobId, at: new Date(1_700_000_000_000 + this.#count * 60_000).toISOString(), by, type, data });
  }

  add(type: Body["type"], data: unknown, by = "Inga"): JobEvent {
    const event = this.make(type, data, by);
    this.events.push(event);
    return event;
  }

  read(text: string, red: string, options: { black?: string; state?: VehicleState; load?: string } = {}): JobEvent {
    const typed = parseReading(text);
    if (typed.kind !== "value") throw new Error(text);
    const leads: Leads =
      typed.quantity === "amps" ? { quantity: "amps", around: red } : { quantity: typed.quantity, red, black: options.black ?? "BAT.-" };
    const shown = { kind: "value", quantity: typed.quantity, value: typed.value };
    return this.add("reading-taken", {
      leads,
      state: options.state ?? REST_STATE,
      load: options.load ?? "FAN",
      text,
      shown,
      instrument: "typed",
    });
  }
}
