import { z } from "zod";
import { faultSchema, vehicleState } from "@rheonom/core/circuit";
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

export const jobList = z.object({ jobs: z.array(jobSummary) }).meta({ id: "JobList" });
export type JobList = z.infer<typeof jobList>;

export const event = jobEvent.meta({ id: "JobEvent" });

/** The log of one job. `simulated`: a stand-in vehicle with a hidden fault answers readings for it. */
export const jobLog = z.object({ id: uuid7, simulated: z.boolean(), events: z.array(event) }).meta({ id: "JobLog" });
export type JobLog = z.infer<typeof jobLog>;

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

export const simulate = z.object({ leads: leadsSchema, state: vehicleState }).meta({ id: "Simulate" });
export type Simulate = z.infer<typeof simulate>;

/** What the stand-in's meter shows, with the digits of its display. */
export const simulated = z
  .object({ text: z.string(), kind: z.enum(["value", "over", "void"]), message: z.string() })
  .meta({ id: "Simulated" });
export type Simulated = z.infer<typeof simulated>;

export const health = z.object({ ok: z.literal(true), version: z.string(), pid: z.number().int() }).meta({ id: "Health" });

/** The hidden truth of a demo job, in its file under demo/jobs. */
export const hiddenTruth = z.array(faultSchema);
