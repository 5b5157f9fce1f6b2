import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { startServer, type RunningServer } from "../test/server-process.ts";

/** Times the server is killed while readings pour in. */
const KILLS = 3;

describe("a server that is killed", () => {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-crash-"));
  const running: RunningServer[] = [];
  after(async () => {
    for (const s of running) await s.kill();
    rmSync(folder, { recursive: true, force: true });
  });
  const start = async (): Promise<RunningServer> => {
    const server = await startServer(folder);
    running.push(server);
    return server;
  };
  const post = async (url: string, body: unknown): Promise<boolean> => {
    try {
      const answer = await fetch(url, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });
      await answer.text();
      return answer.ok;
    } catch {
      return false;
    }
  };

  it("keeps every reading that it acknowledged, whole and once, at whatever moment it dies", async () => {
    const log = new LogWriter();
    const acknowledged = new Set<string>();
    const tried = new Set<string>();
    let server = await start();
    const opened = log.add("job-opened", COMPLAINT);
    expect(await post(`${server.url}/api/jobs`, opened)).to.equal(true);
    acknowledged.add(opened.id);
    for (let round = 0; round < KILLS; round++) {
      const alive = server;
      let dead = false;
      let taken = 0;
      while (!dead) {
        const reading = log.read("12.31", "F1.2", { state: REST_STATE });
        tried.add(reading.id);
        if (await post(`${server.url}/api/jobs/${log.jobId}/events`, { events: [reading] })) {
          acknowledged.add(reading.id);
          taken++;
        }
        // At another moment each time, in the middle of the stream of readings.
        if (taken === 6 && acknowledged.has(reading.id)) setTimeout(() => void alive.kill().then(() => (dead = true)), 7 + 23 * round);
      }
      server = await start();
      // What was not acknowledged is sent again, as a client does; what did get through is not stored twice.
      const again = log.events.filter((e) => tried.has(e.id)).slice(-5);
      expect(await post(`${server.url}/api/jobs/${log.jobId}/events`, { events: again })).to.equal(true);
      for (const e of again) acknowledged.add(e.id);
    }
    const { events } = (await (await fetch(`${server.url}/api/jobs/${log.jobId}`)).json()) as { events: { id: string }[] };
    const stored = events.map((e) => e.id);
    expect(new Set(stored).size, "nothing twice").to.equal(stored.length);
    expect(acknowledged.size, "the test took readings at all").to.be.above(KILLS * 5);
    for (const id of acknowledged) expect(stored).to.include(id);
    const sent = new Map(log.events.map((e) => [e.id, e]));
    for (const e of events) expect(e).to.deep.equal(sent.get(e.id));
  });

  it("leaves the folder to the next one, and a second beside it says who holds it and stops", async () => {
    const [first] = running.slice(-1);
    expect(first!.process.exitCode).to.equal(null);
    const second = await startServer(folder).then(
      () => "started",
      (error: Error) => error.message,
    );
    expect(second).to.match(/^exit 1: /);
    expect(second).to.contain(`process ${first!.process.pid}`).and.contain("RHEONOM_DATA");
    // The first goes on undisturbed.
    expect((await fetch(`${first!.url}/api/health`)).status).to.equal(200);
  });
});
