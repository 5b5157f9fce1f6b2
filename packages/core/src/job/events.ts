import { z } from "zod";
import { vehicleState } from "../circuit/index.ts";
import { scanSchema } from "../codes/index.ts";
import { circumstanceSchema, fitsWord, observableSchema, RESULT_WORDS, type ResultWord } from "../diagnosis/index.ts";
import { meterCheckData, meterData, READ_BY } from "./meter-check.ts";
import { leadsSchema as leads } from "../instruments/index.ts";
import { RULE_SETS } from "../limits/index.ts";
import { MAX_NOTATION_LENGTH } from "../notation/index.ts";
import { MOST_MARKS, pictureData, pictureMark } from "./picture-events.ts";
import { traceData } from "./trace-events.ts";
import { practiceBodies } from "./practice-events.ts";
import { mendDetails, repairBodies } from "./repair-events.ts";

/** Version 7, so that ids sort by time and a client can make them without asking. */
export const uuid7 = z
  .string()
  .regex(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/, "must be a UUID of version 7 in lower case");

/** Any number that a meter, a module or a person may give; beyond it something is broken. */
const number = z.number().min(-1e12).max(1e12);

const words = (max: number): z.ZodString => z.string().trim().min(1).max(max);
const text = (max: number): z.ZodDefault<z.ZodString> => z.string().trim().max(max).default("");

/** Warning lamps that a customer tells of. */
export const WARNING_LAMPS = ["engine", "charge", "oil", "temperature", "brakes", "airbag", "steering", "other"] as const;
export type WarningLamp = (typeof WARNING_LAMPS)[number];
export const REPRODUCED = ["not tried", "yes", "no"] as const;
export const RISKS = ["not judged", "safe to drive", "with care", "not safe to drive"] as const;

/** What the customer brought and said. Only vehicle and words are needed. */
export const complaintData = z.strictObject({
  vehicle: words(120),
  registration: text(40),
  mileage: text(40),
  words: words(2000),
  /** When, weather, motion, consumers on, after what work. */
  conditions: text(2000),
  triedBefore: text(2000),
  /** By whom: the owner, another shop, here. */
  triedBy: text(120),
  warningLamps: z.array(z.enum(WARNING_LAMPS)).max(WARNING_LAMPS.length).default([]),
  /** Whether the workshop has seen the trouble itself, and how it came. */
  reproduced: z.enum(REPRODUCED).default("not tried"),
  reproducedHow: text(500),
  risk: z.enum(RISKS).default("not judged"),
  riskWhy: text(300),
  vin: text(20),
  /** What of it makes some faults likelier before anything is measured. */
  circumstances: z.array(circumstanceSchema).max(60).default([]),
  /** Hybrid or electric: part of the vehicle is out of bounds. */
  highVoltage: z.boolean().default(false),
});

export const TEMPORARY_KINDS = ["unplugged", "pulled", "jumpered", "pierced", "cover off", "lamp fitted", "other"] as const;
export type TemporaryKind = (typeof TEMPORARY_KINDS)[number];

/** What can be otherwise on the vehicle than on the diagram. */
export const FOUND_KINDS = ["colour", "cavity", "place", "rating", "other"] as const;
export type FoundKind = (typeof FOUND_KINDS)[number];

export const MEND_METHODS = [
  "contact cleaned",
  "terminal renewed",
  "connector renewed",
  "wire joined",
  "wire overlaid",
  "ground cleaned and re-fixed",
  "ground overlaid",
  "fuse renewed",
  "part renewed",
  "other",
] as const;

/** What is seen as a number, and not measured with the leads of the bench. */
const SEEN_AS_NUMBERS: readonly string[] = ["live", "level", "duty"];
const SEEN_WORDS = Object.values(RESULT_WORDS).flat() as [ResultWord, ...ResultWord[]];

const shown = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("value"), quantity: z.enum(["volts", "ohms", "amps"]), value: number }),
  z.strictObject({ kind: z.literal("over"), quantity: z.enum(["volts", "ohms", "amps"]) }),
]);

/** A minute by the shop's own clock. */
const localMinute = z
  .string()
  .regex(/^20\d\d-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])T([01]\d|2[0-3]):[0-5]\d$/, "must be a day and a time, such as 2026-12-01T16:00");

/** Since the beginning of a recording: at most a day. */
const milliseconds = z.number().int().min(0).max(86_400_000);

/** The kinds of event. Nothing is edited in place: a wrong event is struck by a later one. */
const bodies = [
  z.strictObject({ type: z.literal("job-opened"), data: complaintData }),
  z.strictObject({ type: z.literal("complaint-changed"), data: complaintData }),
  z.strictObject({
    type: z.literal("circuit-set"),
    data: z.strictObject({
      notation: z.string().min(1).max(MAX_NOTATION_LENGTH),
      /** The vehicle whose wiring this is, the version that the job is pinned to, and the options that were left in. */
      vehicle: z
        .object({ id: words(48), version: z.number().int().min(1).max(1e9), options: z.array(z.string().max(24)).max(60) })
        .optional(),
    }),
  }),
  z.strictObject({ type: z.literal("rules-chosen"), data: z.strictObject({ rules: z.enum(RULE_SETS) }) }),
  z.strictObject({
    type: z.literal("reading-taken"),
    data: z.strictObject({
      leads,
      state: vehicleState,
      /** The load whose path was being traced. */
      load: z.string().max(40),
      /** Digits as typed. */
      text: words(40),
      shown,
      instrument: z.enum(READ_BY),
      /** Of a reading that came from an instrument that is connected. */
      meter: meterData.optional(),
      /** Whether the trouble was there meanwhile; left out when nobody said. */
      present: z.boolean().optional(),
    }),
  }),
  z.strictObject({ type: z.literal("struck"), data: z.strictObject({ target: uuid7, why: words(300) }) }),
  z.strictObject({
    type: z.literal("temporary-made"),
    data: z.strictObject({
      kind: z.enum(TEMPORARY_KINDS),
      /** What it was done to: a component, wire or place, or free words. */
      at: words(80),
      /** The other end of a jumper. */
      to: text(80),
      note: text(300),
    }),
  }),
  z.strictObject({ type: z.literal("temporary-undone"), data: z.strictObject({ target: uuid7 }) }),
  z.strictObject({ type: z.literal("temporary-explained"), data: z.strictObject({ target: uuid7, why: words(300) }) }),
  z.strictObject({
    type: z.literal("mend-made"),
    data: z.strictObject({
      /** Component, cavity or wire that was mended. */
      at: words(80),
      found: words(1000),
      cause: text(1000),
      method: z.enum(MEND_METHODS),
      done: words(1000),
      ...mendDetails,
    }),
  }),
  z.strictObject({ type: z.literal("note-added"), data: z.strictObject({ text: words(2000) }) }),
  z.strictObject({
    type: z.literal("job-closed"),
    data: z.strictObject({
      safeToDrive: z.enum(["yes", "with advice", "no"]),
      advice: text(1000),
      /** Needed when the failed test was not repeated with a good result. */
      withoutProof: text(500),
    }),
  }),
  z.strictObject({ type: z.literal("job-reopened"), data: z.strictObject({ why: words(300) }) }),
  z.strictObject({
    type: z.literal("found-different"),
    data: z.strictObject({
      /** The wire or component that is otherwise than drawn. */
      at: words(40),
      what: z.enum(FOUND_KINDS),
      drawn: text(200),
      found: words(200),
    }),
  }),
  /** What was seen, heard or asked rather than measured. */
  z.strictObject({
    type: z.literal("seen"),
    data: z
      .strictObject({
        state: vehicleState,
        observe: observableSchema,
        /** A module's live value and pulses on a scope have a number instead. */
        word: z.enum(SEEN_WORDS).optional(),
        value: number.optional(),
        /** This is what is complained of: it should be otherwise. */
        wrong: z.boolean().default(false),
        /** Who says so; somebody of the workshop when left out. */
        source: z.enum(["technician", "customer"]).optional(),
        present: z.boolean().optional(),
      })
      .refine(
        (d) => (d.word === undefined ? SEEN_AS_NUMBERS.includes(d.observe.kind) && d.value !== undefined : fitsWord(d.observe, d.word)),
        {
          message: "this word does not answer that question",
          path: ["word"],
        },
      ),
  }),
  /** All codes and answers of the modules at one time. */
  z.strictObject({ type: z.literal("codes-read"), data: z.strictObject({ scan: scanSchema, state: vehicleState }) }),
  z.strictObject({ type: z.literal("codes-cleared"), data: z.strictObject({ note: text(300) }) }),
  /** How much of the time the trouble is there. */
  z.strictObject({ type: z.literal("presence-told"), data: z.strictObject({ share: z.number().min(0.01).max(1) }) }),
  /** A reading watched while one spot after the other was moved. */
  z.strictObject({
    type: z.literal("wiggled"),
    data: z.strictObject({
      state: vehicleState,
      leads,
      /** ms since the beginning, and V, Ω or A. In order of time. */
      samples: z
        .array(z.tuple([milliseconds, number]))
        .min(3)
        .max(6000),
      /** ms since the beginning, and what was moved from then on; "" for hands off. */
      marks: z.array(z.tuple([milliseconds, z.string().max(40)])).max(300),
      instrument: z.enum(READ_BY),
    }),
  }),
  /** Whose job it is, what it waits for and until when; the last word counts. */
  z.strictObject({
    type: z.literal("planned"),
    data: z.strictObject({
      whose: text(80),
      /** "part", "cold engine", "test drive"; nothing while it waits for nothing. */
      waits: text(120),
      /** A day, a minute by the shop's clock, or nothing. */
      until: z.union([z.iso.date(), localMinute, z.literal("")]).default(""),
      /** When the customer was promised it, by the shop's clock: 2026-12-01T16:00. */
      promised: z.union([localMinute, z.literal("")]).optional(),
      /** Hours of work that it is thought to need in all. */
      hours: z.number().min(0).max(1000).optional(),
    }),
  }),
  /** The note went into the vehicle's wiring as a new version. */
  z.strictObject({ type: z.literal("found-promoted"), data: z.strictObject({ target: uuid7, version: z.number().int().min(1).max(1e9) }) }),
  /** A picture that the shop's server has taken in. */
  z.strictObject({ type: z.literal("picture-kept"), data: pictureData }),
  /** How long was worked on it in all; the last word counts. */
  z.strictObject({ type: z.literal("time-told"), data: z.strictObject({ minutes: z.number().int().min(0).max(60_000) }) }),
  /** Whether similar closed jobs make some suspects likelier here; the last word counts, and they do until somebody says otherwise. */
  z.strictObject({ type: z.literal("cases-weighed"), data: z.strictObject({ weighed: z.boolean() }) }),
  /** What tells whose vehicle it is was taken out of earlier entries, since the job is older than the shop keeps that. */
  z.strictObject({
    type: z.literal("customer-removed"),
    data: z.strictObject({ entries: z.number().int().min(0), pictures: z.number().int().min(0), months: z.number().int().min(1).max(600) }),
  }),
  /** Arrows, circles and words over a picture; the last layer counts, an empty one takes it off. */
  z.strictObject({
    type: z.literal("picture-marked"),
    data: z.strictObject({ target: uuid7, marks: z.array(pictureMark).max(MOST_MARKS) }),
  }),
  /** A recording of a scope or logger that the shop's server has taken in. */
  z.strictObject({ type: z.literal("trace-kept"), data: traceData }),
  /** What this job shows was held against known-goods of the shop's shelf. */
  z.strictObject({ type: z.literal("known-good-used"), data: z.strictObject({ items: z.array(uuid7).min(1).max(50), what: words(200) }) }),
  /** A meter was tried before its readings are trusted; the last one of a meter counts. */
  z.strictObject({ type: z.literal("meter-checked"), data: meterCheckData }),
  /** Somebody has seen to it that the engine may turn: neutral, brake, chocks, nobody near. */
  z.strictObject({ type: z.literal("clear-to-crank"), data: z.strictObject({}) }),
] as const;

/**
 * A moment in UTC between 2000 and 2100, to the millisecond at most: what every clock, database and calendar holds without rounding it into
 * another year.
 */
export const moment = z.iso
  .datetime()
  .regex(/^20\d\d-/, "must lie between the years 2000 and 2100")
  .regex(/^[^.]*(\.\d{1,3})?Z$/, "must end in Z, with thousandths of a second at most");

const envelope = {
  id: uuid7,
  jobId: uuid7,
  /** When it happened, by the clock of whoever recorded it. */
  at: moment,
  by: words(80),
};

export const jobEvent = z.discriminatedUnion("type", [
  bodies[0].extend(envelope),
  bodies[1].extend(envelope),
  bodies[2].extend(envelope),
  bodies[3].extend(envelope),
  bodies[4].extend(envelope),
  bodies[5].extend(envelope),
  bodies[6].extend(envelope),
  bodies[7].extend(envelope),
  bodies[8].extend(envelope),
  bodies[9].extend(envelope),
  bodies[10].extend(envelope),
  bodies[11].extend(envelope),
  bodies[12].extend(envelope),
  bodies[13].extend(envelope),
  bodies[14].extend(envelope),
  bodies[15].extend(envelope),
  bodies[16].extend(envelope),
  bodies[17].extend(envelope),
  bodies[18].extend(envelope),
  bodies[19].extend(envelope),
  bodies[20].extend(envelope),
  bodies[21].extend(envelope),
  bodies[22].extend(envelope),
  bodies[23].extend(envelope),
  bodies[24].extend(envelope),
  bodies[25].extend(envelope),
  bodies[26].extend(envelope),
  bodies[27].extend(envelope),
  bodies[28].extend(envelope),
  bodies[29].extend(envelope),
  repairBodies[0].extend(envelope),
  repairBodies[1].extend(envelope),
  repairBodies[2].extend(envelope),
  repairBodies[3].extend(envelope),
  repairBodies[4].extend(envelope),
  repairBodies[5].extend(envelope),
  repairBodies[6].extend(envelope),
  repairBodies[7].extend(envelope),
  repairBodies[8].extend(envelope),
  practiceBodies[0].extend(envelope),
  practiceBodies[1].extend(envelope),
  practiceBodies[2].extend(envelope),
  practiceBodies[3].extend(envelope),
]);
export type JobEvent = z.infer<typeof jobEvent>;
export type JobEventType = JobEvent["type"];
export type EventOf<T extends JobEventType> = Extract<JobEvent, { type: T }>;
export type ComplaintData = z.infer<typeof complaintData>;
export const JOB_EVENT_TYPES: readonly JobEventType[] = [...bodies, ...repairBodies, ...practiceBodies].map((b) => b.shape.type.value);
