import { Router } from "express";
import { z } from "zod";
import type { Heavy } from "../heavy/pool.ts";
import type { Store } from "../store/store.ts";
import { readJobId, readQuery } from "./validate.ts";

/** `copy=redacted`: without plate, VIN and who answered. */
const copyQuery = z.object({ copy: z.literal("redacted").optional() });

/** The record of a job: open data and PDF. `now` gives the time of making. */
export function reportRoutes(store: Store, heavy: Heavy, now: () => Date): Router {
  const router = Router();
  const make = async (
    task: "reportJson" | "reportPdf" | "customerPdf" | "estimatePdf",
    id: string,
    isRedacted = false,
  ): Promise<Buffer> => {
    const [log, at] = [await store.readLog(id, 0), now().toISOString()];
    return Buffer.from(await heavy.run(task, log, at, isRedacted));
  };
  router.get("/jobs/:id/report.json", async (request, response) => {
    const id = readJobId(request);
    const report = await make("reportJson", id, readQuery(copyQuery, request).copy === "redacted");
    response.setHeader("Content-Disposition", `inline; filename="rheonom-${id.slice(0, 8)}.json"`);
    response.type("application/json").send(report);
  });
  for (const [name, task] of [
    ["report", "reportPdf"],
    ["customer", "customerPdf"],
    ["estimate", "estimatePdf"],
  ] as const)
    router.get(`/jobs/:id/${name}.pdf`, async (request, response) => {
      const id = readJobId(request);
      const pdf = await make(task, id, readQuery(copyQuery, request).copy === "redacted");
      response.setHeader("Content-Disposition", `inline; filename="rheonom-${name === "report" ? "" : `${name}-`}${id.slice(0, 8)}.pdf"`);
      response.type("application/pdf").send(pdf);
    });
  router.get("/jobs/:id/readings.csv", async (request, response) => {
    const id = readJobId(request);
    const csv = Buffer.from(await heavy.run("readingsCsv", await store.readLog(id, 0), now().toISOString()));
    response.setHeader("Content-Disposition", `attachment; filename="rheonom-readings-${id.slice(0, 8)}.csv"`);
    response.type("text/csv").send(csv);
  });
  router.get("/jobs/:id/log.json", async (request, response) => {
    const id = readJobId(request);
    const log = Buffer.from(await store.readChained(id, now().toISOString()));
    response.setHeader("Content-Disposition", `attachment; filename="rheonom-log-${id.slice(0, 8)}.json"`);
    response.type("application/json").send(log);
  });
  return router;
}
