import { randomBytes } from "node:crypto";
import { REST_STATE } from "@rheonom/core/circuit";
import { uuidV7, type JobEvent } from "@rheonom/core/job";

let last = 0;
export const newId = (): string => {
  last = Math.max(last + 1, Date.now());
  return uuidV7(last, randomBytes(10));
};
type Body = JobEvent extends infer E ? (E extends JobEvent ? { type: E["type"]; data: unknown } : never) : never;
export const event = (jobId: string, body: Body): unknown => ({
  id: newId(),
  jobId,
  at: new Date().toISOString(),
  by: "Pell Anderby",
  ...body,
});

const WORDS = ["slow", "dim", "dead", "hot", "noisy", "flickers", "in rain", "after a wash", "on bumps", "when cold"];
const THINGS = ["fan", "work lamp", "starter", "rear screen", "horn", "pump", "blower", "engine lamp", "charge lamp", "door lock"];
const VEHICLES = ["Selwick Plover 2.0 D", "Tavrin Brigg 3.0 V6", "Tavrin Ouse", "Morven Gritter"];

/** The n-th made-up job. */
export const opened = (jobId: string, n: number): unknown =>
  event(jobId, {
    type: "job-opened",
    data: {
      vehicle: VEHICLES[n % 4],
      registration: `SKV ${n}`,
      words: `The ${THINGS[n % 10]} is ${WORDS[Math.floor(n / 10) % 10]}, and has been since job ${n}.`,
    },
  });

/** Where the leads go in turn. */
const PLACES = ["HTR.1", "F7.1", "F7.2", "SW3.1", "SW3.2", "C5.2", "HTR.2", "G6"];
export const reading = (jobId: string, n: number): unknown => {
  const value = 10 + (n % 250) / 100;
  return event(jobId, {
    type: "reading-taken",
    data: {
      leads: { quantity: "volts", red: PLACES[n % PLACES.length]!, black: "BAT.-" },
      state: { ...REST_STATE, key: "run" },
      load: "HTR",
      text: value.toFixed(2),
      shown: { kind: "value", quantity: "volts", value },
      instrument: "typed",
    },
  });
};

export const CIRCUIT = `circuit "Cab heater, bench van"
BAT(12.6V) -- W1 RD 6mm2 0.8m -- F7(25A) -- W2 RD/BU 2.5mm2 2.4m -- SW3 -- W3 BU 2.5mm2 1.6m -- C5.2 -- W4 BU 2.5mm2 0.9m -- HTR(heater 15A "cab heater")
HTR -- W5 BK 2.5mm2 0.7m -- G6
G1 -- W6 BK 25mm2 0.5m -- BAT`;
