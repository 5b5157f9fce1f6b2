import { expose } from "comlink";
import type { VehicleState } from "@rheonom/core/circuit";
import {
  answerPath,
  judgePath,
  nextWords,
  wordVerdict,
  type PathJudgement,
  type PathAnswer,
  type VerdictWords,
} from "@rheonom/core/diagnosis";
import type { Triage } from "@rheonom/core/codes";
import type { Harness } from "@rheonom/core/harness";
import { predictAll, predictReading, type Leads, type Prediction, type Reading } from "@rheonom/core/instruments";
import {
  buildProof,
  buildReport,
  clampFacts,
  evidenceOf,
  pathsOfJob,
  triageOfJob,
  voltFacts,
  type JobView,
  type Proof,
  type ReadingView,
  type Report,
  type JobPath,
} from "@rheonom/core/job";
import { parseNotation, readTables, type ParseResult, type TableFile, type TablesRead } from "@rheonom/core/notation";
import {
  findPins,
  offersFor,
  PROCEDURES,
  runProcedure,
  suggestionsFor,
  type Choice,
  type PinAnswer,
  type PinReadings,
  type ProcedureView,
  type Target,
} from "@rheonom/core/procedures";

/** Everything the Trace screen shows of one load in one state. */
export interface PathShown {
  readonly trace: PathJudgement;
  readonly answer: PathAnswer;
  readonly words: VerdictWords;
  /** Where to put the leads next, in words. */
  readonly next: string | undefined;
  /** What a sound circuit has everywhere. */
  readonly sound: Prediction | undefined;
}

/** A test of the trade that there is something for on this vehicle, without its functions. */
export interface OfferShown {
  readonly id: string;
  readonly name: string;
  readonly asks: string;
  readonly cautions: readonly string[];
  readonly choices: readonly Choice[];
  readonly targets: readonly Target[];
}

export interface AskedProcedure {
  readonly id: string;
  readonly target: string;
  readonly chosen: Readonly<Record<string, string>>;
  readonly state: VehicleState;
}

export interface RecordShown {
  readonly report: Report;
  readonly traces: readonly JobPath[];
  /** What a sound circuit has everywhere in the state of the first trace. */
  readonly sound: Prediction | undefined;
}

const predictionOf = (harness: Harness, state: VehicleState): Prediction | undefined => {
  const found = predictAll(harness, state, []);
  return "volts" in found ? found : undefined;
};

/** What was computed for a vehicle is kept by the harness itself, so that a new copy of the one before must not take its place. */
let held: { readonly name: string; readonly harness: Harness } | undefined;
function keep(name: string, harness: Harness): Harness {
  if (held?.name !== name) held = { name, harness };
  return held.harness;
}

/** The model's work, away from the page's thread. */
const host = {
  parse: (text: string): ParseResult => parseNotation(text),
  trace(harness: Harness, view: JobView, readings: readonly ReadingView[], load: string, state: VehicleState): PathShown | string {
    const trace = judgePath(harness, state, load, view.rules, voltFacts(readings, state), clampFacts(readings, state));
    if (!("stretches" in trace)) return trace.message;
    const answer = answerPath(harness, state, trace);
    return {
      trace,
      answer,
      words: wordVerdict(harness, trace, answer),
      next: answer.next === undefined ? undefined : nextWords(harness, answer.next),
      sound: predictionOf(harness, state),
    };
  },
  read: (harness: Harness, state: VehicleState, leads: Leads): Reading => predictReading(harness, state, [], leads),
  sound: predictionOf,
  tables: (files: readonly TableFile[], onProgress: (share: number) => void): TablesRead => readTables(files, onProgress),
  offers: (name: string, harness: Harness): readonly OfferShown[] =>
    offersFor(keep(name, harness)).map(({ procedure: { id, name, asks, cautions, choices }, targets }) => ({
      id,
      name,
      asks,
      cautions,
      choices,
      targets,
    })),
  /** Tests that suit what is complained of or suspected. */
  advised: (name: string, harness: Harness, focus: readonly string[], suspects: readonly string[], intermittent: boolean) =>
    suggestionsFor(keep(name, harness), focus, suspects, intermittent).map(({ procedure, target }) => ({
      id: procedure.id,
      target: target.element,
      words: `${procedure.name}: ${target.element}`,
    })),
  procedure(name: string, harness: Harness, view: JobView, { id, ...asked }: AskedProcedure): ProcedureView {
    const procedure = PROCEDURES.find((p) => p.id === id);
    if (procedure === undefined) throw new RangeError(`There is no test called ${id}.`);
    return runProcedure(procedure, { harness: keep(name, harness), ...asked, rules: view.rules }, evidenceOf(view));
  },
  triage: (name: string, harness: Harness, view: JobView): Triage | undefined => triageOfJob(keep(name, harness), view),
  pins: (readings: PinReadings): PinAnswer => findPins(readings),
  proof: (harness: Harness, view: JobView): Proof => buildProof(harness, view),
  record(harness: Harness | undefined, view: JobView, now: string): RecordShown {
    const traces = harness === undefined ? [] : pathsOfJob(harness, view);
    const first = traces[0];
    return {
      report: buildReport(view, harness, now),
      traces,
      sound: harness === undefined || first === undefined ? undefined : predictionOf(harness, first.state),
    };
  },
};
export type ModelHost = typeof host;

expose(host);
