import { z } from "zod";
import { wiresAt, type Harness } from "../harness/index.ts";

/**
 * A supposed fault. `link` names what current passes through ("W2", "F3", "C12.4", "G5", "FAN", "R7.contact"); `place` is a spot such as
 * "F3.2". Resistances in ohms.
 */
export const fault = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("open"), link: z.string().max(80) }),
  z.object({ kind: z.literal("series"), link: z.string().max(80), ohms: z.number().positive().max(1e12) }),
  z.object({ kind: z.literal("short to ground"), place: z.string().max(80), ohms: z.number().positive().max(1e12) }),
  z.object({ kind: z.literal("short to feed"), place: z.string().max(80), ohms: z.number().positive().max(1e12) }),
  /** Two places that touch: wire to wire, or a winding shorted inside. */
  z.object({ kind: z.literal("across"), from: z.string().max(80), to: z.string().max(80), ohms: z.number().positive().max(1e12) }),
  /** A contact or driver that stays as it is, whatever is asked of it. */
  z.object({ kind: z.literal("stuck"), link: z.string().max(80), closed: z.boolean() }),
  /** A part that is not as its settings say: drifted, worn, dead. */
  z.object({ kind: z.literal("settings"), component: z.string().max(80), settings: z.record(z.string(), z.unknown()) }),
  /** A splice that has gone bad: so much resistance between it and the end of every wire in it. */
  z.object({ kind: z.literal("splice"), splice: z.string().max(80), ohms: z.number().positive().max(1e12) }),
  /** Not the car but the measuring: a lead of the instrument with too much resistance, a broken one (1e12), a dead lamp (at the red lead). */
  z.object({ kind: z.literal("lead"), lead: z.enum(["red", "black"]), ohms: z.number().positive().max(1e12) }),
]);
export type Fault = z.infer<typeof fault>;

/** A fault as what it is made of: a bad splice is resistance in every wire that ends in it. Throws RangeError for what is no splice. */
export function partsOfFault(harness: Harness, f: Fault): readonly Exclude<Fault, { kind: "splice" }>[] {
  if (f.kind !== "splice") return [f];
  const wires = wiresAt(harness, f.splice);
  if (wires.length === 0) throw new RangeError(`${f.splice} is not a splice of this circuit`);
  return wires.map((w) => ({ kind: "series", link: w.id, ohms: f.ohms }));
}
