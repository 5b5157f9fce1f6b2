import { expect } from "chai";
import type { JobEvent } from "@rheonom/core/job";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { localApp, type LocalApp } from "../test/local-app.ts";
import { hasPostgres, startPostgres, type RunningPostgres } from "../test/postgres.ts";

/** Debian's PostgreSQL and root are needed to start a server of the test's own; as the project's own checks run, both are there. */
(hasPostgres ? describe : describe.skip)("two servers on one PostgreSQL (needs Debian's postgresql, and root)", () => {
  let postgres: RunningPostgres;
  let one: LocalApp;
  let two: LocalApp;
  before(async () => {
    postgres = await startPostgres();
    [one, two] = [await localApp(undefined, postgres.url), await localApp(undefined, postgres.url)];
  });
  after(async () => {
    await Promise.all([one.end(), two.end()]);
    await postgres.stop();
  });
  const entries = async (local: LocalApp, id: string): Promise<readonly JobEvent[]> =>
    (JSON.parse(new TextDecoder().decode(await local.store.readLog(id, 0))) as { events: JobEvent[] }).events;

  it("keep one log in one order, whoever appends, and hear of each other", async () => {
    const log = new LogWriter();
    const heard: [string, number][] = [];
    two.store.onChange((id, count) => heard.push([id, count]));
    await one.store.openJob(log.add("job-opened", COMPLAINT));
    const notes = Array.from({ length: 80 }, () => log.make("note-added", { text: "x" }));
    await Promise.all(notes.map((e, i) => (i % 2 === 0 ? one : two).store.appendEvents(log.jobId, [e])));
    // The same event by both at once is stored once.
    const same = log.make("note-added", { text: "twice" });
    const stored = await Promise.all([one, two, one, two].map((s) => s.store.appendEvents(log.jobId, [same])));
    expect(stored.reduce((sum, n) => sum + n, 0)).to.equal(1);
    const logs = await Promise.all([entries(one, log.jobId), entries(two, log.jobId)]);
    expect(logs[0]).to.deep.equal(logs[1]);
    expect(logs[0]!.map((e) => e.id).sort()).to.deep.equal([log.events[0]!, ...notes, same].map((e) => e.id).sort());
    for (let i = 0; i < 1500 && heard.at(-1)?.[1] !== 82; i++) await new Promise((done) => setTimeout(done, 20));
    expect(heard.at(-1)).to.deep.equal([log.jobId, 82]);
  });

  it("open and append to many jobs at once without waiting for each other in a circle", async () => {
    const logs = Array.from({ length: 30 }, (_, n) => {
      const log = new LogWriter();
      for (let i = 0; i < 500 + 10 * n; i++) log.id();
      Object.assign(log, { jobId: log.id() });
      return log;
    });
    await Promise.all(logs.map((log, i) => (i % 2 === 0 ? one : two).store.openJob(log.add("job-opened", COMPLAINT))));
    await Promise.all(
      [...logs, ...[...logs].reverse()].map((log, i) =>
        (i % 2 === 0 ? one : two).store.appendEvents(log.jobId, [log.make("note-added", { text: "x" })]),
      ),
    );
    const { total, counts } = await two.store.listJobs({
      search: "fan weak",
      stage: "all",
      whose: "",
      sort: "vehicle",
      order: "asc",
      limit: 10,
      offset: 20,
    });
    expect({ total, counts }).to.deep.equal({ total: 31, counts: { circuit: 31 } });
    for (const log of logs) expect(await entries(one, log.jobId)).to.have.lengthOf(3);
  });
});
