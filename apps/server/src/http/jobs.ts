import { Router, type Response } from "express";
import { z } from "zod";
import { appendEvents, benchKept, capture, type CaptureProgress, event, simulate, simulateLook } from "@rheonom/contract/api";
import { earlierQuery, jobQuery } from "@rheonom/contract/light";
import type { DebriefProgress } from "@rheonom/contract/practice";
import { TRACE_TYPE } from "@rheonom/contract/shop";
import type { JobEvent } from "@rheonom/core/job";
import { weightsFrom } from "@rheonom/core/practice";
import { AppError } from "../errors.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { Store } from "../store/store.ts";
import { createDebriefs } from "./debriefs.ts";
import { readBody, readJobId, readQuery } from "./validate.ts";

/** Clocks of devices differ; one that is further ahead is wrong, and so would be every order by time. */
const MOST_AHEAD_MS = 24 * 3600 * 1000;

/** The name by which the share of a recording is asked for; without one nobody asks. */
const captureQuery = z.object({ as: z.uuid().default("00000000-0000-0000-0000-000000000000") });
const logQuery = z.object({ after: z.coerce.number().int().min(0).max(10_000_000).default(0) });

/** Jobs and their logs. */
export function jobRoutes(store: Store, heavy: Heavy, now: () => Date): Router {
  const router = Router();
  const debriefs = createDebriefs(heavy);
  const onTime = (events: readonly JobEvent[]): void => {
    const limit = now().getTime() + MOST_AHEAD_MS;
    for (const e of events)
      if (Date.parse(e.at) > limit) throw new AppError("event-time", { id: e.id, at: e.at, now: now().toISOString() });
  };
  router.get("/jobs", async (request, response) => void response.json(await store.listJobs(readQuery(jobQuery, request))));
  router.get(
    "/earlier-jobs",
    async (request, response) => void response.json(await store.earlierJobs(readQuery(earlierQuery, request).find)),
  );
  router.get("/jobs/:id/similar", async (request, response) => void response.json(await store.similarCases(readJobId(request))));
  router.post("/jobs", async (request, response) => {
    const opened = readBody(event, request);
    if (opened.type !== "job-opened") {
      throw new AppError("body-invalid", {}, [{ path: "type", message: "a new job begins with a job-opened event" }]);
    }
    onTime([opened]);
    const stored = await store.openJob(opened);
    response.status(stored > 0 ? 201 : 200).json({ ids: [opened.id], stored });
  });
  router.get("/jobs/:id", async (request, response) => {
    const id = readJobId(request);
    sendJson(response, await store.readLog(id, readQuery(logQuery, request).after));
  });
  router.post("/jobs/:id/events", async (request, response) => {
    const id = readJobId(request);
    const { events } = readBody(appendEvents, request);
    onTime(events);
    const stored = await store.appendEvents(id, events);
    response.status(stored > 0 ? 201 : 200).json({ ids: events.map((e) => e.id), stored });
  });
  router.get("/jobs/:id/debrief", async (request, response) => {
    const id = readJobId(request);
    const { log, ...hidden } = await store.readJobWithTruth(id);
    const { result, ...made } = await debriefs.of(id, log, hidden, weightsFrom((await store.readShop()).points));
    // Where nothing can be stored now it is told all the same, and counted the next time.
    if (result !== undefined && store.mode().mode === "writable") await store.keepPracticeResult(result);
    response.json(made);
  });
  router.get("/jobs/:id/debrief/progress", (request, response) => {
    response.json({ share: debriefs.share(readJobId(request)) } satisfies DebriefProgress);
  });
  /** Share of the recordings that are being made, by the name that their caller gave them. */
  const captures = new Map<string, number>();
  router.get("/jobs/:id/simulated-capture/:as", (request, response) => {
    readJobId(request);
    response.json({ share: captures.get(request.params.as) ?? 0 } satisfies CaptureProgress);
  });
  router.put("/jobs/:id/bench", async (request, response) => {
    const id = readJobId(request);
    await store.keepBench(id, readBody(benchKept, request));
    response.status(204).end();
  });
  router.post("/jobs/:id/simulated-reading", async (request, response) => {
    const id = readJobId(request);
    const ask = readBody(simulate, request);
    const { log, ...hidden } = await store.readJobWithTruth(id);
    response.json(await heavy.run("simulate", log, hidden, ask));
  });
  router.post("/jobs/:id/simulated-look", async (request, response) => {
    const id = readJobId(request);
    const ask = readBody(simulateLook, request);
    const { log, ...hidden } = await store.readJobWithTruth(id);
    response.json(await heavy.run("look", log, hidden, ask));
  });
  router.post("/jobs/:id/simulated-capture", async (request, response) => {
    const id = readJobId(request);
    const ask = readBody(capture, request);
    const { log, ...hidden } = await store.readJobWithTruth(id);
    const gone = new AbortController();
    const { as } = readQuery(captureQuery, request);
    response.on("close", () => {
      gone.abort();
      captures.delete(as);
    });
    captures.set(as, 0);
    const onTold = (share: unknown): void => void captures.set(as, Number(share));
    const packed = await heavy.runWhile({ signal: gone.signal, onTold }, "capture", log, hidden, ask);
    if (packed !== undefined) response.type(TRACE_TYPE).send(Buffer.from(packed.buffer, packed.byteOffset, packed.byteLength));
  });
  return router;
}

/** JSON that is written already, without another copy of it as text. */
export const sendJson = (response: Response, bytes: Uint8Array): void =>
  void response.type("application/json").send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
