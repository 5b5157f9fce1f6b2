export type { Staircase, StaircaseResult, Step } from "./trace/staircase.ts";
export { buildStaircase } from "./trace/staircase.ts";
export type { Conflict, VoltFact } from "./trace/potentials.ts";
export { joinPotentials } from "./trace/potentials.ts";
export type { ClampFact, Stretch, PathJudgement } from "./trace/judge.ts";
export { predictionIn } from "./trace/predictions.ts";
export { judgePath, readyToJudge } from "./trace/judge.ts";
export type { NextLeads, PathAnswer, PathVerdict } from "./trace/verdict.ts";
export { answerPath } from "./trace/verdict.ts";
export type { VerdictWords } from "./trace/words.ts";
export { nextWords, stretchName, whyWords, wordVerdict } from "./trace/words.ts";
export type { Circumstance, Evidence, Finding, Result } from "./evidence/evidence.ts";
export type { Observable, ResultWord } from "./evidence/kinds/index.ts";
export {
  circumstance as circumstanceSchema,
  evidence as evidenceSchema,
  findingsOf,
  testsOf,
  fitsWord,
  observableKey,
  result as resultSchema,
} from "./evidence/evidence.ts";
export { observable as observableSchema, RESULT_WORDS } from "./evidence/kinds/index.ts";
export type { Hypothesis, HypothesisSpace, Repair } from "./hypotheses/space.ts";
export { hypothesisSpaceOf } from "./hypotheses/space.ts";
export type { Row } from "./simulate/row.ts";
export type { View } from "./simulate/view.ts";
export { flickersIn, voltsIn, workOf } from "./simulate/row.ts";
export { viewOf } from "./simulate/view.ts";
export type { Oracle, Test } from "./predict/oracle.ts";
export { createOracle } from "./predict/oracle.ts";
export { isAt } from "./predict/is-at.ts";
export type { Predicted } from "./evidence/predicted.ts";
export { likelihood, scaled, sigmaOf, wordShares } from "./evidence/likelihood.ts";
export type { Outcome } from "./evidence/outcome.ts";
export { outcomeOf } from "./evidence/outcome.ts";
export type { Belief } from "./belief/belief.ts";
export { believe } from "./belief/belief.ts";
export type { CandidateTest, Instrument, TestKind } from "./effort/candidate-test.ts";
export { INSTRUMENTS, lampFor, refusalsOfTest } from "./effort/candidate-test.ts";
export { toolsFor } from "./effort/tools.ts";
export { cautionsOf } from "./effort/cautions.ts";
export { minutesOf, partsMadeAccessible, workClock } from "./effort/cost.ts";
export type { Enough, Missing } from "./proof/enough.ts";
export type { RankedTest } from "./next-test/rank.ts";
export { everyTest, LEAST_BITS, POOR_BITS_PER_MINUTE, testKey, worthOf } from "./next-test/rank.ts";
export type { Diagnosis, Question } from "./answer/diagnose.ts";
export { DEFAULT_QUESTION, diagnose, isFirstAnswer } from "./answer/diagnose.ts";
export { lookChance } from "./predict/look-chance.ts";
export type { OwnDoing } from "./predict/own-doing.ts";
export { ownDoing } from "./predict/own-doing.ts";
export { observedWork } from "./predict/observed-work.ts";
export { rounded, shownBy, stepOf } from "./predict/shown.ts";
export type { Reason, Suspect } from "./answer/explain.ts";
export { misfitOf, testWords } from "./answer/explain.ts";
export type { Leading } from "./answer/leading.ts";
export { leadingOf } from "./answer/leading.ts";
export type { Standing } from "./answer/standing.ts";
export { standingOf } from "./answer/standing.ts";
export { colouredLeads, coloursAt, WIRE_COLOUR } from "./evidence/wire-colour.ts";
export { handsAt, inWords, loggedWords, namesIn, observableWords, resultWords } from "./evidence/describe.ts";
export type { TypedWord } from "./evidence/typed-word.ts";
export { readWord } from "./evidence/typed-word.ts";
export type { CaseAnswer, CaseFile } from "./answer/case-file.ts";
export type { SearchExtent } from "./answer/case-file.ts";
export { answerCase, answerFrom, caseAnswer as caseAnswerSchema, caseFile as caseFileSchema, questionOf } from "./answer/case-file.ts";
export type { Mark, Moved, Sample, WiggleJudged } from "./evidence/wiggle.ts";
export { judgeWiggle } from "./evidence/wiggle.ts";
export { firstMeasured, foreseen } from "./answer/foresee.ts";
export { stateInWhich, worksIn } from "./answer/not-asked.ts";
export type { PossibleOutcome } from "./answer/outcomes.ts";
export { expectedBitsOf, outcomesOfTest } from "./answer/outcomes.ts";
