import { batteryNegative, lookupOf, type Harness } from "../../harness/index.ts";
import { observableWords } from "../evidence/describe.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { voltsIn } from "../simulate/row.ts";
import type { Diagnosis } from "./diagnose.ts";

/** Evidence that can hardly be meant as it stands, and why. */
export interface Questioned {
  readonly evidence: string;
  readonly words: string;
}

const isModule = (harness: Harness, id: string): boolean => {
  const part = lookupOf(harness).parts.get(id);
  return part?.kind === "device" && part.device === "module";
};

/** "U0140-87" → "U0140": what the code is about, without how it failed. */
const withoutType = (code: string): string => code.split("-")[0]!;

/** Codes of lost communication that no module of this vehicle sets, and silence of what is no module. Other codes that the vehicle's file leaves out may well be set. */
export const questionedOf = (harness: Harness, evidence: readonly Evidence[]): readonly Questioned[] =>
  evidence.flatMap(({ id, observe: o, result }) => {
    if (o.kind === "answers" && !isModule(harness, o.module))
      return [{ evidence: id, words: `${o.module} is not a module: it cannot answer, nor be silent. Which module is meant?` }];
    if (o.kind !== "code" || !o.code.startsWith("U") || result.kind !== "word" || result.word === "absent") return [];
    if (harness.monitors?.some((m) => withoutType(m.code) === withoutType(o.code)) === true) return [];
    return [
      {
        evidence: id,
        words: `Nothing on this vehicle, as its wiring and options are written, sets ${o.code}: it is about a module that the vehicle does not have, by a wrong configuration, or the options are not as written.`,
      },
    ];
  });

/** A black-lead point that a suspect lifts from the battery's negative post. */
export interface Reference {
  readonly place: string;
  readonly words: string;
}

/** A suspect of this much, and a reference that it lifts by so much, is worth a word. */
const LIKELY = 0.05;
const LIFTED_VOLTS = 0.1;

/** Places that readings were taken against and that may not stand at battery negative. */
export function referencesOf(d: Diagnosis, evidence: readonly Evidence[]): readonly Reference[] {
  const { oracle, belief } = d;
  const minus = batteryNegative(oracle.space.harness);
  const leaders = belief.alive.filter((c) => belief.posterior(c) > LIKELY);
  const found = new Map<string, Reference>();
  for (const { state, observe: o } of evidence) {
    if (o.kind !== "volts" || o.black === minus || found.has(o.black)) continue;
    const view = oracle.view(state);
    const across = (c: (typeof leaders)[number] | undefined): number => {
      const row = oracle.row(state, c);
      return view === undefined || row === undefined ? 0 : Math.abs(voltsIn(view, row, o.black, minus) ?? 0);
    };
    // A reading across a part has its black lead on the part: only what should stand at ground is a reference.
    if (across(undefined) > LIFTED_VOLTS) continue;
    const lifting = leaders.find((c) => across(belief.bestAt(c)) > LIFTED_VOLTS);
    if (lifting === undefined) continue;
    const by = across(belief.bestAt(lifting)).toFixed(1);
    found.set(o.black, {
      place: o.black,
      words: `The black lead stood on ${o.black}, which may itself be ${by} V off (${lifting.fault.words}): ${observableWords(oracle.space.harness, o)} says less than it seems. Put the black lead on the battery's negative post.`,
    });
  }
  return [...found.values()];
}
