export type { Staircase, StaircaseResult, Step } from "./trace/staircase.ts";
export { buildStaircase } from "./trace/staircase.ts";
export type { Conflict, VoltFact } from "./trace/potentials.ts";
export { joinPotentials } from "./trace/potentials.ts";
export type { ClampFact, Stretch, PathJudgement } from "./trace/judge.ts";
export { judgePath } from "./trace/judge.ts";
export type { NextLeads, PathAnswer, PathVerdict } from "./trace/verdict.ts";
export { answerPath } from "./trace/verdict.ts";
export type { VerdictWords } from "./trace/words.ts";
export { nextWords, stretchName, whyWords, wordVerdict } from "./trace/words.ts";
export type { Circumstance, Evidence, Observable, Result, ResultWord } from "./evidence/evidence.ts";
export {
  circumstance as circumstanceSchema,
  evidence as evidenceSchema,
  fitsWord,
  observable as observableSchema,
  RESULT_WORDS,
  result as resultSchema,
} from "./evidence/evidence.ts";
export type { Hypothesis, HypothesisSpace, Repair } from "./hypotheses/space.ts";
export { hypothesisSpaceOf } from "./hypotheses/space.ts";
export type { Row } from "./simulate/row.ts";
export type { View } from "./simulate/view.ts";
export { flickersIn, voltsIn, workOf } from "./simulate/row.ts";
export { viewOf } from "./simulate/view.ts";
export type { Oracle, Test } from "./predict/oracle.ts";
export { createOracle, isAt } from "./predict/oracle.ts";
export type { Predicted } from "./evidence/likelihood.ts";
export { likelihood, sigmaOf, wordShares } from "./evidence/likelihood.ts";
export type { Outcome } from "./evidence/outcome.ts";
export { outcomeOf } from "./evidence/outcome.ts";
export type { Belief } from "./belief/belief.ts";
export { believe } from "./belief/belief.ts";
export type { CandidateTest, Instrument, TestKind } from "./effort/candidate-test.ts";
export { INSTRUMENTS, lampFor } from "./effort/candidate-test.ts";
export { minutesOf, partsMadeAccessible } from "./effort/cost.ts";
export type { Enough, Missing } from "./proof/enough.ts";
export type { RankedTest } from "./next-test/rank.ts";
export { everyTest, LEAST_BITS, POOR_BITS_PER_MINUTE, testKey, worthOf } from "./next-test/rank.ts";
export type { Diagnosis, Question } from "./answer/diagnose.ts";
export { DEFAULT_QUESTION, diagnose, isFirstAnswer } from "./answer/diagnose.ts";
export { lookChance } from "./predict/sight-of-fault.ts";
export type { OwnDoing } from "./predict/own-doing.ts";
export { ownDoing } from "./predict/own-doing.ts";
export { observedWork } from "./predict/observed-work.ts";
export { rounded, shownBy, stepOf } from "./predict/shown.ts";
export type { Reason, Suspect } from "./answer/explain.ts";
export { observableWords, resultWords } from "./evidence/describe.ts";
export type { CaseAnswer, CaseFile } from "./answer/case-file.ts";
export { answerCase, caseAnswer as caseAnswerSchema, caseFile as caseFileSchema, questionOf } from "./answer/case-file.ts";
export type { Mark, Moved, Sample, WiggleJudged } from "./evidence/wiggle.ts";
export { judgeWiggle } from "./evidence/wiggle.ts";
export { foreseen } from "./answer/foresee.ts";
