import { z } from "zod";
import { vehicleState } from "@rheonom/core/circuit";
import { linkTarget } from "./link.ts";

const message = z.string().max(120);
const meterFunction = z.enum(["volts", "ohms", "amps", "continuity"]);

/** The words that a meter is asked with, where they differ from those of SCPI-1999. */
export const meterWords = z.object({
  set: z.object({ volts: message, ohms: message, amps: message, continuity: message }),
  read: message,
});
/** The words that a scope is asked with, likewise. */
export const scopeWords = z.object({
  prepare: z.array(message).max(10),
  record: message,
  done: message,
  data: message,
  interval: message,
  factor: message,
  offset: message,
  format: z.enum(["real32", "int16", "int8", "ascii"]),
  isBigEndian: z.boolean(),
});

export const MOST_SCOPE_CHANNELS = 4;
export const MOST_SCOPE_POINTS = 1_000_000;
const place = z.string().min(1).max(40);

/** Where the leads are: for a simulated instrument, which cannot see them. */
export const simulatedLeads = z.discriminatedUnion("on", [
  z.object({ on: z.literal("nothing") }),
  z.object({ on: z.literal("each other") }),
  z.object({ on: z.literal("places"), red: place, black: place }),
  z.object({ on: z.literal("wire"), around: place }),
]);
export type SimulatedLeads = z.infer<typeof simulatedLeads>;

/** From the browser to the server, over the WebSocket /api/jobs/:id/instrument. */
export const toInstrument = z.discriminatedUnion("type", [
  z.object({
    type: z.literal("connect"),
    what: z.enum(["meter", "scope"]),
    target: linkTarget,
    meterWords: meterWords.optional(),
    scopeWords: scopeWords.optional(),
  }),
  /** Turns the meter, and reads on and on. */
  z.object({ type: z.literal("read"), function: meterFunction }),
  z.object({ type: z.literal("pause") }),
  z.object({
    type: z.literal("leads"),
    /** By channel from 1; a meter has one. */
    leads: z.array(simulatedLeads).min(1).max(MOST_SCOPE_CHANNELS),
    state: vehicleState,
    moving: z.string().max(40).optional(),
  }),
  z.object({
    type: z.literal("record"),
    channels: z.array(z.number().int().min(1).max(MOST_SCOPE_CHANNELS)).min(1).max(MOST_SCOPE_CHANNELS),
    seconds: z.number().min(1e-6).max(100),
    points: z.number().int().min(2).max(MOST_SCOPE_POINTS),
  }),
  z.object({ type: z.literal("disconnect") }),
]);
export type ToInstrument = z.infer<typeof toInstrument>;

const identity = z.object({ maker: z.string(), model: z.string(), serial: z.string(), firmware: z.string() });
/** What a meter says to one question, in V, Ω or A. */
export const meterSaid = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("value"), value: z.number() }),
  z.object({ kind: z.literal("over") }),
  z.object({ kind: z.literal("none") }),
  z.object({ kind: z.literal("odd"), text: z.string() }),
]);
export type MeterSaid = z.infer<typeof meterSaid>;
export type MeterFunction = z.infer<typeof meterFunction>;

/** From the server to the browser. */
export const fromInstrument = z.discriminatedUnion("type", [
  z.object({ type: z.literal("connected"), what: z.enum(["meter", "scope"]), identity, isSimulated: z.boolean() }),
  /** `at`: ms since the instrument was connected. */
  z.object({ type: z.literal("reading"), function: meterFunction, at: z.number(), said: meterSaid }),
  /** The instrument's own words about itself: a low battery, a command that it does not take. */
  z.object({ type: z.literal("says"), text: z.string() }),
  /** The samples follow in the next message, packed as traces are kept. */
  z.object({ type: z.literal("recorded"), channels: z.array(z.number().int()), bytes: z.number().int() }),
  z.object({ type: z.literal("disconnected"), code: z.string(), message: z.string() }),
  z.object({ type: z.literal("failed"), code: z.string(), message: z.string() }),
]);
export type FromInstrument = z.infer<typeof fromInstrument>;
