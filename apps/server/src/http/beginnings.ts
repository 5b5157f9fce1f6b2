import { Router } from "express";
import type { Begun } from "@rheonom/contract/light";
import { readDemoJobs, seedDemo, type DemoJob } from "../demo/seed.ts";
import type { Store } from "../store/store.ts";

const isFinished = ({ events }: DemoJob): boolean => events.at(-1)?.type === "job-closed";

/** A way to begin in a shop that has no job yet: a finished job to look at. */
export function beginningRoutes(store: Store, root: string, now: () => Date): Router {
  const router = Router();
  const finished = readDemoJobs(root).find(isFinished)!.events[0]!.jobId;
  router.post("/samples/finished", async (_request, response) => {
    await seedDemo(store, root, now(), isFinished);
    response.status(201).json({ jobId: finished } satisfies Begun);
  });
  return router;
}
