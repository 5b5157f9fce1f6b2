import fs from "node:fs";
import { join } from "node:path";
import { isDeepStrictEqual } from "node:util";
import type { JobEvent } from "@rheonom/core/job";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { callsOf } from "../store/calls.ts";
import { openStore, prepareFolder } from "../store/open.ts";
import { ROOT } from "./local-app.ts";
import { afterPowerCut, recordDisk, type Recording } from "./power-cut.ts";

const configOf = (dataFolder: string) => ({
  dataFolder,
  databaseUrl: undefined,
  startFresh: false,
  look: false,
  root: ROOT,
  who: "power cut",
});

/** A disk written to, with the moment (in operations) at which each event was acknowledged. */
export interface CutRun {
  readonly recording: Recording;
  readonly acknowledged: readonly { readonly event: JobEvent; readonly at: number }[];
  readonly jobs: readonly string[];
}

/** Makes a database and posts to several jobs at once, with work on the write-ahead log in between. */
export async function runToBeCut(folder: string, rounds: number): Promise<CutRun> {
  const config = configOf(folder);
  fs.mkdirSync(folder, { recursive: true });
  await prepareFolder(config);
  const recording = recordDisk(folder);
  const acknowledged: { event: JobEvent; at: number }[] = [];
  const logs = Array.from({ length: 4 }, (_, n) => {
    const log = new LogWriter();
    for (let i = 0; i < 5000 * n; i++) log.id();
    Object.assign(log, { jobId: log.id() });
    return log;
  });
  try {
    const opened = await openStore(config);
    const store = callsOf(opened);
    for (const log of logs) {
      const event = log.make("job-opened", COMPLAINT);
      await store.openJob(event);
      acknowledged.push({ event, at: recording.ops.length });
    }
    for (let round = 0; round < rounds; round++) {
      await Promise.all(
        logs.map(async (log) => {
          const event = log.make("note-added", { text: `note of round ${round} ${"x".repeat(400)}` });
          await store.appendEvents(log.jobId, [event]);
          acknowledged.push({ event, at: recording.ops.length });
        }),
      );
      if (round % 10 === 9) await opened.wal!.checkpoint();
    }
    await opened.close();
  } finally {
    recording.stop();
  }
  return { recording, acknowledged, jobs: logs.map((l) => l.jobId) };
}

/** What is missing of what was acknowledged when the power went before operation `cut`, and what stands there twice or changed. Rejects when the folder does not open. */
export async function lostAfter(
  { recording, acknowledged, jobs }: CutRun,
  cut: number,
  chance: () => number,
  scratch: string,
): Promise<string[]> {
  afterPowerCut(recording, cut, chance, scratch);
  const config = configOf(scratch);
  await prepareFolder(config);
  const opened = await openStore(config);
  const store = callsOf(opened);
  const found = new Map<string, unknown>();
  const wrong: string[] = [];
  for (const id of jobs) {
    const log = await store.readLog(id, 0).catch(() => undefined);
    if (log === undefined) continue;
    for (const event of (JSON.parse(new TextDecoder().decode(log)) as { events: { id: string; type: string }[] }).events) {
      if (found.has(event.id)) wrong.push(`${event.id} stands twice`);
      if (event.type === "unreadable") wrong.push(`${event.id} cannot be read`);
      found.set(event.id, event);
    }
  }
  await opened.close();
  for (const { event, at } of acknowledged) {
    if (at > cut) continue;
    const stored = found.get(event.id);
    if (stored === undefined) wrong.push(`${event.id} is lost`);
    else if (!isDeepStrictEqual(stored, event)) wrong.push(`${event.id} is changed`);
  }
  fs.rmSync(join(scratch), { recursive: true, force: true });
  return wrong;
}
