export { wireOhms } from "./wire.ts";
export { cavityOhms, DIRECT_JOINT_OHMS, groundOhms, HEAVY_CABLE_MM2, switchOhms } from "./joint.ts";
export { BLOWS_AT, fuseOhms, fuseOpeningS } from "./fuse.ts";
export type { EngineState, KeyPosition } from "./conditions.ts";
export { ENGINE_STATES, KEY_POSITIONS } from "./conditions.ts";
export { LOAD_SORTS, loadSettings, ratedOhms } from "./load.ts";
export { filament, filamentVolts, lampBrightness } from "./lamp.ts";
export type { Thevenin } from "./battery.ts";
export { batterySettings, batterySource } from "./battery.ts";
export { chargeable, leadAcid, leastUnderLoad, restCharge, restVolts } from "./lead-acid.ts";
export { ntcCelsius, ntcOhms } from "./ntc.ts";
export { coilEnergyJ, dwellS } from "./ignition-coil.ts";
export { MODE_EFFECTS } from "./device.ts";
export type {
  DeviceKind,
  DeviceWay,
  FailureMode,
  Harm,
  Inside,
  ModeEffect,
  Sight,
  Surroundings,
  Terminal,
  TerminalRole,
} from "./device.ts";
export { SERIES_OHMS } from "./device.ts";
export type { Condition } from "./module.ts";
export type { DeviceSettings, SettingsByKind } from "./registry.ts";
export type { PinSettings } from "./pins/index.ts";
export { PIN_SORT_BY_WORD } from "./pins/index.ts";
export { DEVICE_NAMES, deviceKind, readDevice } from "./registry.ts";
export type { Stamp } from "./stamp.ts";
export type { BusLevel, BusSort, LineExtent } from "./bus-level.ts";
export { busLevel, isFreeInTime } from "./bus-level.ts";
export { createStamp, OPEN_OHMS } from "./stamp.ts";
export type { Decision } from "./module.ts";
export { wantsOn } from "./module.ts";
