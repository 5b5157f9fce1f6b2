import { z } from "zod";
import { vehicleState } from "@rheonom/core/circuit";
import { scanSchema } from "@rheonom/core/codes";

const address = z.number().int().min(0).max(0xffff);
const module = z.object({ id: z.string().min(1).max(40), address });
export type LinkModule = z.infer<typeof module>;

/** Where vehicles are looked for: the simulated one of a demo job, or a host on the workshop's network. */
export const linkTarget = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("simulated") }),
  z.object({
    kind: z.literal("network"),
    host: z.string().regex(/^[A-Za-z0-9.:%_-]{1,255}$/, "must be a name or an address"),
    port: z.number().int().min(1).max(65535),
  }),
]);
export type LinkTarget = z.infer<typeof linkTarget>;

/** A value to be read again and again: an identifier of service 0x22, or a number of the emissions services. */
export const liveWish = z.object({
  module,
  what: z.union([
    z.object({ did: z.number().int().min(0).max(0xffff), unit: z.enum(["V", "°C", "%"]) }),
    z.object({ pid: z.number().int().min(0).max(0xff) }),
  ]),
});
export type LiveWish = z.infer<typeof liveWish>;

export const MOST_LIVE = 120;
export const MOST_MODULES = 200;

/** What is done by hand to the simulated vehicle. */
export const standInWork = z.discriminatedUnion("do", [
  z.object({ do: z.literal("state"), state: vehicleState }),
  z.object({ do: z.literal("move"), at: z.string().max(40).optional() }),
  z.object({ do: z.literal("crank") }),
  z.object({ do: z.literal("drive"), cycles: z.number().int().min(1).max(100) }),
  z.object({ do: z.literal("tell") }),
]);
export type StandInWork = z.infer<typeof standInWork>;

/** From the browser to the server, over the WebSocket /api/jobs/:id/link. */
export const toServer = z.discriminatedUnion("type", [
  z.object({ type: z.literal("find"), target: linkTarget }),
  /** One of the vehicles that were found, by its VIN. */
  z.object({ type: z.literal("connect"), vin: z.string().max(17) }),
  z.object({ type: z.literal("scan"), modules: z.array(module).min(1).max(MOST_MODULES) }),
  z.object({ type: z.literal("cancel") }),
  z.object({ type: z.literal("clear"), modules: z.array(module).min(1).max(MOST_MODULES) }),
  z.object({ type: z.literal("live"), wishes: z.array(liveWish).min(1).max(MOST_LIVE), hertz: z.number().min(0.2).max(20) }),
  z.object({ type: z.literal("stop-live") }),
  /** Null gives the output back to the module. */
  z.object({ type: z.literal("actuate"), module, did: z.number().int().min(0).max(0xffff), on: z.boolean().nullable() }),
  z.object({ type: z.literal("work"), work: standInWork }),
]);
export type ToServer = z.infer<typeof toServer>;

const foundVehicle = z.object({ vin: z.string(), host: z.string(), port: z.number().int(), address });
export type FoundVehicle = z.infer<typeof foundVehicle>;

/** From the server to the browser. */
export const toBrowser = z.discriminatedUnion("type", [
  z.object({ type: z.literal("found"), vehicles: z.array(foundVehicle) }),
  z.object({ type: z.literal("connected"), vin: z.string() }),
  z.object({ type: z.literal("disconnected"), code: z.string(), message: z.string() }),
  z.object({
    type: z.literal("progress"),
    done: z.number().int(),
    total: z.number().int(),
    module: z.string(),
    answers: z.boolean(),
    codes: z.number().int(),
  }),
  /** `complete`: false where it was broken off; what was read until then is in it. `odd`: modules that answered otherwise than they should. */
  z.object({
    type: z.literal("scanned"),
    scan: scanSchema,
    complete: z.boolean(),
    why: z.string(),
    odd: z.array(z.object({ module: z.string(), why: z.string() })),
  }),
  z.object({ type: z.literal("cleared"), modules: z.array(z.object({ id: z.string(), cleared: z.boolean(), why: z.string() })) }),
  /** `at`: ms since live reading began. Null where there was no answer. */
  z.object({ type: z.literal("live"), at: z.number(), values: z.array(z.number().nullable()) }),
  z.object({ type: z.literal("actuated"), did: z.number().int(), on: z.boolean().nullable(), why: z.string() }),
  z.object({ type: z.literal("told"), state: vehicleState, moving: z.string().optional(), answers: z.array(z.string()) }),
  z.object({ type: z.literal("failed"), code: z.string(), message: z.string() }),
]);
export type ToBrowser = z.infer<typeof toBrowser>;
