import "./zod-setup.ts";
import { z } from "zod";

/** What the shop has beside its jobs: pictures, settings, what is due, cases like one. Without anything of core, and apart from what the first screen needs. */

/** Largest file that a camera may give, bytes, and the kinds of picture that are taken. */
export const MOST_PICTURE_BYTES = 40e6;
export const PICTURE_TYPES = ["image/jpeg", "image/png", "image/webp"] as const;

/** A picture as it was taken in: its name is the SHA-256 of its bytes, its size in px. */
export const keptPicture = z
  .object({ hash: z.string(), width: z.number().int(), height: z.number().int(), bytes: z.number().int() })
  .meta({ id: "KeptPicture" });
export type KeptPicture = z.infer<typeof keptPicture>;

/** Address of a picture by its name. */
export const picturePath = (hash: string, size: "whole" | "thumbnail"): string =>
  `/api/pictures/${hash}${size === "thumbnail" ? "/thumbnail" : ""}`;

/** A closed job like the one that is open. */
export const similarCase = z
  .object({
    jobId: z.string(),
    vehicle: z.string(),
    registration: z.string(),
    words: z.string(),
    closedAt: z.string(),
    /** How it ended: "C34.1: terminal renewed", with what was found. */
    repairs: z.array(z.object({ words: z.string(), found: z.string() })),
    /** Where it ended. */
    places: z.array(z.string()),
    /** What the two have in common. */
    common: z.array(z.string()),
    isSameWiring: z.boolean(),
  })
  .meta({ id: "SimilarCase" });
export const similarCases = z.object({ cases: z.array(similarCase) }).meta({ id: "SimilarCases" });
export type SimilarCases = z.infer<typeof similarCases>;

/** The shop's own settings. Amounts are in the currency's smallest unit. */
export const shopSettings = z
  .strictObject({
    name: z.string().trim().max(80),
    currency: z.string().regex(/^[A-Z]{3}$/, "is three capital letters, such as EUR"),
    taxPercent: z.number().min(0).max(100),
    hourlyRate: z.number().int().min(0).max(1e9),
    /** Hours that one person works a day. */
    hoursADay: z.number().min(0.5).max(24),
    /** Months after which a closed job keeps no customer. */
    keepMonths: z.number().int().min(1).max(600),
    /** Points of what counts in a practice job, by its id; the usual ones where it is left out. */
    points: z.record(z.string().max(20), z.number().int().min(0).max(100)).optional(),
  })
  .meta({ id: "ShopSettings" });
export type ShopSettings = z.infer<typeof shopSettings>;
/** What holds as long as nobody has set anything. */
export const USUAL_SHOP: ShopSettings = { name: "", currency: "EUR", taxPercent: 20, hourlyRate: 0, hoursADay: 8, keepMonths: 36 };
export const SHOP_PATH = "shop";

/** Closed jobs that are older than the shop keeps customers: how many, with how many pictures, and from when on none are. */
export const oldCustomers = z
  .object({ jobs: z.number().int(), pictures: z.number().int(), before: z.string() })
  .meta({ id: "OldCustomers" });
export type OldCustomers = z.infer<typeof oldCustomers>;
export const removeCustomers = z
  .strictObject({ by: z.string().trim().min(1).max(80), pictures: z.boolean() })
  .meta({ id: "RemoveCustomers" });
export const removedCustomers = z
  .object({ jobs: z.number().int(), entries: z.number().int(), pictures: z.number().int() })
  .meta({ id: "RemovedCustomers" });
export type RemovedCustomers = z.infer<typeof removedCustomers>;

/** Something that is due for a job. `on`: a day, or a minute by the shop's clock. */
export const jobDate = z
  .object({
    jobId: z.string(),
    vehicle: z.string(),
    registration: z.string(),
    whose: z.string(),
    on: z.string(),
    /** `waits`: what it waits for is there by then; `ask`: whether the fault came back is asked then; `promised`: the customer comes for it. */
    kind: z.enum(["waits", "ask", "promised"]),
    what: z.string(),
  })
  .meta({ id: "JobDate" });
export type JobDate = z.infer<typeof jobDate>;
export const dueList = z.object({ due: z.array(jobDate) }).meta({ id: "DueList" });
export type DueList = z.infer<typeof dueList>;
/** The minute that it is by the shop's clock: what is due then. */
export const dueQuery = z.object({ now: z.string().regex(/^20\d\d-\d\d-\d\dT\d\d:\d\d$/, "must be a minute, such as 2026-12-01T10:00") });

/** Largest packed trace, bytes, and how it is sent. */
export const MOST_TRACE_BYTES = 50e6;
export const TRACE_TYPE = "application/gzip";
/** A trace as it was taken in: its name is the SHA-256 of the packed file. */
export const keptTrace = z.object({ hash: z.string(), bytes: z.number().int() }).meta({ id: "KeptTrace" });
export type KeptTrace = z.infer<typeof keptTrace>;
/** Address of a trace by its name. */
export const tracePath = (hash: string): string => `/api/traces/${hash}`;
