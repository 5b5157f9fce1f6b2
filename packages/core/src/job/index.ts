export type { LogEntry, UnreadableEntry } from "./entry.ts";
export type { EntryPlace, JobDigest } from "./digest.ts";
export { advanceDigest, DIGEST_VERSION, jobDigest, openHours, repairsOfDigest, stageOfDigest, whoseOfDigest } from "./digest.ts";
export type { ChainChecked, ChainedEntry, ChainedLog, Sha256 } from "./chain.ts";
export { chainedLog as chainedLogSchema, checkChain, linkText } from "./chain.ts";
export type { EventId } from "./event-id.ts";
export { uuidV7 } from "./event-id.ts";
export type { WarningLamp, ComplaintData, EventOf, FoundKind, JobEvent, JobEventType, TemporaryKind } from "./events.ts";
export {
  complaintData,
  REPRODUCED,
  RISKS,
  WARNING_LAMPS,
  FOUND_KINDS,
  JOB_EVENT_TYPES,
  jobEvent,
  MEND_METHODS,
  moment,
  TEMPORARY_KINDS,
  uuid7,
} from "./events.ts";
export type { PictureMark } from "./picture-events.ts";
export { LONGEST_SIDE_PX, MOST_MARKS, PICTURE_WHENS, pictureHash } from "./picture-events.ts";
export type { CaseFeatures, Likeness, SimilarCase } from "./similar.ts";
export { caseFeatures, casesAsCircumstances, caseSearchWords, caseTokens, LEAST_SCORE, likeness } from "./similar.ts";
export { minutesInLog } from "./work-time.ts";
export { pairPictures } from "./pictures.ts";
export type { PracticeView } from "./practice-fold.ts";
export { isAdvised } from "./practice-fold.ts";
export { minutesOfTests, minutesWorked } from "./practice-minutes.ts";
export type { Advice } from "./practice-events.ts";
export { ADVICE } from "./practice-events.ts";
export { DRIVE_OUTCOMES, ESTIMATE_ANSWERS, FINDING_OUTCOMES, NEIGHBOUR_VERDICTS } from "./repair-events.ts";
export type {
  DriveView,
  EstimateView,
  FindingView,
  FoundView,
  JobView,
  MendView,
  NeighboursView,
  PictureView,
  MeterCheckView,
  ReadingView,
  Stage,
  TraceView,
  TrayItem,
} from "./fold.ts";
export { EMPTY_COMPLAINT, foldJob, openTray, STAGES, stepKey } from "./fold.ts";
export type { NeighboursLeft } from "./neighbours.ts";
export { neighboursLeft } from "./neighbours.ts";
export { clampFacts, readingsAroundMend, trayInModel, voltFacts } from "./evidence.ts";
export type { Proof, ProofCheck, ProofPair } from "./proof.ts";
export { buildProof, checkWords, NOT_SAID, pairWords } from "./proof.ts";
export type { JobPath } from "./paths.ts";
export { pathsOfJob } from "./paths.ts";
export type { ClosingBlocker, LogEnd } from "./closing.ts";
export { closingBlockers, refusalOf } from "./closing.ts";
export type { Caution, RiskyAct } from "./cautions.ts";
export { CAUTION_FOOTER, cautionsFor, HIGH_VOLTAGE_CAUTION, isCranking, turnsEngine } from "./cautions.ts";
export type { Report } from "./report.ts";
export { buildReport, report as reportSchema } from "./report.ts";
export type { Fact } from "./repair-words.ts";
export {
  damageWords,
  faultSaid,
  driveWords,
  estimateAnswer,
  estimateRows,
  findingFacts,
  jointWords,
  liveWords,
  mendFacts,
  METHOD_WORDS,
  watchWords,
} from "./repair-words.ts";
export type { CustomerSection } from "./customer.ts";
export { customerSections } from "./customer.ts";
export { meterCheckFails, meterCheckWords, meterWords } from "./meter-check.ts";
export type { Band, KnownGood, Shelf, ShelfFile } from "./known-good.ts";
export { bandOf, familyOf, fitsBand, MOST_ON_SHELF, knownGoodItem, leadsKey, onShelf, shelfFile } from "./known-good.ts";
export { readingsCsv } from "./readings-csv.ts";
export type { StoredEntry } from "./redact.ts";
export { redacted, REMOVED, withoutCustomer } from "./redact.ts";
export { describeEvent, hoursWords, seenWords, describeLeads } from "./describe.ts";
export {
  askedOfJob,
  complainedOf,
  complainedParts,
  evidenceAfter,
  evidenceOf,
  observedBy,
  latestScan,
  partsOfCodes,
  questionOfJob,
  scanBeforeClear,
  wiggleOf,
} from "./question.ts";
export { asleepIn, triageOfJob } from "./codes.ts";
export type { SymptomLine, SymptomOffer } from "./symptoms.ts";
export { namedParts, partWords, symptomsIn, symptomState, wholeSymptoms } from "./symptoms.ts";
export type { VinRead } from "./vin.ts";
export { readVin } from "./vin.ts";
