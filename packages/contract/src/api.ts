import { z } from "zod";
import { faultSchema, vehicleState } from "@rheonom/core/circuit";
import { harnessSchema } from "@rheonom/core/harness";
import { leadsSchema } from "@rheonom/core/instruments";
import { jobEvent, STAGES, uuid7 } from "@rheonom/core/job";

export const jobSummary = z
  .object({
    id: uuid7,
    vehicle: z.string(),
    registration: z.string(),
    words: z.string(),
    stage: z.enum([...STAGES, "closed"]),
    openedAt: z.string(),
    lastAt: z.string(),
    openedBy: z.string(),
    /** Things temporarily changed that are neither undone nor explained. */
    leftUndone: z.number().int(),
    demo: z.boolean(),
  })
  .meta({ id: "JobSummary" });
export type JobSummary = z.infer<typeof jobSummary>;

/** Which part of the board is asked for. Every search word must occur in vehicle, plate, the customer's words or the name of who opened it. */
export const jobQuery = z.object({
  search: z.string().max(200).default(""),
  stage: z.enum([...STAGES, "closed", "open", "all"]).default("all"),
  sort: z.enum(["vehicle", "words", "stage", "leftUndone", "openedBy", "lastAt"]).default("lastAt"),
  order: z.enum(["asc", "desc"]).default("desc"),
  limit: z.coerce.number().int().min(1).max(200).default(50),
  offset: z.coerce.number().int().min(0).max(10_000_000).default(0),
});
export type JobQuery = z.infer<typeof jobQuery>;

/** A page of the board. `total`: how many jobs match; `counts`: how many of each stage match the search, whatever stage was asked for. */
export const jobList = z
  .object({ jobs: z.array(jobSummary), total: z.number().int(), counts: z.record(z.string(), z.number().int()) })
  .meta({ id: "JobList" });
export type JobList = z.infer<typeof jobList>;

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

/**
 * The log of one job, or its end from a place on. `simulated`: a stand-in vehicle with a hidden fault answers readings for it. `next`: the place from which to ask for what
 * comes later.
 */
export const jobLog = z
  .object({ id: uuid7, simulated: z.boolean(), events: z.array(z.union([event, unreadableEntry])), next: z.number().int() })
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

/** Ids that the log now holds; `stored` counts those that it did not hold before. */
export const appended = z.object({ ids: z.array(uuid7), stored: z.number().int() }).meta({ id: "Appended" });
export type Appended = z.infer<typeof appended>;

export const demoCircuit = z.object({ id: z.string(), name: z.string(), notation: z.string() }).meta({ id: "DemoCircuit" });
export const demoCircuits = z.object({ circuits: z.array(demoCircuit) }).meta({ id: "DemoCircuits" });
export type DemoCircuits = z.infer<typeof demoCircuits>;

export const simulate = z
  .object({
    leads: leadsSchema,
    state: vehicleState,
    /** Loom, plug, ground or part that is being moved while the reading is taken. */
    moving: z.string().max(40).optional(),
  })
  .meta({ id: "Simulate" });
export type Simulate = z.infer<typeof simulate>;

/** What the stand-in's meter shows, with the digits of its display. */
export const simulated = z
  .object({ text: z.string(), kind: z.enum(["value", "over", "void"]), message: z.string() })
  .meta({ id: "Simulated" });
export type Simulated = z.infer<typeof simulated>;

/** `data`: whether entries can be stored, and why not. `openToNetwork`: everyone on this network can read, write and work vehicles. */
export const health = z
  .object({
    ok: z.literal(true),
    version: z.string(),
    pid: z.number().int(),
    data: z.object({ mode: z.enum(["writable", "read-only", "opening"]), why: z.string() }),
    openToNetwork: z.boolean(),
  })
  .meta({ id: "Health" });
export type Health = z.infer<typeof health>;

/** The hidden truth of a demo job, in its file under demo/jobs. */
export const hiddenTruth = z.array(faultSchema);

/** Short name of a vehicle in addresses. */
export const vehicleId = z.string().regex(/^[a-z0-9][a-z0-9-]{0,47}$/, "must be small letters, digits and hyphens");

export const harnessCounts = z.object({
  wires: z.number().int(),
  parts: z.number().int(),
  grounds: z.number().int(),
  fuses: z.number().int(),
  modules: z.number().int(),
});
export type HarnessCounts = z.infer<typeof harnessCounts>;

/** One of a vehicle's versions; versions are never changed. */
export const harnessVersion = z
  .object({ version: z.number().int().min(1), at: z.string(), by: z.string(), note: z.string(), name: z.string(), counts: harnessCounts })
  .meta({ id: "HarnessVersion" });
export type HarnessVersion = z.infer<typeof harnessVersion>;

export const vehicleSummary = z
  .object({ id: vehicleId, demo: z.boolean(), latest: harnessVersion, versions: z.number().int() })
  .meta({ id: "VehicleSummary" });
export type VehicleSummary = z.infer<typeof vehicleSummary>;
export const vehicleList = z.object({ vehicles: z.array(vehicleSummary) }).meta({ id: "VehicleList" });
export type VehicleList = z.infer<typeof vehicleList>;

export const vehicleVersions = z
  .object({ id: vehicleId, demo: z.boolean(), versions: z.array(harnessVersion) })
  .meta({ id: "VehicleVersions" });
export type VehicleVersions = z.infer<typeof vehicleVersions>;

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
export const savedHarness = z.object({ id: vehicleId, version: z.number().int() }).meta({ id: "SavedHarness" });
export type SavedHarness = z.infer<typeof savedHarness>;
