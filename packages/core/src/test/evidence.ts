import type { Fault, VehicleState } from "../circuit/index.ts";
import { DEFAULT_QUESTION, type Evidence, type Observable, type Question, type ResultWord, shownBy } from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";

let made = 0;
const nextId = (): string => `e${++made}`;

/** What a technician says of a thing. */
export const said = (state: VehicleState, observe: Observable, word: ResultWord, more: Partial<Evidence> = {}): Evidence => ({
  id: nextId(),
  state,
  observe,
  result: { kind: "word", word },
  source: "technician",
  ...more,
});

/** What the full model shows of a thing with these faults, in the steps of its display. */
export const shown = (harness: Harness, state: VehicleState, observe: Observable, truth: readonly Fault[]): Evidence => ({
  id: nextId(),
  state,
  observe,
  result: shownBy(harness, { state, observe }, truth),
  source: "technician",
});

/** A reading of the full model's meter, to two decimals. Throws where it shows no number. */
export function read(harness: Harness, state: VehicleState, red: string, black: string, truth: readonly Fault[]): Evidence {
  const seen = shown(harness, state, { kind: "volts", red, black }, truth);
  if (seen.result.kind !== "value") throw new Error(`no value at ${red}`);
  return { ...seen, result: { ...seen.result, value: Number(seen.result.value.toFixed(2)) } };
}

/** The usual question about these parts, from this evidence. */
export const ask = (
  harness: Harness,
  focus: readonly string[],
  state: VehicleState,
  evidence: readonly Evidence[],
  more: Partial<Question> = {},
): Question => ({ ...DEFAULT_QUESTION, harness, focus, state, evidence, ...more });
