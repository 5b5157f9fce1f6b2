// npm run bench:kill [ROUNDS]: the built server is killed at any moment while four devices post, and started again; nothing acknowledged may be missing.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { newId, opened, reading } from "./jobs.ts";
import { ask, startBuilt, type LoadedServer } from "./server.ts";

const ROUNDS = Number(process.argv[2] ?? 1000);
const CLIENTS = 4;
const folder = mkdtempSync(join(process.env.BENCH_TMP ?? tmpdir(), "rheonom-kill-"));
const acknowledged = new Map<string, string[]>();
let lost = 0;
let twice = 0;
let count = 0;
const starts: number[] = [];

async function begin(): Promise<LoadedServer> {
  const server = await startBuilt(folder);
  starts.push(server.startMs);
  return server;
}

/** Looks for every event of these jobs. */
async function look({ port }: LoadedServer, jobs: readonly string[]): Promise<void> {
  for (const jobId of jobs) {
    const answer = await ask(port, "GET", `/api/jobs/${jobId}`);
    const stored =
      answer.status === 404 ? [] : (JSON.parse(answer.bytes.toString("utf8")) as { events: { id: string }[] }).events.map((e) => e.id);
    twice += stored.length - new Set(stored).size;
    for (const id of acknowledged.get(jobId) ?? []) if (!stored.includes(id)) lost++;
  }
}

let server = await begin();
for (let round = 0; round < ROUNDS; round++) {
  const mine = Array.from({ length: CLIENTS }, () => newId());
  let dead = false;
  const { port } = server;
  const working = mine.map(async (jobId, i) => {
    const got: string[] = [];
    acknowledged.set(jobId, got);
    const send = async (path: string, body: unknown, id: string): Promise<void> => {
      try {
        if ((await ask(port, "POST", path, body)).status === 201) got.push(id);
      } catch {
        dead = true;
      }
    };
    const first = opened(jobId, i) as { id: string };
    await send("/api/jobs", first, first.id);
    for (let n = 0; !dead; n++) {
      const event = reading(jobId, n) as { id: string };
      await send(`/api/jobs/${jobId}/events`, { events: [event] }, event.id);
    }
  });
  // Well into the stream of readings, at another moment each time.
  while (mine.every((id) => acknowledged.get(id)!.length < 3)) await new Promise((done) => setTimeout(done, 2));
  await new Promise((done) => setTimeout(done, Math.random() * 150));
  await server.end("SIGKILL");
  dead = true;
  await Promise.all(working);
  count += mine.reduce((sum, id) => sum + acknowledged.get(id)!.length, 0);
  server = await begin();
  await look(server, mine);
  if (round % 50 === 49) process.stderr.write(`${round + 1} kills, ${count} acknowledged, ${lost} lost, ${twice} twice\n`);
}
// All of it once more: what stood after its own kill must have stood through all later ones.
lost = 0;
twice = 0;
await look(server, [...acknowledged.keys()]);
await server.end();
rmSync(folder, { recursive: true, force: true });
const median = [...starts].sort((p, q) => p - q)[Math.floor(starts.length / 2)]!;
console.log(
  `| ${ROUNDS} × kill -9, acknowledged events lost | ${lost} of ${count} (${twice} twice; start after a kill, median ${(median / 1000).toFixed(1)} s) | 0 |`,
);
process.exit(lost + twice === 0 ? 0 : 1);
