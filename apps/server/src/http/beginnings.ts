import { Router } from "express";
import { practising, type Begun } from "@rheonom/contract/light";
import { readDemoJobs, seedDemo, type DemoJob } from "../demo/seed.ts";
import { readRigs } from "../demo/practice.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { Store } from "../store/store.ts";
import { readBody } from "./validate.ts";

const isFinished = ({ events }: DemoJob): boolean => events.at(-1)?.type === "job-closed";

/** Ways to begin in a shop that has no job yet: a fault to practise on, and a finished job to look at. */
export function beginningRoutes(store: Store, heavy: Heavy, root: string, now: () => Date): Router {
  const router = Router();
  const rigs = readRigs(root);
  const finished = readDemoJobs(root).find(isFinished)!.events[0]!.jobId;
  router.post("/practice", async (request, response) => {
    const { by } = readBody(practising, request);
    const { events, truth } = await heavy.run("practice", rigs, by, now().toISOString());
    const [first, ...rest] = events;
    await store.openJob(first!, { truth });
    if (rest.length > 0) await store.appendEvents(first!.jobId, rest);
    response.status(201).json({ jobId: first!.jobId } satisfies Begun);
  });
  router.post("/samples/finished", async (_request, response) => {
    await seedDemo(store, root, now(), isFinished);
    response.status(201).json({ jobId: finished } satisfies Begun);
  });
  return router;
}
