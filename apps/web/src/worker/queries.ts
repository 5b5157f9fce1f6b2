import type { Fault, VehicleState } from "@rheonom/core/circuit";
import type { Triage } from "@rheonom/core/codes";
import {
  answerCase,
  answerFrom,
  answerPath,
  diagnose,
  firstMeasured,
  foreseen,
  isFirstAnswer,
  judgePath,
  leadingOf,
  nextWords,
  outcomesOfTest,
  predictionIn,
  readyToJudge,
  standingOf,
  wordVerdict,
  type CaseAnswer,
  type Evidence,
  type PathAnswer,
  type PathJudgement,
  type PossibleOutcome,
  type Question,
  type SearchExtent,
  type Standing,
  type Test,
  type VerdictWords,
} from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import {
  amplitudeLost,
  goodTraces,
  predictReading,
  predictTraces,
  type AmplitudeLost,
  type Leads,
  type Prediction,
  type Probe,
  type Reading,
  type Recording,
} from "@rheonom/core/instruments";
import {
  buildProof,
  asleepIn,
  buildReport,
  clampFacts,
  namedParts,
  partWords,
  symptomsIn,
  symptomState,
  wholeSymptoms,
  pathsOfJob,
  triageOfJob,
  voltFacts,
  type JobPath,
  type JobView,
  type Proof,
  type ReadingView,
  type Report,
  type SymptomLine,
  type SymptomOffer,
} from "@rheonom/core/job";
import type { RuleSet } from "@rheonom/core/limits";
import type { GoodTrace } from "@rheonom/core/waveform";
import { repairPlan, type PlanQuestion, type RepairPlan } from "@rheonom/core/repair";
import { faultsAt, faultsNamed, pathWith, whatIfOf, type FaultChoice, type SupposedHere, type WhatIf } from "@rheonom/core/practice";
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
  readonly judged: PathJudgement;
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

export interface RecordShown {
  readonly report: Report;
  readonly traces: readonly JobPath[];
  /** What a sound circuit has everywhere in the state of the first judged. */
  readonly sound: Prediction | undefined;
}

/** How far the next test was looked for: not at all, among what lies at hand, or everywhere. */
export interface PartialDiagnosis {
  readonly extent: SearchExtent;
  readonly answer: CaseAnswer;
}

/** What probes would show with a suspect, V, or with several for which it comes to the same. */
export interface SuspectTraces {
  /** "C3.1 about 30 kΩ". */
  readonly suspects: readonly string[];
  readonly probability: number;
  readonly channels: readonly Float32Array[];
}

/** Suspects that are looked at for what they show on a scope. */
const MOST_LEADING = 6;
/** Traces that nowhere differ by more than this share of the swing and so many V are the same. */
const SAME_TRACE = { share: 0.02, volts: 0.05 } as const;

function isSameTrace(a: Float32Array, b: Float32Array): boolean {
  let [low, high, by] = [Infinity, -Infinity, 0];
  for (let i = 0; i < a.length; i++) {
    low = Math.min(low, a[i]!);
    high = Math.max(high, a[i]!);
    by = Math.max(by, Math.abs(a[i]! - b[i]!));
  }
  return by <= SAME_TRACE.volts + SAME_TRACE.share * (high - low);
}

/** What a query may do while it works. */
export interface Work<P> {
  /** Tells how far it has come, or what it has so far. */
  readonly report: (progress: P) => void;
  /** Lets the worker hear what has come meanwhile; false when nobody waits for this any more. */
  readonly goOn: () => Promise<boolean>;
}

const predictionOf = (harness: Harness, state: VehicleState): Prediction | undefined => {
  const found = predictionIn(harness, state, [], undefined);
  return "volts" in found ? found : undefined;
};

/** What is asked for an answer at once: from the complaint alone in the rough; else without looking further than near the complaint. */
const firstOf = (q: Question): Question => (isFirstAnswer(q) ? { ...q, isRough: true } : { ...q, isNear: true });

/** Questions about a harness that was opened. Each is a function of its input alone, so that equal inputs have equal answers. */
export const HARNESS_QUERIES = {
  sound: (harness: Harness, { state }: { readonly state: VehicleState }): Prediction | undefined => predictionOf(harness, state),
  read: (harness: Harness, { state, leads }: { readonly state: VehicleState; readonly leads: Leads }): Reading =>
    predictReading(harness, state, [], leads),
  path(
    harness: Harness,
    {
      state,
      load,
      rules,
      readings,
    }: { readonly state: VehicleState; readonly load: string; readonly rules: RuleSet; readonly readings: readonly ReadingView[] },
  ): PathShown | string {
    const judged = judgePath(harness, state, load, rules, voltFacts(readings, state), clampFacts(readings, state));
    if (!("stretches" in judged)) return judged.message;
    const answer = answerPath(harness, state, judged);
    return {
      judged,
      answer,
      words: wordVerdict(harness, judged, answer),
      next: answer.next === undefined ? undefined : nextWords(harness, answer.next),
      sound: predictionOf(harness, state),
    };
  },
  /** Prepares what a reading in this state will be judged by. */
  ready: (harness: Harness, { state, readings }: { readonly state: VehicleState; readonly readings: readonly ReadingView[] }): void =>
    readyToJudge(harness, state, voltFacts(readings, state)),
  offers: (harness: Harness, _: Readonly<Record<never, never>>): readonly OfferShown[] =>
    offersFor(harness).map(({ procedure: { id, name, asks, cautions, choices }, targets }) => ({
      id,
      name,
      asks,
      cautions,
      choices,
      targets,
    })),
  /** Tests that suit what is complained of or suspected. */
  suggestions: (
    harness: Harness,
    {
      focus,
      suspects,
      intermittent,
    }: { readonly focus: readonly string[]; readonly suspects: readonly string[]; readonly intermittent: boolean },
  ): readonly { readonly id: string; readonly target: string; readonly words: string }[] =>
    suggestionsFor(harness, focus, suspects, intermittent).map(({ procedure, target }) => ({
      id: procedure.id,
      target: target.element,
      words: `${procedure.name}: ${target.element}`,
    })),
  procedure(
    harness: Harness,
    {
      id,
      evidence,
      ...asked
    }: {
      readonly id: string;
      readonly target: string;
      readonly chosen: Readonly<Record<string, string>>;
      readonly state: VehicleState;
      readonly rules: RuleSet;
      readonly evidence: readonly Evidence[];
    },
  ): ProcedureView {
    const procedure = PROCEDURES.find((p) => p.id === id);
    if (procedure === undefined) throw new RangeError(`There is no test called ${id}.`);
    return runProcedure(procedure, { harness, ...asked }, evidence);
  },
  /** Modules that need not answer in a state. */
  asleep: (harness: Harness, { state }: { readonly state: VehicleState }): readonly string[] => asleepIn(harness, state),
  triage: (harness: Harness, { view }: { readonly view: JobView }): Triage | undefined => triageOfJob(harness, view),
  proof: (harness: Harness, { view }: { readonly view: JobView }): Proof => buildProof(harness, view),
  /** What a good circuit shows at each of these probes; none where it has no answer. */
  good(
    harness: Harness,
    { state, probes, recording }: { readonly state: VehicleState; readonly probes: readonly Probe[]; readonly recording: Recording },
  ): readonly GoodTrace[] {
    const traces = goodTraces(harness, state, [], probes, recording);
    return "kind" in traces ? [] : traces;
  },
  /** What in series with a wire would bring its pulses down to these levels, V. */
  amplitudeLost: (
    harness: Harness,
    {
      state,
      leads,
      seen,
    }: {
      readonly state: VehicleState;
      readonly leads: { readonly red: string; readonly black: string };
      readonly seen: { readonly low: number; readonly high: number };
    },
  ): AmplitudeLost | undefined => amplitudeLost(harness, state, leads, seen),
  /** All that can be wrong with a wire, cavity, ground or part. */
  faultsAt: (harness: Harness, { at }: { readonly at: string }): readonly FaultChoice[] => faultsAt(harness, at),
  /** What the vehicle would be like with these faults, beside a good one; undefined where the circuit has no answer. */
  suppose(
    harness: Harness,
    { state, supposed }: { readonly state: VehicleState; readonly supposed: readonly SupposedHere[] },
  ): WhatIf | undefined {
    const faults = faultsNamed(harness, supposed);
    return faults === undefined ? undefined : whatIfOf(harness, state, faults);
  },
  /** The path of a load with faults that are supposed. */
  supposePath(
    harness: Harness,
    { state, supposed, load }: { readonly state: VehicleState; readonly supposed: readonly SupposedHere[]; readonly load: string },
  ): PathJudgement | undefined {
    const faults = faultsNamed(harness, supposed);
    return faults === undefined ? undefined : pathWith(harness, state, load, faults);
  },
  /** What each of these probes would show with faults that are supposed, V; none where the circuit has no answer. */
  whatIf(
    harness: Harness,
    {
      state,
      probes,
      recording,
      faults,
    }: {
      readonly state: VehicleState;
      readonly probes: readonly Probe[];
      readonly recording: Recording;
      readonly faults: readonly Fault[];
    },
  ): readonly Float32Array[] {
    const traces = predictTraces(harness, state, faults, probes, recording);
    return traces.kind === "traces" ? traces.channels.map((c) => Float32Array.from(c)) : [];
  },
  /**
   * What each of these probes would show with the leading suspects, likeliest first; those that show the same stand together, and those for which the circuit has no answer are left out.
   * Tells how many it has worked out.
   */
  async suspectTraces(
    harness: Harness,
    {
      question,
      most,
      state,
      probes,
      recording,
    }: {
      readonly question: Omit<Question, "harness">;
      /** Different traces at most. */
      readonly most: number;
      readonly state: VehicleState;
      readonly probes: readonly Probe[];
      readonly recording: Recording;
    },
    { report, goOn }: Work<{ readonly done: number; readonly of: number }>,
  ): Promise<readonly SuspectTraces[]> {
    const leading = leadingOf(diagnose({ ...question, harness }), MOST_LEADING);
    const drawn: SuspectTraces[] = [];
    for (const [done, { words, probability, faults }] of leading.entries()) {
      report({ done, of: leading.length });
      if (!(await goOn())) break;
      const traces = predictTraces(harness, state, faults, probes, recording);
      if (traces.kind !== "traces") continue;
      const channels = traces.channels.map((c) => Float32Array.from(c));
      const same = drawn.findIndex((d) => d.channels.every((c, k) => isSameTrace(c, channels[k]!)));
      const { suspects, probability: others } = drawn[same] ?? { suspects: [], probability: 0 };
      if (same >= 0) drawn[same] = { ...drawn[same]!, suspects: [...suspects, words], probability: others + probability };
      else if (drawn.length < most) drawn.push({ suspects: [words], probability, channels });
    }
    return drawn;
  },
  record(harness: Harness, { view, now }: { readonly view: JobView; readonly now: string }): RecordShown {
    const traces = pathsOfJob(harness, view);
    const first = traces[0];
    return {
      report: buildReport(view, harness, now),
      traces,
      sound: first === undefined ? undefined : predictionOf(harness, first.state),
    };
  },
  /** Weighs all suspects: what is left at once, then with a test at hand, at last with the best of all. */
  async diagnosis(
    harness: Harness,
    question: Omit<Question, "harness">,
    { report, goOn }: Work<PartialDiagnosis>,
  ): Promise<CaseAnswer | undefined> {
    const q = { ...question, harness };
    const atOnce = firstOf(q);
    const first = diagnose(atOnce);
    for (const extent of ["none", "at hand"] as const) {
      // First what can be told at once, then everything.
      report({ extent, answer: answerFrom(first, q, extent) });
      if (!(await goOn())) return undefined;
    }
    const isAll = atOnce.isRough !== true && !first.isNarrow;
    const d = isAll ? first : diagnose(q);
    if (!isAll && !(await goOn())) return undefined;
    return answerFrom(d, q, "as needed");
  },
  /** Symptom lines that words may mean on this vehicle. */
  symptoms: (harness: Harness, { words }: { readonly words: string }): readonly SymptomOffer[] => symptomsIn(harness, words),
  /** Parts whose doing somebody tells of, by name. */
  symptomParts: (harness: Harness, _: Readonly<Record<never, never>>): readonly { readonly id: string; readonly text: string }[] =>
    namedParts(harness).map((c) => ({ id: c.id, text: partWords(c) })),
  /** Symptoms of the whole vehicle, as words that lines are offered from. */
  wholeSymptoms: (harness: Harness, _: Readonly<Record<never, never>>): readonly string[] => wholeSymptoms(harness),
  /** The state in which a symptom shows. */
  symptomState: (harness: Harness, line: Omit<SymptomLine, "label">): VehicleState => symptomState(harness, line),
  /** Why something is, or is not, among the suspects. */
  standing: (harness: Harness, { question, name }: { readonly question: Omit<Question, "harness">; readonly name: string }): Standing =>
    standingOf({ ...question, harness }, name),
  /** What would be left of the suspects after each outcome of a test. */
  outcomes: (
    harness: Harness,
    { question, test }: { readonly question: Omit<Question, "harness">; readonly test: Test },
  ): readonly PossibleOutcome[] => outcomesOfTest({ ...question, harness }, test),
  /** What the findings amount to, without a next test. */
  weighed: (harness: Harness, { question }: { readonly question: Omit<Question, "harness"> }): CaseAnswer =>
    answerCase({ ...question, harness }, "none"),
  /** Everything to be known of a repair before it is done. */
  repair: (harness: Harness, asked: PlanQuestion): RepairPlan => repairPlan(harness, asked),
  /** Works the first answer out before it is asked for. */
  async ahead(harness: Harness, question: Omit<Question, "harness">, { goOn }: Work<never>): Promise<void> {
    const q = { ...question, harness };
    const d = diagnose(firstOf(q));
    answerFrom(d, q, "none");
    if (await goOn()) answerFrom(d, q, "at hand");
  },
  /** Thinks the likeliest outcomes of a test through while hands are at work: of the proposed one, or of that for which the leads were put on. */
  async foresight(
    harness: Harness,
    { question, test }: { readonly question: Omit<Question, "harness">; readonly test?: Test },
    { goOn }: Work<never>,
  ): Promise<void> {
    const q = { ...question, harness };
    const d = diagnose(q);
    if (d.enough?.yes === true) return;
    const battery = test === undefined ? firstMeasured(q, d) : undefined;
    for (const next of [...(battery === undefined ? [] : [battery]), ...foreseen(q, d, test)]) {
      if (!(await goOn())) return;
      answerCase(firstOf(next), "at hand");
    }
  },
};

/** Questions that need no harness. */
export const OTHER_QUERIES = {
  parse: ({ text }: { readonly text: string }): ParseResult => parseNotation(text),
  tables: ({ files }: { readonly files: readonly TableFile[] }, { report }: Work<number>): TablesRead => readTables(files, report),
  pins: ({ readings }: { readonly readings: PinReadings }): PinAnswer => findPins(readings),
  report: ({ view, now }: { readonly view: JobView; readonly now: string }): RecordShown => ({
    report: buildReport(view, undefined, now),
    traces: [],
    sound: undefined,
  }),
};

type HarnessQueries = typeof HARNESS_QUERIES;
type OtherQueries = typeof OTHER_QUERIES;
export type HarnessQuery = keyof HarnessQueries;
export type OtherQuery = keyof OtherQueries;
export type QueryName = HarnessQuery | OtherQuery;

export type InputOf<K extends QueryName> = K extends HarnessQuery
  ? Parameters<HarnessQueries[K]>[1]
  : K extends OtherQuery
    ? Parameters<OtherQueries[K]>[0]
    : never;
export type AnswerOf<K extends QueryName> = Awaited<
  ReturnType<K extends HarnessQuery ? HarnessQueries[K] : K extends OtherQuery ? OtherQueries[K] : never>
>;
type WorkOf<A extends readonly unknown[]> = Extract<A[number], { readonly report: unknown }>;
/** What a query reports while it works. */
export type ProgressOf<K extends QueryName> =
  WorkOf<K extends HarnessQuery ? Parameters<HarnessQueries[K]> : K extends OtherQuery ? Parameters<OtherQueries[K]> : never> extends Work<
    infer P
  >
    ? P
    : never;
