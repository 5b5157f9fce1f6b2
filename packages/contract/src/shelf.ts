import "./zod-setup.ts";
import { z } from "zod";
import { knownGoodItem } from "@rheonom/core/job";

/** What good vehicles showed, by place: the shop's shelf of known-goods. */

export const KNOWN_GOODS_PATH = "known-goods";
export const knownGoodMeta = knownGoodItem.meta({ id: "KnownGood" });
export const knownGoodList = z.object({ items: z.array(knownGoodMeta) }).meta({ id: "KnownGoodList" });
export type KnownGoodList = z.infer<typeof knownGoodList>;
/** `place`: "volts C5.3 BAT.-", "amps W2". */
export const knownGoodQuery = z.object({ vehicle: z.string().max(48).optional(), place: z.string().max(100).optional() });
export const withdrawKnownGood = z.strictObject({ by: z.string().trim().min(1).max(80), why: z.string().trim().min(1).max(300) });

/** A job that held something against a known-good. */
export const knownGoodUser = z.object({
  jobId: z.string(),
  vehicle: z.string(),
  registration: z.string(),
  words: z.string(),
  at: z.string(),
  by: z.string(),
  what: z.string(),
});
export type KnownGoodUser = z.infer<typeof knownGoodUser>;
export const knownGoodUsers = z.object({ users: z.array(knownGoodUser) }).meta({ id: "KnownGoodUsers" });

/** What a shelf's file brought: new ones, those that were there already, and those that are withdrawn now. */
export const shelfTaken = z
  .object({ added: z.number().int(), known: z.number().int(), withdrawn: z.number().int() })
  .meta({ id: "ShelfTaken" });
export type ShelfTaken = z.infer<typeof shelfTaken>;
