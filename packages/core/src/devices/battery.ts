import { z } from "zod";
import { ohms, type Ohms, volts, type Volts } from "../quantity/index.ts";
import type { EngineState } from "./conditions.ts";
import { leadAcid } from "./lead-acid.ts";

const positive = z.number().positive().max(1e9);
/** What is known of a battery. */
export const batterySettings = z.object({
  restVolts: positive,
  internalOhms: positive,
  /** Terminal voltage with the alternator charging. */
  chargeVolts: positive,
  /** Current the starter takes from the terminals when the circuit itself holds no starter. */
  crankAmps: z.number().nonnegative().max(1e5),
  /** State of charge and wear, 0…1; full and new when not said. */
  charge: z.number().min(0).max(1).optional(),
  wear: z.number().min(0).max(1).optional(),
});
export type BatterySettings = z.infer<typeof batterySettings>;

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
export function batterySource(battery: BatterySettings, engine: EngineState, around: BatteryAround): Thevenin {
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
