import { Router, type Request } from "express";
import { z } from "zod";
import type { Heavy } from "../heavy/pool.ts";
import { PAPERS } from "../heavy/tasks.ts";
import { PAGE_POLICY } from "../report/page.ts";
import type { MediaStore } from "../media/media-store.ts";
import type { Store } from "../store/store.ts";
import { readJobId, readQuery } from "./validate.ts";

/** `copy=redacted`: without plate, VIN and who answered. */
const copyQuery = z.object({ copy: z.literal("redacted").optional() });

/** The record of a job: open data and PDF. `now` gives the time of making. */
export function reportRoutes(store: Store, heavy: Heavy, media: MediaStore, now: () => Date): Router {
  const router = Router();
  const logOf = async (request: Request) => ({ id: readJobId(request), log: await store.readLog(readJobId(request), 0) });
  const isRedacted = (request: Request): boolean => readQuery(copyQuery, request).copy === "redacted";
  router.get("/jobs/:id/report.json", async (request, response) => {
    const { id, log } = await logOf(request);
    const report = Buffer.from(await heavy.run("reportJson", log, now().toISOString(), isRedacted(request)));
    response.setHeader("Content-Disposition", `inline; filename="rheonom-${id.slice(0, 8)}.json"`);
    response.type("application/json").send(report);
  });
  for (const name of PAPERS)
    for (const [form, type] of [
      ["pdf", "application/pdf"],
      ["html", "text/html"],
    ] as const)
      router.get(`/jobs/:id/${name}.${form}`, async (request, response) => {
        const { id, log } = await logOf(request);
        const shop = { name: (await store.readShop()).name, mediaFolder: media.folder };
        const paper = Buffer.from(await heavy.run("paper", log, now().toISOString(), name, form, isRedacted(request), shop));
        const file = `rheonom-${name === "report" ? "" : `${name}-`}${id.slice(0, 8)}.${form}`;
        response.setHeader("Content-Disposition", `inline; filename="${file}"`);
        if (form === "html") response.setHeader("Content-Security-Policy", `${PAGE_POLICY}; sandbox`);
        response.type(type).send(paper);
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
