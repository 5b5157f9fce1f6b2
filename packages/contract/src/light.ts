import "./zod-setup.ts";
import { z } from "zod";

/**
 * What the first screen needs, and every other answer that holds no circuit and no event: without anything of core, so that a page is there before the model is.
 */

/** How far a job can have come; a test holds it against core's. */
export const JOB_STAGES = ["complaint", "circuit", "trace", "mend", "prove", "record", "closed"] as const;

export const jobSummary = z
  .object({
    id: z.string(),
    vehicle: z.string(),
    registration: z.string(),
    words: z.string(),
    stage: z.enum(JOB_STAGES),
    openedAt: z.string(),
    lastAt: z.string(),
    openedBy: z.string(),
    /** Things temporarily changed that are neither undone nor explained. */
    leftUndone: z.number().int(),
    /** Who was named for it, else whoever worked on it last. */
    whose: z.string(),
    /** What it waits for, and until which day; "" where it does not. */
    waits: z.string(),
    until: z.string(),
    /** When the customer was promised it, by the shop's clock; "" where nothing was. */
    promised: z.string(),
    /** Hours that it was planned with; null where nobody has said. */
    hours: z.number().nullable(),
    /** Hours of work that are still to be done, as far as known. */
    hoursOpen: z.number(),
    /** Day on which somebody should ask whether it came back, and the distance after which; "" where nobody need. */
    askOn: z.string(),
    askAfter: z.string(),
    /** The next test in a few words; "" while it is not known. */
    next: z.string(),
    demo: z.boolean(),
  })
  .meta({ id: "JobSummary" });
export type JobSummary = z.infer<typeof jobSummary>;

/** Which part of the board is asked for. Every search word must occur in vehicle, plate, the customer's words or the name of who opened it. */
export const jobQuery = z.object({
  search: z.string().max(200).default(""),
  stage: z.enum([...JOB_STAGES, "open", "all"]).default("all"),
  /** Of one person only. */
  whose: z.string().max(80).default(""),
  sort: z.enum(["vehicle", "words", "stage", "leftUndone", "whose", "lastAt"]).default("lastAt"),
  order: z.enum(["asc", "desc"]).default("desc"),
  limit: z.coerce.number().int().min(1).max(200).default(50),
  offset: z.coerce.number().int().min(0).max(10_000_000).default(0),
});
export type JobQuery = z.infer<typeof jobQuery>;

/** Jobs on a page of the board. */
export const PAGE_ROWS = 25;

/** What the board shows first. */
export const FIRST_PAGE: JobQuery = jobQuery.parse({ limit: PAGE_ROWS, stage: "open" });

/** Address of a page of the board, below /api/. The server tells the browser of the first one while it sends the page, so both must write it the same. */
export const jobListPath = (query: Partial<JobQuery>): string =>
  `jobs?${Object.entries(query)
    .map(([name, value]) => `${name}=${encodeURIComponent(value)}`)
    .join("&")}`;

/** A page of the board. `total`: how many jobs match; `counts`: how many of each stage match the search, whatever stage was asked for; `people`: whose the open jobs are. */
export const jobList = z
  .object({
    jobs: z.array(jobSummary),
    total: z.number().int(),
    counts: z.record(z.string(), z.number().int()),
    people: z.array(z.string()),
  })
  .meta({ id: "JobList" });
export type JobList = z.infer<typeof jobList>;

/** A job that a vehicle was here for before. */
export const earlierJob = z
  .object({
    jobId: z.string(),
    registration: z.string(),
    vehicle: z.string(),
    vin: z.string(),
    lastAt: z.string(),
    stage: z.enum(JOB_STAGES),
    words: z.string(),
    /** What was repaired then. */
    repairs: z.array(z.string()),
    /** The vehicle of the shop that its wiring was from, with its options. */
    wiring: z.object({ id: z.string(), options: z.array(z.string()) }).nullable(),
  })
  .meta({ id: "EarlierJob" });
export type EarlierJob = z.infer<typeof earlierJob>;
export const earlierJobs = z.object({ jobs: z.array(earlierJob) }).meta({ id: "EarlierJobs" });
export type EarlierJobs = z.infer<typeof earlierJobs>;
/** Where the days of the shop are, as a calendar that other programs follow. */
export const DATES_PATH = "/api/dates.ics";

/** The beginning of a plate, fleet number or VIN; blanks and capitals do not matter. */
export const earlierQuery = z.object({ find: z.string().trim().min(2).max(40) });

/** Ids that the log now holds; `stored` counts those that it did not hold before. */
export const appended = z.object({ ids: z.array(z.string()), stored: z.number().int() }).meta({ id: "Appended" });
export type Appended = z.infer<typeof appended>;

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

export const savedHarness = z.object({ id: vehicleId, version: z.number().int() }).meta({ id: "SavedHarness" });
export type SavedHarness = z.infer<typeof savedHarness>;

/** A bundle that was taken in: the job, and how many of its entries were new. */
export const bundleTaken = z.object({ jobId: z.string(), stored: z.number().int() }).meta({ id: "BundleTaken" });
export type BundleTaken = z.infer<typeof bundleTaken>;
/** The job that is there to begin with. */
export const begun = z.object({ jobId: z.string() }).meta({ id: "Begun" });
export type Begun = z.infer<typeof begun>;

export const demoCircuit = z.object({ id: z.string(), name: z.string(), notation: z.string() }).meta({ id: "DemoCircuit" });
export const demoCircuits = z.object({ circuits: z.array(demoCircuit) }).meta({ id: "DemoCircuits" });
export type DemoCircuits = z.infer<typeof demoCircuits>;

/** What the simulated vehicle shows to eyes, ears and hands. */
export const looked = z
  .object({
    /** What is seen, heard or said of it; undefined where it is a number. */
    word: z.string().optional(),
    /** V or %. */
    value: z.number().optional(),
    text: z.string(),
  })
  .meta({ id: "Looked" });
export type Looked = z.infer<typeof looked>;

/** What the stand-in's meter shows, with the digits of its display. */
export const simulated = z
  .object({ text: z.string(), kind: z.enum(["value", "over", "void"]), message: z.string() })
  .meta({ id: "Simulated" });
export type Simulated = z.infer<typeof simulated>;
