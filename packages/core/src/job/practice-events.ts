import { z } from "zod";
import { INSTRUMENTS } from "../diagnosis/index.ts";

/** Whether the tool proposes tests and ranks suspects: not at all, when it is asked (which is counted), or always. */
export const ADVICE = ["off", "asked", "on"] as const;
export type Advice = (typeof ADVICE)[number];
/** What is asked for. */
export const ADVICE_ON = ["next test", "suspects"] as const;

/** Entries of a practice job. What is wrong with its vehicle stands in none of them. */
export const practiceBodies = [
  z.strictObject({
    type: z.literal("practice-begun"),
    data: z.strictObject({
      advice: z.enum(ADVICE),
      /** The minutes of work that stand on its clock are shown. */
      clock: z.boolean(),
      /** Who speaks: "the fish courier". */
      speaker: z.string().trim().max(80),
      /** What may not be used. */
      without: z.array(z.enum(INSTRUMENTS)).max(INSTRUMENTS.length).optional(),
    }),
  }),
  /** Whoever teaches says something; it counts like advice. */
  z.strictObject({ type: z.literal("hint-given"), data: z.strictObject({ text: z.string().trim().min(1).max(300) }) }),
  /** Whoever teaches stops the clock, or lets it run on: what is found meanwhile takes no minutes. */
  z.strictObject({ type: z.literal("clock-turned"), data: z.strictObject({ running: z.boolean() }) }),
  z.strictObject({ type: z.literal("advice-asked"), data: z.strictObject({ on: z.enum(ADVICE_ON) }) }),
] as const;
