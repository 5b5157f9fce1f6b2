import type { Worker } from "node:worker_threads";
import { pino } from "pino";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { AppError } from "../errors.ts";
import { startStore } from "../store/store.ts";
import { ROOT } from "./local-app.ts";

/** A program of its own: the thread of the database is ended in the middle, and what then becomes of entries is said, a line each. */
const dataFolder = process.argv[2]!;
const threads: Worker[] = [];
process.on("worker", (worker) => threads.push(worker));
const say = (line: string): void => void process.stdout.write(`${line}\n`);
const config = { dataFolder, databaseUrl: undefined, startFresh: false, look: false, root: ROOT, who: "test" };
const store = await startStore(config, pino({ level: "silent" }));
const log = new LogWriter();
await store.openJob(log.add("job-opened", COMPLAINT));
const note = log.add("note-added", { text: "while it is lost" });
const first = store.appendEvents(log.jobId, [note]);
// The first thread serves; the second one has made the folder ready and is gone.
await threads[0]!.terminate();
say(await first.then(() => "stored", codeOf));
say(store.mode().mode);
say(await store.listVehicles().then(() => "read", codeOf));
for (let i = 0; i < 300 && store.mode().mode !== "writable"; i++) await new Promise((done) => setTimeout(done, 100));
say(store.mode().mode);
await store.appendEvents(log.jobId, [note]);
const stored = JSON.parse(new TextDecoder().decode(await store.readLog(log.jobId, 0))) as { events: { id: string }[] };
say(stored.events.map((e) => (e.id === note.id ? "note" : "opened")).join(" "));
await store.close();
process.exit(0);

function codeOf(error: unknown): string {
  return error instanceof AppError ? error.code : String(error);
}
