import type { Load } from "../harness/index.ts";
import { ohms, type Ohms, type Volts } from "../quantity/index.ts";

/**
 * Resistance of a plain load at its rated voltage: heaters, coils and motors as they run, warm. Motors with stall are `dcmotor`, lamps stand in lamp.ts. Not for
 * inrush.
 */
export function ratedOhms(load: Load, rated: Volts): Ohms {
  if ("ohms" in load.rating) return ohms(load.rating.ohms);
  if ("watts" in load.rating) return ohms(rated ** 2 / load.rating.watts);
  return ohms(rated / load.rating.amps);
}
