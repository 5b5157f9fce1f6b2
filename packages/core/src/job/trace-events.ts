import { z } from "zod";
import { vehicleState } from "../circuit/index.ts";
import { MOST_CHANNELS } from "../waveform/index.ts";
import { pictureHash } from "./picture-events.ts";

const text = (max: number): z.ZodDefault<z.ZodString> => z.string().trim().max(max).default("");

/** What is said of a trace that was kept; the samples are a file of their own. */
export const traceData = z.strictObject({
  /** SHA-256 of the packed file, in hex. */
  hash: pictureHash,
  bytes: z.number().int().min(1).max(60e6),
  name: z.string().trim().min(1).max(120),
  startS: z.number().min(-1e9).max(1e9),
  rateHz: z.number().positive().max(1e12),
  /** Samples of each channel. */
  count: z.number().int().min(2).max(12e6),
  channels: z
    .array(
      z.strictObject({
        name: text(80),
        unit: text(12),
        /** What one of the file's unit is, with the probe as it was set. */
        factor: z.number().min(1e-6).max(1e6),
        /** Places that the leads were on; "" where nobody has said. */
        red: text(40),
        black: text(40),
      }),
    )
    .min(1)
    .max(MOST_CHANNELS),
  /** How the vehicle stood; left out where nobody has said. */
  state: vehicleState.optional(),
  note: text(500),
  /** Moments that somebody has named. */
  marks: z
    .array(z.strictObject({ atS: z.number().min(-1e9).max(1e9), text: z.string().trim().min(1).max(60) }))
    .max(20)
    .optional(),
});
