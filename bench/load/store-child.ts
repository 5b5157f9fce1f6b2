// The part of the server that owns the data, alone, to be killed: opens the folder, says what stands in some jobs, then appends without end and says what is acknowledged.
import { callsOf } from "../../apps/server/src/store/calls.ts";
import { openStore, prepareFolder } from "../../apps/server/src/store/open.ts";
import { newId, opened, reading } from "./jobs.ts";

const [dataFolder = "", root = "", mode = ""] = process.argv.slice(2);
const say = (line: string): void => void process.stdout.write(`${line}\n`);
const config = { dataFolder, databaseUrl: undefined, startFresh: false, look: false, root, who: "bench" };
if (mode === "prepare") await prepareFolder(config);
const store = callsOf(await openStore(config));
process.stdin.setEncoding("utf8");
let given = "";
for await (const chunk of process.stdin) given += String(chunk);
for (const id of given.split("\n").filter(Boolean)) {
  const log = await store.readLog(id, 0).catch(() => undefined);
  if (log === undefined) continue;
  for (const e of (JSON.parse(new TextDecoder().decode(log)) as { events: { id: string }[] }).events) say(`found ${e.id}`);
}
say("looked");
if (mode !== "look")
  await Promise.all(
    [0, 1, 2, 3].map(async (i) => {
      const jobId = newId();
      const first = opened(jobId, i) as { id: string };
      say(`job ${jobId}`);
      await store.openJob(first as never);
      say(`stored ${first.id}`);
      for (let n = 0; ; n++) {
        const event = reading(jobId, n) as { id: string };
        await store.appendEvents(jobId, [event as never]);
        say(`stored ${event.id}`);
      }
    }),
  );
process.exit(0);
