export type { Leads, Placement, Reading } from "./leads.ts";
export { leads as leadsSchema, placement as placementSchema } from "./leads.ts";
export type { Prediction } from "./predict.ts";
export { predictAll, predictReading, prepareVolts, voltsBySeries } from "./predict.ts";
export type { Shown } from "./testers.ts";
export { BEEPS_BELOW_OHMS, predictShown } from "./testers.ts";
export { LIVE_VOLTS, METER_OHMS, OHMS_RANGE, ohmmeterBetween, ohmsShown, shareShown } from "./meter.ts";
export type { LampLook } from "./share-words.ts";
export {
  FULL_WORK,
  FULL_WORK_BLUR,
  LAMP_LOOKS,
  lampLook,
  NO_WORK,
  NO_WORK_BLUR,
  TOO_MUCH_BLUR,
  TOO_MUCH_WORK,
  workWord,
} from "./share-words.ts";
export type { PartSight, PointReader } from "./sights.ts";
export { deliveredShare, ratedWork, sightsAt, workAt, worksBySwitchOff, workShown } from "./sights.ts";
export type { Observation } from "./observe.ts";
export { clicks, comesAndGoes, heldOn, observe, soundWork } from "./observe.ts";
export type { Measures, NoTrace, Probe, Recording, ScopePlacement, Trace, TraceResult, Traces } from "./scope.ts";
export { measure, predictTrace, predictTraces } from "./scope.ts";
export { goodTraces, SCOPE_BITS, SCOPE_NOISE, throughScope } from "./good-trace.ts";
export { busFrames, frameSenders, isOnBus } from "./bus-frames.ts";
export type { Scan } from "./scan.ts";
export { awakeModules, isCodeSet, scanAll } from "./scan.ts";
export type { Pulses } from "./pulses.ts";
export type { AmplitudeLost } from "./amplitude-lost.ts";
export { amplitudeLost } from "./amplitude-lost.ts";
export { predictPulses, pulsesOf } from "./pulses.ts";
export { untoldPins } from "./steady-state.ts";
export type { Talk } from "./bus.ts";
export { busTalk, getsMessages, silentIn, silentModules } from "./bus.ts";
export type { Accuracy } from "./accuracy.ts";
export { clampAmps, countOf, errorOf, meterOhms, meterVolts, scopeVolts } from "./accuracy.ts";
export type { Sample, Steadiness } from "./steady.ts";
export { isAnother, steadiness, STEADY_MS } from "./steady.ts";
export type { TypedReading } from "./parse-reading.ts";
export { parseReading } from "./parse-reading.ts";
export { displayText } from "./display.ts";
export type { Act, Refusal } from "./interlock.ts";
export { outOfBounds, refusalsOf } from "./interlock.ts";
