import { Router } from "express";
import type { Heavy } from "../heavy/pool.ts";
import type { Store } from "../store/store.ts";
import { readJobId } from "./validate.ts";

/** The record of a job: open data and PDF. `now` gives the time of making. */
export function reportRoutes(store: Store, heavy: Heavy, now: () => Date): Router {
  const router = Router();
  const make = async (task: "reportJson" | "reportPdf" | "customerPdf" | "estimatePdf", id: string): Promise<Buffer> =>
    Buffer.from(await heavy.run(task, await store.readLog(id, 0), now().toISOString()));
  router.get("/jobs/:id/report.json", async (request, response) => {
    const id = readJobId(request);
    const report = await make("reportJson", id);
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
      const pdf = await make(task, id);
      response.setHeader("Content-Disposition", `inline; filename="rheonom-${name === "report" ? "" : `${name}-`}${id.slice(0, 8)}.pdf"`);
      response.type("application/pdf").send(pdf);
    });
  router.get("/jobs/:id/log.json", async (request, response) => {
    const id = readJobId(request);
    const log = Buffer.from(await store.readChained(id, now().toISOString()));
    response.setHeader("Content-Disposition", `attachment; filename="rheonom-log-${id.slice(0, 8)}.json"`);
    response.type("application/json").send(log);
  });
  return router;
}
