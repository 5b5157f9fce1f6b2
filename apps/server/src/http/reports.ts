import { Router } from "express";
import { buildReport, foldJob, type JobView, type Report } from "@rheonom/core/job";
import type { Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { AppError } from "../errors.ts";
import type { JobStore } from "../store/job-store.ts";
import { readJobId } from "./validate.ts";

/** The record of a job: open data and PDF. `now` gives the time of making. */
export function reportRoutes(store: JobStore, now: () => Date): Router {
  const router = Router();
  async function make(id: string): Promise<{ view: JobView; harness: Harness | undefined; report: Report }> {
    const view = foldJob((await store.read(id)).events);
    if (view === undefined) throw new AppError("job-not-found", { id });
    const harness = view.circuit === undefined ? undefined : parseNotation(view.circuit.notation).harness;
    return { view, harness, report: buildReport(view, harness, now().toISOString()) };
  }
  router.get("/jobs/:id/report.json", async (request, response) => {
    const id = readJobId(request);
    const { report } = await make(id);
    response.setHeader("Content-Disposition", `inline; filename="rheonom-${id.slice(0, 8)}.json"`);
    response.type("application/json").send(JSON.stringify(report, null, 2));
  });
  router.get("/jobs/:id/report.pdf", async (request, response) => {
    const id = readJobId(request);
    const made = await make(id);
    const { printReport } = await import("../report/print-report.ts");
    const pdf = await printReport(made.report, made.view, made.harness);
    response.setHeader("Content-Disposition", `inline; filename="rheonom-${id.slice(0, 8)}.pdf"`);
    response.type("application/pdf").send(pdf);
  });
  return router;
}
