import { execFile } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "chai";
import { ROOT } from "../test/local-app.ts";
import { OLD_BRICKED_JOB, OLD_CLOSED_JOB, unpackOldFolder } from "../test/old-folder.ts";
import { startServer, type RunningServer } from "../test/server-process.ts";

interface Log {
  readonly events: readonly { readonly type: string; readonly id: string; readonly raw?: string }[];
  readonly next: number;
}

describe("a folder of an older version, with an entry that bricked it", () => {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-old-"));
  let server: RunningServer;
  before(async () => {
    unpackOldFolder(folder);
    server = await startServer(folder, { RHEONOM_DEMO: "1" });
  });
  after(async () => {
    await server.kill();
    rmSync(folder, { recursive: true, force: true });
  });
  const get = async <T>(path: string): Promise<T> => {
    const answer = await fetch(server.url + path);
    expect(answer.status, path).to.equal(200);
    return (await answer.json()) as T;
  };
  /** The command, on this folder. */
  const check = (...args: string[]): Promise<{ readonly code: number; readonly out: string }> =>
    new Promise((done) =>
      execFile(
        process.execPath,
        ["apps/cli/bin/rheonom.mjs", "check", ...args],
        { cwd: ROOT, env: { ...process.env, RHEONOM_DATA: folder } },
        (error, out, err) => done({ code: typeof error?.code === "number" ? error.code : 0, out: out + err }),
      ),
    );

  it("comes up with all of its jobs, what they say, and the demo beside them", async () => {
    const { jobs, total } = await get<{ jobs: { id: string; stage: string; vehicle: string; openedAt: string }[]; total: number }>(
      "/api/jobs",
    );
    expect(total).to.be.above(5);
    expect(jobs.find((j) => j.id === OLD_CLOSED_JOB)).to.include({ stage: "closed", vehicle: "Tavrin Brigg 3.0 V6" });
    expect(jobs.find((j) => j.id === OLD_BRICKED_JOB)).to.include({ stage: "circuit", openedAt: "2026-05-20T10:00:00.000Z" });
    expect((await get<Log>(`/api/jobs/${OLD_CLOSED_JOB}`)).events).to.have.lengthOf(17);
    await get(`/api/jobs/${OLD_CLOSED_JOB}/report.json`);
  });

  it("shows the entry in its place with its text, and goes on with the job", async () => {
    const { events, next } = await get<Log>(`/api/jobs/${OLD_BRICKED_JOB}`);
    expect(events.map((e) => e.type)).to.deep.equal(["job-opened", "note-added", "unreadable"]);
    expect(events[2]!.raw).to.contain("10000-01-01").and.to.contain("the last day of the last year");
    await get(`/api/jobs/${OLD_BRICKED_JOB}/report.json`);
    const note = {
      id: "019e45b2-7009-7aaa-8aaa-0123456789ab",
      jobId: OLD_BRICKED_JOB,
      at: "2026-05-20T11:00:00.000Z",
      by: "Inga Torsvik",
      type: "note-added",
      data: { text: "goes on" },
    };
    const answer = await fetch(`${server.url}/api/jobs/${OLD_BRICKED_JOB}/events`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ events: [note] }),
    });
    expect(answer.status).to.equal(201);
    expect((await get<Log>(`/api/jobs/${OLD_BRICKED_JOB}`)).next).to.equal(next + 1);
  });

  it("is listed by rheonom check, and left by it when it is told to set it aside", async () => {
    const busy = await check();
    expect(busy.code, "not while a server has it").to.equal(1);
    expect(busy.out).to.contain("is open in another process");
    await server.kill("SIGTERM");
    const found = await check();
    expect(found).to.include({ code: 1 });
    expect(found.out).to.contain(OLD_BRICKED_JOB).and.to.contain("place 2").and.to.contain("10000-01-01");
    expect(await check("--quarantine")).to.deep.include({ code: 0 });
    expect(await check()).to.deep.equal({ code: 0, out: "Every entry of every log can be read.\n" });
    expect(await check("--loud")).to.include({ code: 2 });
    server = await startServer(folder);
    const { events, next } = await get<Log>(`/api/jobs/${OLD_BRICKED_JOB}`);
    expect(events.map((e) => e.type)).to.deep.equal(["job-opened", "note-added", "note-added"]);
    expect(next, "its place stays taken").to.equal(4);
  });
});
