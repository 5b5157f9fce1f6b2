import { REST_STATE, type Fault, type VehicleState } from "../circuit/index.ts";
import { DEFAULT_QUESTION, findingsOf, shownBy, type Evidence, type Observable } from "../diagnosis/index.ts";
import { debriefOf, type Act, type Debrief, type Played } from "../practice/debrief.ts";
import { circuitOf } from "./circuits.ts";

/** A cab heater on a long feed with 0.6 Ω in C5.2, as somebody worked on it. */
export const heater = circuitOf(`
BAT(12.6V) -- W1 RD 6mm2 0.8m -- F7(25A) -- W2 RD/BU 2.5mm2 2.4m -- SW3 -- W3 BU 2.5mm2 1.6m -- C5.2 -- W4 BU 2.5mm2 0.9m -- HTR(heater 15A "cab heater")
HTR -- W5 BK 2.5mm2 0.7m -- G6
G1 -- W6 BK 25mm2 0.5m -- BAT
`);
export const heaterOn: VehicleState = { ...REST_STATE, on: ["SW3"] };
export const heaterFault: readonly Fault[] = [{ kind: "series", link: "C5.2", ohms: 0.6 }];

let n = 0;
/** What the heater with its fault shows to a test. */
export const foundOnHeater = (observe: Observable, state = heaterOn): Evidence => ({
  id: `e${++n}`,
  state,
  observe,
  result: shownBy(heater, { state, observe }, heaterFault),
  source: "technician",
});
export const volts = (red: string, black = "BAT.-"): Observable => ({ kind: "volts", red, black });

const told: readonly Evidence[] = [
  { id: "c", state: heaterOn, observe: { kind: "part", part: "HTR" }, result: { kind: "word", word: "weak" }, source: "customer" },
];
export const heaterPlayed = (evidence: readonly Evidence[], acts: readonly Act[], more: Partial<Played> = {}): Debrief =>
  debriefOf({
    question: { ...DEFAULT_QUESTION, harness: heater, focus: ["HTR"], state: heaterOn },
    told,
    found: findingsOf(evidence),
    acts,
    truth: heaterFault,
    ...more,
  });
