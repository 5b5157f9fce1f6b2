import { useState } from "react";
import { keepItem, readLike } from "../kept.ts";

/** How this device works with a meter. */
export interface MeterSettings {
  /** A reading that stands still is taken by itself. */
  readonly takesSteady: boolean;
  /** The key that a foot switch types, as in KeyboardEvent.key; empty where there is none. */
  readonly foot: string;
  readonly host: string;
  readonly port: string;
  readonly baudRate: string;
  readonly pattern: string;
  readonly ask: string;
  /** Input resistance on volts, Ω. */
  readonly inputOhms: string;
  /** What it may be off by, % of a reading. */
  readonly accuracyPercent: string;
}

const KEY = "rheonom.meter";
const EMPTY: MeterSettings = {
  takesSteady: false,
  foot: "",
  host: "",
  port: "5025",
  baudRate: "9600",
  pattern: "",
  ask: "",
  inputOhms: "10000000",
  accuracyPercent: "0.5",
};

export const readMeterSettings = (): MeterSettings => readLike(KEY, EMPTY);

/** The settings of this device, and how they are changed. */
export function useMeterSettings(): readonly [settings: MeterSettings, change: (part: Partial<MeterSettings>) => void] {
  const [settings, set] = useState(readMeterSettings);
  const change = (part: Partial<MeterSettings>): void => {
    const next = { ...settings, ...part };
    set(next);
    keepItem(KEY, JSON.stringify(next));
  };
  return [settings, change];
}
