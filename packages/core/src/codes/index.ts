export type { Code, CodeRead } from "./structure.ts";
export { codeFromNumber, codeToNumber, readCode } from "./structure.ts";
export { failureWords } from "./failure-type.ts";
export type { StatusBit, StatusWord } from "./status.ts";
export { bitsOf, STATUS_BITS, STATUS_WORDS, statusWord } from "./status.ts";
export type { CodeEntry, Misread, Scan, ScanChange, TypedCodes } from "./scan.ts";
export {
  codeEntry as codeEntrySchema,
  codeName,
  compareScans,
  readScanCsv,
  readTypedCodes,
  scan as scanSchema,
  writeScanCsv,
} from "./scan.ts";
export type { Role, Triage, Triaged, TriageAsk } from "./triage.ts";
export { codeText, monitorsOf, monitorsOfCode, partsOf, silentIn, triage } from "./triage.ts";
export type { Actuator, AddressedModule, LiveValue } from "./values.ts";
export { actuatorsOf, addressedModules, emissionsModule, ENTITY_ADDRESS, liveValuesOf, toldFrom } from "./values.ts";
export type { LiveUnit } from "./identifiers.ts";
export { COMMON_IDENTIFIERS, fromRaw, isLiveIdentifier, LIVE_IDENTIFIERS, liveNameOf, liveUnitOf, toRaw } from "./identifiers.ts";
export type { ReadinessEntry } from "./readiness.ts";
export { readyMonitors } from "./readiness.ts";
