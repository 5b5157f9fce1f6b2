import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "chai";
import fc from "fast-check";
import { COMPLAINT, LogWriter } from "../../../packages/core/src/test/log.ts";
import { fire } from "./test/fire.ts";
import { shots, type ApiDescription } from "./test/fuzz-api.ts";
import { startServer, type RunningServer } from "./test/server-process.ts";

/** Bodies that are sent; the longer run stands in bench/load. */
const BODIES = 5000;
const SEED = 20260520;

describe("anything that the API's description allows, and much that it does not", () => {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-fuzz-"));
  let server: RunningServer;
  before(async () => {
    server = await startServer(folder);
  });
  after(async () => {
    await server.kill();
    rmSync(folder, { recursive: true, force: true });
  });

  it(`never makes it fail, hang or die: ${BODIES} requests, and all reads afterwards`, async () => {
    const logs = Array.from({ length: 12 }, (_, n) => {
      const log = new LogWriter();
      for (let i = 0; i < 10 * n; i++) log.id();
      Object.assign(log, { jobId: log.id() });
      return log;
    });
    for (const log of logs) {
      const body = JSON.stringify(log.add("job-opened", COMPLAINT));
      expect((await fire(server.url, { method: "POST", path: "/api/jobs", body })).status).to.equal(201);
    }
    const api = (await (await fetch(`${server.url}/api/openapi.json`)).json()) as ApiDescription;
    const ids = { jobs: logs.map((l) => l.jobId), vehicles: ["horn", "plover"] };
    const statuses = new Map<number, number>();
    const all = fc.sample(shots(api, ids), { numRuns: BODIES, seed: SEED });
    for (let i = 0; i < all.length; i += 20) {
      const answers = await Promise.all(all.slice(i, i + 20).map(async (shot) => ({ shot, answer: await fire(server.url, shot) })));
      for (const { shot, answer } of answers) {
        statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
        expect(answer.status, `${shot.method} ${shot.path} ${shot.body?.slice(0, 500)} → ${answer.body.slice(0, 300)}`).to.be.within(
          200,
          499,
        );
      }
    }
    // It is no use when nothing gets through, or nothing is refused.
    expect(statuses.get(201) ?? 0, "stored").to.be.above(50);
    expect(statuses.get(400) ?? 0, "refused").to.be.above(500);
    const reads = [
      "/api/jobs",
      "/api/jobs?search=a&limit=200",
      "/api/vehicles",
      "/api/health",
      ...ids.jobs.flatMap((id) => [`/api/jobs/${id}`, `/api/jobs/${id}/report.json`]),
    ];
    for (const path of reads) {
      const answer = await fire(server.url, { method: "GET", path, body: undefined });
      expect(answer.status, `${path}: ${answer.body.slice(0, 300)}`).to.equal(200);
      expect(answer.body).to.not.contain('"unreadable"');
    }
    expect(
      (JSON.parse((await fire(server.url, { method: "GET", path: "/api/health", body: undefined })).body) as { pid: number }).pid,
    ).to.equal(server.process.pid);
  });
});
