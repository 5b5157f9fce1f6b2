import { expect } from "chai";
import { AppError } from "../errors.ts";
import { readDemoJobs } from "../demo/seed.ts";
import { localHeavy, ROOT } from "../test/local-app.ts";
import { createHeavy } from "./pool.ts";
import { REST_STATE } from "@rheonom/core/circuit";
import { FAN } from "../../../../packages/core/src/test/circuits.ts";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";

const bytesOf = (log: LogWriter): Uint8Array =>
  new TextEncoder().encode(JSON.stringify({ id: log.jobId, simulated: true, events: log.events, next: log.events.length }));

describe("heavy tasks", () => {
  it("know what the line to a vehicle needs of a log: circuit, what is still wrong, whether codes are written down", async () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    const truth = [{ kind: "open", link: "F1" }] as const;
    expect(await localHeavy.run("lineFacts", bytesOf(log), { truth })).to.deep.equal({
      harness: undefined,
      faults: truth,
      now: truth,
      without: [],
      codesKept: false,
    });
    log.add("circuit-set", { notation: FAN });
    log.add("mend-made", { at: "F1", found: "x", cause: "", method: "fuse renewed", done: "x" });
    const facts = await localHeavy.run("lineFacts", bytesOf(log), { truth });
    expect(facts.harness?.name).to.be.a("string");
    expect(facts.faults).to.deep.equal([]);
  });
  it("tell a line of what comes and goes only while it is there, or while its spot is moved", async () => {
    const truth = [{ kind: "open", link: "F1" }] as const;
    const beside = [{ kind: "across", from: "BAT.+", to: "BAT.-", ohms: 400 }] as const;
    const world = { from: "bench", vehicle: "fan", family: "intermittent", seed: 7, difficulty: 0.5, presence: 0.5 } as const;
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("circuit-set", { notation: FAN });
    const seen = new Set<number>();
    for (let entries = 0; entries < 60; entries++) {
      log.add("note-added", { text: "nothing new" });
      const ask = (moving?: string) =>
        localHeavy.run("lineFacts", bytesOf(log), { truth, world: { ...world, twists: [], beside: [...beside] } }, moving);
      const { faults, now } = await ask();
      expect(faults.length, "what no repair has named stays").to.equal(2);
      expect(now, "what stands beside it does not come and go").to.deep.include(beside[0]);
      expect((await ask("F1")).now.length).to.equal(2);
      seen.add(now.length);
    }
    expect([...seen].sort()).to.deep.equal([1, 2]);
  });
  it("refuse a body that is not a harness with every problem, as the API tells it", async () => {
    const refused = await localHeavy.run("importHarness", new TextEncoder().encode('{"harness":{}}')).catch((error: unknown) => error);
    expect(refused).to.be.instanceOf(AppError);
    expect((refused as AppError).code).to.equal("body-invalid");
    expect((refused as AppError).issues.map((i) => i.path)).to.include.members(["basedOn", "by"]);
  });
  it("ends a thread for which nobody waits any more, and the next task has one of its own", async () => {
    const heavy = createHeavy();
    try {
      const job = readDemoJobs(ROOT).find(
        (j) => j.events[0]!.data !== undefined && /no spark at coil 3/.test(JSON.stringify(j.events[0])),
      )!;
      const log = new TextEncoder().encode(
        JSON.stringify({ id: job.events[0]!.jobId, simulated: true, events: job.events, next: job.events.length }),
      );
      const ask = {
        state: { ...REST_STATE, key: "run", engine: "idling" },
        probes: [{ at: { red: "BAT.+", black: "BAT.-" }, probe: 10 }],
        rateHz: 1e6,
      } as const;
      const gone = new AbortController();
      // A second with the engine running takes several to work out.
      const asked = heavy.runWhile(gone, "capture", log, { truth: job.truth }, { ...ask, probes: [...ask.probes], seconds: 1 });
      await new Promise((done) => setTimeout(done, 1000));
      gone.abort();
      expect(await asked).to.equal(undefined);
      const told: number[] = [];
      const watched = { signal: new AbortController().signal, onTold: (share: unknown) => void told.push(Number(share)) };
      await heavy.runWhile(watched, "capture", log, { truth: job.truth }, { ...ask, probes: [...ask.probes], seconds: 0.01 });
      expect(told.at(-1), "the share that is worked out").to.equal(1);
      expect(told).to.deep.equal([...told].sort((p, q) => p - q));
      const next = await heavy.run("capture", log, { truth: job.truth }, { ...ask, probes: [...ask.probes], seconds: 0.001 });
      expect(next.length).to.be.above(100);
      // Who is gone before it is begun gets nothing either.
      expect(
        await heavy.runWhile(
          { signal: AbortSignal.abort() },
          "capture",
          log,
          { truth: job.truth },
          { ...ask, probes: [...ask.probes], seconds: 1 },
        ),
      ).to.equal(undefined);
    } finally {
      await heavy.stop();
    }
  });
});
