import { expose } from "comlink";
import type { VehicleState } from "@rheonom/core/circuit";
import { answerTrace, judgePath, nextWords, wordVerdict, type Trace, type TraceAnswer, type VerdictWords } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { predictAll, predictReading, type Leads, type Prediction, type Reading } from "@rheonom/core/instruments";
import {
  buildProof,
  buildReport,
  clampFacts,
  tracesOfJob,
  voltFacts,
  type JobView,
  type Proof,
  type ReadingView,
  type Report,
  type TraceOfJob,
} from "@rheonom/core/job";
import { parseNotation, readTables, type ParseResult, type TableFile, type TablesRead } from "@rheonom/core/notation";
import { findPins, type PinAnswer, type PinReadings } from "@rheonom/core/procedures";

/** Everything the Trace screen shows of one load in one state. */
export interface TraceShown {
  readonly trace: Trace;
  readonly answer: TraceAnswer;
  readonly words: VerdictWords;
  /** Where to put the leads next, in words. */
  readonly next: string | undefined;
  /** What a sound circuit has everywhere. */
  readonly sound: Prediction | undefined;
}

export interface RecordShown {
  readonly report: Report;
  readonly traces: readonly TraceOfJob[];
  /** What a sound circuit has everywhere in the state of the first trace. */
  readonly sound: Prediction | undefined;
}

const predictionOf = (harness: Harness, state: VehicleState): Prediction | undefined => {
  const found = predictAll(harness, state, []);
  return "volts" in found ? found : undefined;
};

/** The model's work, away from the page's thread. */
const host = {
  parse: (text: string): ParseResult => parseNotation(text),
  trace(harness: Harness, view: JobView, readings: readonly ReadingView[], load: string, state: VehicleState): TraceShown | string {
    const trace = judgePath(harness, state, load, view.rules, voltFacts(readings, state), clampFacts(readings, state));
    if (!("stretches" in trace)) return trace.message;
    const answer = answerTrace(harness, state, trace);
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
  pins: (readings: PinReadings): PinAnswer => findPins(readings),
  proof: (harness: Harness, view: JobView): Proof => buildProof(harness, view),
  record(harness: Harness | undefined, view: JobView, now: string): RecordShown {
    const traces = harness === undefined ? [] : tracesOfJob(harness, view);
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
