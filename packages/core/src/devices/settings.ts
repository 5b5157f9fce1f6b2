import { z } from "zod";

/** Kinds of numbers that the settings of devices share. */
export const positive = z.number().positive().finite();
export const share = z.number().min(0).max(1);
export const celsiusSetting = z.number().min(-60).max(200);
