export type { Staircase, StaircaseResult, Step } from "./staircase.ts";
export { buildStaircase } from "./staircase.ts";
export type { Conflict, VoltFact } from "./potentials.ts";
export { joinPotentials } from "./potentials.ts";
export type { ClampFact, Stretch, Trace } from "./judge.ts";
export { judgePath } from "./judge.ts";
export type { NextLeads, TraceAnswer, TraceVerdict } from "./verdict.ts";
export { answerTrace } from "./verdict.ts";
export type { VerdictWords } from "./words.ts";
export { nextWords, stretchName, whyWords, wordVerdict } from "./words.ts";
export type { Circumstance, Evidence, Observable, Result, ResultWord } from "./evidence.ts";
export {
  circumstance as circumstanceSchema,
  evidence as evidenceSchema,
  fitsWord,
  observable as observableSchema,
  RESULT_WORDS,
  result as resultSchema,
} from "./evidence.ts";
export type { Case, Pool, Repair } from "./pool.ts";
export { poolOf } from "./pool.ts";
export type { Row, View } from "./view.ts";
export { flickersIn, viewOf, voltsIn, workOf } from "./view.ts";
export type { Oracle, Test } from "./oracle.ts";
export { createOracle, isAt, ratedWork } from "./oracle.ts";
export type { Predicted } from "./outcome.ts";
export { classOf, likelihood, sigmaOf, wordShares } from "./outcome.ts";
export type { Belief } from "./belief.ts";
export { believe } from "./belief.ts";
export type { Candidate, Instrument, TestKind } from "./asking.ts";
export { INSTRUMENTS, lampFor } from "./asking.ts";
export { minutesOf, partsReached } from "./cost.ts";
export type { Enough, Missing } from "./enough.ts";
export type { Ranked } from "./choose.ts";
export { everyTest, LEAST_BITS, POOR_BITS_PER_MINUTE, testKey, worthOf } from "./choose.ts";
export type { Diagnosis, Question } from "./diagnose.ts";
export { DEFAULT_QUESTION, diagnose, isFirstAnswer } from "./diagnose.ts";
export { lookChance } from "./sight-of-fault.ts";
export type { OwnDoing } from "./own-doing.ts";
export { ownDoing } from "./own-doing.ts";
export { observedWork } from "./observed.ts";
export { rounded, shownBy, stepOf } from "./shown.ts";
export type { Reason, Suspect } from "./explain.ts";
export { observableWords, resultWords } from "./told.ts";
export type { CaseAnswer, CaseFile } from "./case.ts";
export { answerCase, caseAnswer as caseAnswerSchema, caseFile as caseFileSchema, questionOf } from "./case.ts";
export type { Mark, Moved, Sample, WiggleJudged } from "./wiggle.ts";
export { judgeWiggle } from "./wiggle.ts";
export { foreseen } from "./foresee.ts";
