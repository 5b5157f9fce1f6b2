import { leadAcid } from "./lead-acid.ts";
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
 * The source at the battery posts. Stopped: rest voltage behind the internal resistance, after charge, wear and temperature. Cranking, unless the circuit
 * itself draws the starter: the same, lowered by the starter's current. Running, unless the circuit itself draws the alternator: the charging set point.
 */
export function batterySource(battery: Battery, engine: EngineState, around: BatteryAround): Thevenin {
  const { emf, internalOhms } = leadAcid(
    {
      fullVolts: battery.restVolts,
      internalOhms: battery.internalOhms,
      charge: battery.charge ?? 1,
      wear: battery.wear ?? 0,
      nominalVolts: around.nominalVolts,
    },
    around.temperatureC,
  );
  switch (engine) {
    case "stopped":
      return { emf: volts(emf), internal: ohms(internalOhms) };
    case "cranking": {
      const dip = around.drawsStarter ? 0 : battery.crankAmps * internalOhms;
      return { emf: volts(emf - dip), internal: ohms(internalOhms) };
    }
    case "idling":
    case "at speed":
      if (around.drawsAlternator) return { emf: volts(emf), internal: ohms(internalOhms) };
      return { emf: volts(battery.chargeVolts), internal: ohms(CHARGING_OHMS) };
  }
}

/** What else the circuit holds, and where it stands. */
export interface BatteryAround {
  readonly drawsStarter: boolean;
  readonly drawsAlternator: boolean;
  readonly nominalVolts: number;
  readonly temperatureC: number;
}
