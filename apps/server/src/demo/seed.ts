import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { z } from "zod";
import { hiddenTruth } from "@rheonom/contract/api";
import { type DemoCircuits } from "@rheonom/contract/light";
import { jobEvent } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { harnessRow } from "../store/harness-row.ts";
import type { Store } from "../store/store.ts";

/** A demo job in its file: the log, and what is really wrong. */
export type DemoJob = z.infer<typeof demoJob>;
const demoJob = z.object({
  format: z.literal("rheonom-demo-job"),
  version: z.literal(1),
  /** The moment that counts as now in the file; the log is moved so that it ends as long before the time of seeding. */
  now: z.iso.datetime(),
  truth: hiddenTruth,
  events: z.array(jobEvent).min(1),
});

/** Writes the demo jobs that are wanted into the store; those that it holds already are left as they are. Returns how many were new. Throws on a file that is not valid. */
export async function seedDemo(
  store: Pick<Store, "jobExists" | "openJob" | "appendEvents">,
  root: string,
  now: Date,
  isWanted: (job: DemoJob) => boolean = () => true,
): Promise<number> {
  let made = 0;
  for (const job of readDemoJobs(root).filter(isWanted)) {
    const later = now.getTime() - Date.parse(job.now);
    const [first, ...rest] = job.events.map((e) => ({ ...e, at: new Date(Date.parse(e.at) + later).toISOString() }));
    if (first === undefined || (await store.jobExists(first.jobId))) continue;
    await store.openJob(first, { truth: job.truth });
    if (rest.length > 0) await store.appendEvents(first.jobId, rest);
    made++;
  }
  return made;
}

/** The demo jobs, by name of file. Throws on a file that is not valid. */
export function readDemoJobs(root: string): z.infer<typeof demoJob>[] {
  const folder = join(root, "demo/jobs");
  const files = readdirSync(folder)
    .filter((f) => f.endsWith(".json"))
    .sort();
  return files.map((f) => demoJob.parse(JSON.parse(readFileSync(join(folder, f), "utf8"))));
}

/** Puts the made-up fleet into the store; vehicles that it holds already are left as they are. Throws on a file that is not valid. */
export async function seedVehicles(store: Pick<Store, "listVehicles" | "addHarness">, root: string, now: Date): Promise<void> {
  const known = new Set((await store.listVehicles()).map((v) => v.id));
  const folder = join(root, "demo/vehicles");
  for (const file of readdirSync(folder)
    .filter((f) => f.endsWith(".circuit"))
    .sort()) {
    const id = file.replace(/\.circuit$/, "");
    if (known.has(id)) continue;
    const { harness, problems } = parseNotation(readFileSync(join(folder, file), "utf8"));
    if (harness === undefined) throw new Error(`demo/vehicles/${file}: ${problems.map((p) => `${p.line}: ${p.message}`).join("; ")}`);
    await store.addHarness(id, { ...harnessRow(harness), basedOn: 0, by: "Net Loft", note: "as drawn", at: now, demo: true });
  }
}

/** The demo circuits, by name of file. */
export function readDemoCircuits(root: string): DemoCircuits {
  const folder = join(root, "demo/circuits");
  const circuits = readdirSync(folder)
    .filter((f) => f.endsWith(".circuit"))
    .sort()
    .map((f) => {
      const notation = readFileSync(join(folder, f), "utf8");
      return { id: f.replace(/\.circuit$/, ""), name: parseNotation(notation).harness?.name ?? f, notation };
    });
  return { circuits };
}
