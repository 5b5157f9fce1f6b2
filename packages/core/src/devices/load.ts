import { z } from "zod";
import { ohms, type Ohms, type Volts } from "../quantity/index.ts";

export const LOAD_SORTS = ["motor", "lamp", "heater", "coil", "load"] as const;

const positive = z.number().positive().max(1e9);
/** What is known of a plain load. */
export const loadSettings = z.object({
  sort: z.enum(LOAD_SORTS),
  /** At nominal voltage. */
  rating: z.union([z.object({ amps: positive }), z.object({ watts: positive }), z.object({ ohms: positive })]),
});
export type LoadSettings = z.infer<typeof loadSettings>;

/**
 * Resistance of a plain load at its rated voltage: heaters, coils and motors as they run, warm. Motors with stall are `dcmotor`, lamps stand in lamp.ts. Not for
 * inrush.
 */
export function ratedOhms(load: LoadSettings, rated: Volts): Ohms {
  if ("ohms" in load.rating) return ohms(load.rating.ohms);
  if ("watts" in load.rating) return ohms(rated ** 2 / load.rating.watts);
  return ohms(rated / load.rating.amps);
}
