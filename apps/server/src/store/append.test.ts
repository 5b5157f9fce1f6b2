import { expect } from "chai";
import { jobList } from "@rheonom/contract/light";
import type { JobEvent } from "@rheonom/core/job";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { AppError } from "../errors.ts";
import { localApp, type LocalApp } from "../test/local-app.ts";
import type { Transaction } from "./append.ts";

/** Writers with ids of their own, for jobs beside each other. */
let jump = 0;
function writer(): LogWriter {
  const log = new LogWriter();
  for (let i = 0; i < jump; i++) log.id();
  jump += 3000;
  Object.assign(log, { jobId: log.id() });
  return log;
}

describe("appending", () => {
  let local: LocalApp;
  before(async () => (local = await localApp()));
  after(() => local.end());
  const opened = async (): Promise<LogWriter> => {
    const log = writer();
    await local.store.openJob(log.add("job-opened", COMPLAINT));
    return log;
  };
  const entries = async (log: LogWriter): Promise<readonly JobEvent[]> =>
    (JSON.parse(new TextDecoder().decode(await local.store.readLog(log.jobId, 0))) as { events: JobEvent[] }).events;
  const outcome = (log: LogWriter, ...events: JobEvent[]): Promise<number | string> =>
    local.store.appendEvents(log.jobId, events).catch((error: unknown) => (error instanceof AppError ? error.code : Promise.reject(error)));

  it("judges postings that come together each by itself, and stores what is good", async () => {
    const [one, two, closed] = [await opened(), await opened(), await opened()];
    await outcome(closed, closed.add("job-closed", { safeToDrive: "yes", advice: "", withoutProof: "" }));
    const note = (log: LogWriter): JobEvent => log.add("note-added", { text: "x" });
    const twice = note(one);
    const foreign = two.make("note-added", { text: "x" });
    const reused = { ...two.make("note-added", { text: "other" }), id: twice.id };
    const nobody = writer();
    const all = await Promise.all([
      outcome(one, twice, note(one)),
      outcome(one, twice),
      outcome(closed, closed.make("rules-chosen", { rules: "strict" })),
      outcome(closed, closed.make("note-added", { text: "still taken" })),
      outcome(two, note(two)),
      outcome(two, two.make("note-added", { text: "good" }), reused),
      outcome(one, foreign),
      outcome(nobody, nobody.make("note-added", { text: "x" })),
      outcome(two, note(two)),
    ]);
    expect(all).to.deep.equal([2, 0, "event-refused", 1, 1, "event-id-reused", "event-wrong-job", "job-not-found", 1]);
    expect(await entries(one)).to.deep.equal(one.events);
    expect(await entries(two), "nothing of the posting that was refused").to.deep.equal(two.events);
  });

  it("closes by what the log and the same postings say together", async () => {
    const log = await opened();
    const pulled = log.add("temporary-made", { kind: "pulled", at: "F1", to: "", note: "" });
    const close = log.make("job-closed", { safeToDrive: "yes", advice: "", withoutProof: "" });
    expect(await outcome(log, pulled, close)).to.equal("event-refused");
    expect(await entries(log)).to.have.lengthOf(1);
    expect(await outcome(log, pulled, log.add("temporary-undone", { target: pulled.id }), close)).to.equal(3);
    const { jobs } = jobList.parse(
      await local.store.listJobs({ search: "", stage: "closed", whose: "", sort: "lastAt", order: "desc", limit: 50, offset: 0 }),
    );
    expect(jobs.find((j) => j.id === log.jobId)).to.include({ stage: "closed", leftUndone: 0 });
  });

  it("reads nothing of the log that it grows, however long that is", async () => {
    const log = await opened();
    for (let i = 0; i < 10; i++) await outcome(log, ...Array.from({ length: 200 }, () => log.add("note-added", { text: "x" })));
    let rows = 0;
    let statements = 0;
    let tables = 0;
    const restore = countRows(local, (n, isTable) => {
      rows += n;
      if (isTable) tables++;
      else statements++;
    });
    expect(await outcome(log, log.add("note-added", { text: "one more" }))).to.equal(1);
    expect(await outcome(log, log.add("struck", { target: log.events[5]!.id, why: "x" }))).to.equal(1);
    restore();
    expect(statements, "the job and the entries named; what is written").to.equal(4);
    expect(rows, "the job twice, and the entry that is struck; a row of nothing for each write").to.equal(5);
    expect(tables).to.equal(0);
    expect(await entries(log)).to.deep.equal(log.events);
  });

  it("puts entries of many devices in one order for everyone, without a gap", async () => {
    const log = await opened();
    const own = Array.from({ length: 60 }, () => log.make("note-added", { text: "x" }));
    await Promise.all(own.map((e) => outcome(log, e)));
    const stored = await entries(log);
    expect(stored.map((e) => e.id).sort()).to.deep.equal([log.events[0]!, ...own].map((e) => e.id).sort());
    const tail = JSON.parse(new TextDecoder().decode(await local.store.readLog(log.jobId, 41))) as { events: JobEvent[]; next: number };
    expect(tail.events).to.deep.equal(stored.slice(41));
    expect(tail.next).to.equal(61);
  });
});

/** Counts the rows that the database gives within transactions, and how often a table is read through. Returns how to stop. */
function countRows(local: LocalApp, told: (rows: number, isTable: boolean) => void): () => void {
  const { db } = local;
  const original = db.transaction.bind(db);
  const counted = (tx: Transaction): Transaction =>
    new Proxy(tx, {
      get: (target, name) => {
        if (name === "select") told(0, true);
        if (name !== "execute") return Reflect.get(target, name, target) as unknown;
        return async (...args: Parameters<Transaction["execute"]>) => {
          const result = (await target.execute(...args)) as unknown as { rows: unknown[] };
          told(result.rows.length, false);
          return result;
        };
      },
    });
  db.transaction = ((work: (tx: Transaction) => Promise<unknown>) => original((tx) => work(counted(tx)))) as typeof db.transaction;
  return () => (db.transaction = original);
}

describe("the board", () => {
  let local: LocalApp;
  const logs: LogWriter[] = [];
  before(async () => {
    local = await localApp();
    for (let i = 0; i < 23; i++) {
      const log = writer();
      logs.push(log);
      const words = i % 5 === 0 ? "100% of the horn_is gone" : `The fan is weak, case ${i}.`;
      await local.store.openJob(log.add("job-opened", { ...COMPLAINT, registration: `SKV ${i}`, words }));
      if (i % 4 === 0)
        await local.store.appendEvents(log.jobId, [log.add("job-closed", { safeToDrive: "yes", advice: "", withoutProof: "" })]);
    }
  });
  after(() => local.end());
  const ask = async (part: object) =>
    jobList.parse(
      await local.store.listJobs({ search: "", stage: "all", whose: "", sort: "lastAt", order: "desc", limit: 10, offset: 0, ...part }),
    );

  it("comes in pages that hold every job once, with counts of all that matches", async () => {
    const pages = [await ask({}), await ask({ offset: 10 }), await ask({ offset: 20 })];
    expect(pages.map((p) => p.jobs.length)).to.deep.equal([10, 10, 3]);
    expect(new Set(pages.flatMap((p) => p.jobs.map((j) => j.id))).size).to.equal(23);
    for (const p of pages) expect(p).to.deep.include({ total: 23, counts: { circuit: 17, closed: 6 } });
    const times = pages.flatMap((p) => p.jobs.map((j) => j.lastAt));
    expect(times).to.deep.equal([...times].sort().reverse());
  });
  it("is searched by every word, as it is written", async () => {
    expect((await ask({ search: "FAN weak" })).total).to.equal(18);
    expect((await ask({ search: "skv 22" })).jobs.map((j) => j.registration)).to.deep.equal(["SKV 22"]);
    expect((await ask({ search: "100%" })).total).to.equal(5);
    for (const wild of ["%", "_", "\\", "f_n", "%an"])
      expect((await ask({ search: wild })).total, wild).to.equal(wild === "%" || wild === "_" ? 5 : 0);
    expect((await ask({ search: "nothing like it" })).jobs).to.deep.equal([]);
  });
  it("is filtered by stage and sorted either way", async () => {
    expect(await ask({ stage: "closed" })).to.include({ total: 6 });
    expect(await ask({ stage: "open" })).to.include({ total: 17 });
    const rising = (await ask({ sort: "words", order: "asc", limit: 100 })).jobs.map((j) => j.words);
    expect(rising).to.have.lengthOf(23);
    expect((await ask({ sort: "words", order: "desc", limit: 100 })).jobs.map((j) => j.words)).to.deep.equal([...rising].reverse());
  });
});
