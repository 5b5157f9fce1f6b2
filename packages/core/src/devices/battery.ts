import type { Battery } from "../harness/index.ts";
import { ohms, type Ohms, volts, type Volts } from "../quantity/index.ts";

/** What the engine is doing, as far as the source knows. */
export const ENGINE_STATES = ["stopped", "cranking", "idling", "at speed"] as const;
export type EngineState = (typeof ENGINE_STATES)[number];

/** A source behind a resistance. */
export interface Thevenin {
  readonly emf: Volts;
  readonly internal: Ohms;
}

/** Resistance that the regulated alternator and battery together show at the posts. */
const CHARGING_OHMS = 1e-3;

/**
 * The source at the battery posts. Stopped: rest voltage behind the internal resistance. Cranking, unless the circuit
 * itself draws the starter: the same, lowered by the starter's current. Running: the charging set point.
 */
export function batterySource(battery: Battery, engine: EngineState, drawsStarter: boolean): Thevenin {
  switch (engine) {
    case "stopped":
      return { emf: volts(battery.restVolts), internal: ohms(battery.internalOhms) };
    case "cranking": {
      const dip = drawsStarter ? 0 : battery.crankAmps * battery.internalOhms;
      return { emf: volts(battery.restVolts - dip), internal: ohms(battery.internalOhms) };
    }
    case "idling":
    case "at speed":
      return { emf: volts(battery.chargeVolts), internal: ohms(CHARGING_OHMS) };
  }
}
