import { z } from "zod";

/**
 * A supposed fault. `link` names what current passes through ("W2", "F3", "C12.4", "G5", "FAN"); `place` is a spot such as
 * "F3.2". Resistances in ohms.
 */
export const fault = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("open"), link: z.string() }),
  z.object({ kind: z.literal("series"), link: z.string(), ohms: z.number().positive().finite() }),
  z.object({ kind: z.literal("short to ground"), place: z.string(), ohms: z.number().positive().finite() }),
  z.object({ kind: z.literal("short to feed"), place: z.string(), ohms: z.number().positive().finite() }),
  /** Two places that touch: wire to wire, or a winding shorted inside. */
  z.object({ kind: z.literal("across"), from: z.string(), to: z.string(), ohms: z.number().positive().finite() }),
]);
export type Fault = z.infer<typeof fault>;
