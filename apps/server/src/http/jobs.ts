import { Router } from "express";
import { appendEvents, event, simulate, type JobLog, type JobList, type JobSummary } from "@rheonom/contract/api";
import { foldJob, openTray } from "@rheonom/core/job";
import { AppError } from "../errors.ts";
import { simulateReading } from "../demo/stand-in.ts";
import type { JobStore, StoredJob } from "../store/job-store.ts";
import { readBody, readJobId } from "./validate.ts";

/** Jobs and their logs. */
export function jobRoutes(store: JobStore): Router {
  const router = Router();
  router.get("/jobs", async (_request, response) => {
    const list: JobList = { jobs: (await store.list()).flatMap(summaryOf).sort((p, q) => q.lastAt.localeCompare(p.lastAt)) };
    response.json(list);
  });
  router.post("/jobs", async (request, response) => {
    const opened = readBody(event, request);
    if (opened.type !== "job-opened") {
      throw new AppError("body-invalid", {}, [{ path: "type", message: "a new job begins with a job-opened event" }]);
    }
    const stored = await store.open(opened);
    response.status(stored > 0 ? 201 : 200).json({ ids: [opened.id], stored });
  });
  router.get("/jobs/:id", async (request, response) => {
    const job = await store.read(readJobId(request));
    const log: JobLog = { id: job.id, simulated: job.hiddenTruth !== undefined, events: [...job.events] };
    response.json(log);
  });
  router.post("/jobs/:id/events", async (request, response) => {
    const id = readJobId(request);
    const body = readBody(appendEvents, request);
    const stored = await store.append(id, body.events);
    response.status(stored > 0 ? 201 : 200).json({ ids: body.events.map((e) => e.id), stored });
  });
  router.post("/jobs/:id/simulated-reading", async (request, response) => {
    const job = await store.read(readJobId(request));
    const body = readBody(simulate, request);
    response.json(simulateReading(job, body, Math.random));
  });
  return router;
}

function summaryOf(job: StoredJob): JobSummary[] {
  const view = foldJob(job.events);
  if (view === undefined) return [];
  return [
    {
      id: job.id,
      vehicle: view.complaint.vehicle,
      registration: view.complaint.registration,
      words: view.complaint.words,
      stage: view.stage,
      openedAt: view.openedAt,
      lastAt: view.lastAt,
      openedBy: view.openedBy,
      leftUndone: openTray(view).length,
      demo: job.demo,
    },
  ];
}
