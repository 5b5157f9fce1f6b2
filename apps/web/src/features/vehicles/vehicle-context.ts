import { useOutletContext } from "react-router";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import type { HarnessVersion } from "@rheonom/contract/light";

/** What all views of one vehicle share. */
export interface VehicleContext {
  readonly id: string;
  readonly version: number;
  readonly versions: readonly HarnessVersion[];
  /** The wiring with everything in it that any vehicle has. */
  readonly whole: Harness;
  /** The wiring of the vehicle with the chosen options. */
  readonly harness: Harness;
  readonly options: readonly string[];
  readonly state: VehicleState;
  /** What every place of the sound vehicle has in this state, V. */
  readonly volts: ReadonlyMap<string, number | undefined>;
  /** Changes the address's query; undefined takes a value out. */
  readonly ask: (change: Readonly<Record<string, string | undefined>>) => void;
  readonly query: URLSearchParams;
}

export const useVehicle = (): VehicleContext => useOutletContext<VehicleContext>();
