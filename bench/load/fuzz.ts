// npm run bench:fuzz [BODIES] [SEED]: the longer run of the test in apps/server/src/fuzz.test.ts, against the built server.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { fire } from "../../apps/server/src/test/fire.ts";
import { shots, type ApiDescription } from "../../apps/server/src/test/fuzz-api.ts";
import { newId, opened } from "./jobs.ts";
import { startBuilt } from "./server.ts";

const BODIES = Number(process.argv[2] ?? 100_000);
const SEED = Number(process.argv[3] ?? 1);
const BATCH = 2000;
const folder = mkdtempSync(join(process.env.BENCH_TMP ?? tmpdir(), "rheonom-fuzz-"));
const server = await startBuilt(folder);
const url = `http://127.0.0.1:${server.port}`;
const jobs = Array.from({ length: 40 }, () => newId());
for (const [i, id] of jobs.entries()) await fire(url, { method: "POST", path: "/api/jobs", body: JSON.stringify(opened(id, i)) });
const api = (await (await fetch(`${url}/api/openapi.json`)).json()) as ApiDescription;
const statuses = new Map<number, number>();
let bad = 0;
for (let from = 0; from < BODIES; from += BATCH) {
  const some = fc.sample(shots(api, { jobs, vehicles: ["horn", "plover"] }), {
    numRuns: Math.min(BATCH, BODIES - from),
    seed: SEED + from,
  });
  for (let i = 0; i < some.length; i += 20)
    await Promise.all(
      some.slice(i, i + 20).map(async (shot) => {
        const { status, body } = await fire(url, shot);
        statuses.set(status, (statuses.get(status) ?? 0) + 1);
        if (status >= 200 && status < 500) return;
        bad++;
        console.error(`${status} ${shot.method} ${shot.path} ${shot.body?.slice(0, 800)}\n  ${body.slice(0, 300)}`);
      }),
    );
}
let unread = 0;
for (const path of ["/api/jobs?limit=200", ...jobs.flatMap((id) => [`/api/jobs/${id}`, `/api/jobs/${id}/report.json`])])
  if ((await fire(url, { method: "GET", path, body: undefined })).status !== 200) unread++;
const alive = server.process.exitCode === null;
await server.end();
rmSync(folder, { recursive: true, force: true });
const told = [...statuses].sort(([p], [q]) => p - q).map(([s, n]) => `${n} × ${s}`);
console.log(
  `| ${BODIES} requests made from the API's description | ${bad} answered with 5xx, ${unread} reads failed, ${alive ? "alive" : "dead"} (${told.join(", ")}) | 0, 0, alive |`,
);
process.exit(bad + unread === 0 && alive ? 0 : 1);
