import { z } from "zod";
import { faultSchema, vehicleState } from "@rheonom/core/circuit";
import { observableSchema } from "@rheonom/core/diagnosis";
import { harnessSchema } from "@rheonom/core/harness";
import { leadsSchema } from "@rheonom/core/instruments";
import { jobEvent, moment, uuid7 } from "@rheonom/core/job";
import { vehicleId } from "./light.ts";

export const event = jobEvent.meta({ id: "JobEvent" });

/** A row of the log that cannot be read; it stands in its place with its text. */
export const unreadableEntry = z
  .object({
    type: z.literal("unreadable"),
    id: z.string(),
    jobId: z.string(),
    at: z.string(),
    by: z.string(),
    raw: z.string(),
    why: z.string(),
  })
  .meta({ id: "UnreadableEntry" });

/** What stands on the bench of a job and is no entry of its log: whoever opens the job next finds it so. */
export const benchKept = z
  .strictObject({
    /** When it came to stand there, by the clock of whoever put it there. */
    at: moment,
    by: z.string().trim().min(1).max(80),
    /** Without what the log says is unplugged, bridged or fitted. */
    state: vehicleState,
    /** The load in question; "" where none was asked for. */
    load: z.string().max(60),
    /** The next test in a few words; "" while it is not known. */
    next: z.string().max(160),
    /** Entries of the log that `next` was worked out from. */
    entries: z.number().int().min(0),
  })
  .meta({ id: "BenchKept" });
export type BenchKept = z.infer<typeof benchKept>;

/**
 * The log of one job, or its end from a place on. `simulated`: a stand-in vehicle with a hidden fault answers readings for it. `next`: the place from which to ask for what
 * comes later.
 */
export const jobLog = z
  .object({
    id: uuid7,
    simulated: z.boolean(),
    events: z.array(z.union([event, unreadableEntry])),
    next: z.number().int(),
    bench: benchKept.nullable(),
    /** SHA-256 that chains the last entry to all before it; "" where no entry is chained. */
    hash: z.string().max(64).default(""),
  })
  .meta({ id: "JobLog" });
export type JobLog = z.infer<typeof jobLog>;

/** An entry that cannot be read, as `rheonom check` lists it. */
export interface BadEntry {
  readonly id: string;
  readonly jobId: string;
  readonly position: number;
  readonly why: string;
  readonly raw: string;
}

/** At most this many events in one posting. */
export const MAX_EVENTS = 200;
export const appendEvents = z.object({ events: z.array(event).min(1).max(MAX_EVENTS) }).meta({ id: "AppendEvents" });
export type AppendEvents = z.infer<typeof appendEvents>;

export const simulate = z
  .object({
    leads: leadsSchema,
    state: vehicleState,
    /** Loom, plug, ground or part that is being moved while the reading is taken. */
    moving: z.string().max(40).optional(),
  })
  .meta({ id: "Simulate" });
export type Simulate = z.infer<typeof simulate>;

/** Channels, samples a second and length of a recording of the simulated vehicle. */
export const MOST_CAPTURE_CHANNELS = 4;
export const MOST_CAPTURE_HERTZ = 1e7;
/** Samples of a channel at most. */
export const MOST_CAPTURE_POINTS = 1e6;
const place = z.string().min(1).max(40);
/** Share of a recording from which on something is moved. */
export const MOVED_FROM = 1 / 3;
export const capture = z
  .object({
    state: vehicleState,
    probes: z
      .array(
        z.object({
          at: z.union([z.strictObject({ red: place, black: place }), z.strictObject({ around: place })]),
          /** 1: 1 MΩ, 10: 10 MΩ. */
          probe: z.union([z.literal(1), z.literal(10)]),
        }),
      )
      .min(1)
      .max(MOST_CAPTURE_CHANNELS),
    seconds: z.number().min(1e-4).max(1),
    /** What is moved by hand from a third of the recording on. */
    moving: z.string().max(40).optional(),
    rateHz: z.number().min(1000).max(MOST_CAPTURE_HERTZ),
  })
  .refine((c) => c.seconds * c.rateHz >= 2, { message: "must hold two samples at least", path: ["seconds"] })
  .refine((c) => c.seconds * c.rateHz <= MOST_CAPTURE_POINTS + 0.5, { message: "must hold a million samples at most", path: ["rateHz"] })
  .meta({ id: "Capture" });
export type Capture = z.infer<typeof capture>;
/** How much of a recording that is being made is worked out, 0 to 1. */
export const captureProgress = z.object({ share: z.number().min(0).max(1) }).meta({ id: "CaptureProgress" });
export type CaptureProgress = z.infer<typeof captureProgress>;

/** What a simulated vehicle is asked beside readings: what a part does, what is seen somewhere, what moving or swapping changes. */
export const simulateLook = z.strictObject({ state: vehicleState, observe: observableSchema }).meta({ id: "SimulateLook" });
export type SimulateLook = z.infer<typeof simulateLook>;

/** The hidden truth of a demo job, in its file under demo/jobs. */
export const hiddenTruth = z.array(faultSchema);
/** The world of a job that was made to practise on. It stays on the server until the job is closed. */
export const practiceWorld = z.strictObject({
  /** Of a vehicle that ships with the app, or of the shop's. */
  from: z.enum(["bench", "shop"]),
  vehicle: z.string(),
  family: z.string(),
  seed: z.number().int(),
  difficulty: z.number(),
  twists: z.array(z.string()),
  /** What is not as it should be, and nobody complains of. */
  beside: hiddenTruth,
  /** Share of the time in which the fault is there. */
  presence: z.number().min(0).max(1),
  /** Minutes of tests after which the fault is there, where it is not from the beginning. */
  afterMinutes: z.number().min(0).optional(),
  /** Where the diagram of the job is not as the vehicle is. */
  misdrawn: z
    .discriminatedUnion("kind", [
      z.strictObject({ kind: z.literal("cavities"), connector: z.string(), cavities: z.tuple([z.string(), z.string()]).readonly() }),
      z.strictObject({ kind: z.literal("colour"), wire: z.string(), colour: z.string() }),
    ])
    .optional(),
  /** Once more of a job that was debriefed: it counts for nothing. */
  again: z.boolean().optional(),
});
export type PracticeWorld = z.infer<typeof practiceWorld>;
/** As it is kept: the faults alone, or with their world. */
export const hiddenScenario = z.union([hiddenTruth, z.strictObject({ faults: hiddenTruth, world: practiceWorld })]);

/** The wiring itself is checked against the harness schema of core where it is used. */
export const versionedHarness = z
  .object({ id: vehicleId, version: z.number().int(), harness: harnessSchema })
  .meta({ id: "VersionedHarness" });
export type VersionedHarness = z.infer<typeof versionedHarness>;

/** A new version. `basedOn`: the version it was made from, 0 for a new vehicle; refused when another has come in between. */
export const saveHarness = z
  .object({
    harness: harnessSchema,
    basedOn: z.number().int().min(0).max(1e9),
    by: z.string().trim().min(1).max(80),
    note: z.string().trim().max(300),
  })
  .meta({ id: "SaveHarness" });
export type SaveHarness = z.infer<typeof saveHarness>;
