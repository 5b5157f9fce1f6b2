import { expect } from "chai";
import { gunzipSync } from "node:zlib";
import request from "supertest";
import type { Express } from "express";
import { REST_STATE } from "@rheonom/core/circuit";
import { readTraceFile } from "@rheonom/core/waveform";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { readDemoJobs, seedDemo } from "../demo/seed.ts";
import { collect } from "../test/collect.ts";
import { localApp, ROOT, type LocalApp } from "../test/local-app.ts";

describe("the simulated vehicle of a demo job", () => {
  let local: LocalApp;
  let app: Express;
  before(async () => {
    local = await localApp();
    app = local.app;
    expect(await seedDemo(local.store, ROOT, new Date())).to.equal(readDemoJobs(ROOT).length);
  });
  after(() => local.end());

  it("obeys the hidden fault until a mend names it", async () => {
    expect(await seedDemo(local.store, ROOT, new Date()), "a second start adds nothing").to.equal(0);
    const job = readDemoJobs(ROOT).find((j) => j.truth.some((t) => t.kind === "series" && t.link === "G12"))!;
    const id = job.events[0]!.jobId;
    const ask = { leads: { quantity: "volts", red: "LA1.2", black: "BAT.-" }, state: { ...REST_STATE, on: ["SW9"] } };
    const read = async (): Promise<number> => {
      const { text } = (await request(app).post(`/api/jobs/${id}/simulated-reading`).send(ask).expect(200)).body as { text: string };
      return Number.parseFloat(text) * (text.endsWith("mV") ? 1e-3 : 1);
    };
    expect(await read()).to.be.above(1.5);
    // A bad joint changes while it is moved, and only then.
    const moving = async (at: string): Promise<Set<string>> => {
      const texts = new Set<string>();
      for (let i = 0; i < 6; i++)
        texts.add(
          (
            (
              await request(app)
                .post(`/api/jobs/${id}/simulated-reading`)
                .send({ ...ask, moving: at })
            ).body as { text: string }
          ).text,
        );
      return texts;
    };
    expect((await moving("G12")).size).to.be.above(2);
    expect((await moving("C40")).size).to.equal(1);
    const log = new LogWriter();
    const mend = (at: string): object => ({
      ...log.make("mend-made", { at, found: "x", cause: "", method: "ground cleaned and re-fixed", done: "x" }),
      jobId: id,
      id: log.id().replace(/^.{8}/, "0190b000"),
    });
    await request(app)
      .post(`/api/jobs/${id}/events`)
      .send({ events: [mend("G1")] })
      .expect(201);
    expect(await read(), "another ground does not help").to.be.above(1.5);
    await request(app)
      .post(`/api/jobs/${id}/events`)
      .send({ events: [mend("G12")] })
      .expect(201);
    expect(await read()).to.be.below(0.2);
  });

  it("is recorded as a trace file, several channels at once, until the fault is mended", async () => {
    const id = readDemoJobs(ROOT).find((j) => j.truth.some((t) => t.kind === "open" || t.kind === "series"))!.events[0]!.jobId;
    const ask = {
      state: REST_STATE,
      probes: [
        { at: { red: "BAT.+", black: "BAT.-" }, probe: 10 },
        { at: { red: "BAT.-", black: "BAT.-" }, probe: 1 },
      ],
      seconds: 0.01,
      rateHz: 1e5,
    };
    const post = (body: object) => request(app).post(`/api/jobs/${id}/simulated-capture`).send(body);
    const { body, headers } = await post(ask).buffer(true).parse(collect).expect(200);
    expect(headers["content-type"]).to.contain("application/gzip");
    const read = readTraceFile(gunzipSync(body as Buffer));
    if (read.kind === "bad") throw new Error(read.why);
    expect(read.trace).to.include({ count: 1000, rateHz: 1e5 });
    expect(read.trace.channels.map((c) => c.name)).to.deep.equal(["BAT.+", "BAT.-"]);
    const volts = read.trace.channels[0]!.samples;
    expect(volts.reduce((sum, v) => sum + v, 0) / volts.length).to.be.within(11, 30);
    // The noise of its own input, and nothing else.
    expect(Math.max(...read.trace.channels[1]!.samples)).to.be.below(1e-3);
    const as = "0193c1f4-0000-7000-8000-000000000001";
    expect((await request(app).get(`/api/jobs/${id}/simulated-capture/${as}`).expect(200)).body).to.deep.equal({ share: 0 });
    await request(app).post(`/api/jobs/${id}/simulated-capture?as=${as}`).send(ask).expect(200);
    await request(app).post(`/api/jobs/${id}/simulated-capture?as=now`).send(ask).expect(400);
    for (const [bad, why] of [
      [{ ...ask, seconds: 5 }, "seconds"],
      [{ ...ask, rateHz: 1e9 }, "rateHz"],
      [{ ...ask, probes: [] }, "probes"],
      [{ ...ask, seconds: 1e-4, rateHz: 1000 }, "seconds"],
      [{ ...ask, probes: [{ at: { red: "X99.1", black: "BAT.-" }, probe: 10 }] }, "X99.1"],
      [{ ...ask, probes: [{ at: { around: "X98" }, probe: 10 }] }, "X98"],
    ] as const)
      expect(JSON.stringify((await post(bad).expect(400)).body)).to.contain(why);
  });

  it("breaks where its bad joint is moved, from a third of the recording on, and nowhere else", async () => {
    const job = readDemoJobs(ROOT).find((j) => j.truth.some((t) => t.kind === "series" && t.link === "C16.2"))!;
    const said = job.events.find((e) => e.type === "seen")!;
    const ask = { state: said.data.state, probes: [{ at: { red: "L3.1", black: "BAT.-" }, probe: 10 }], seconds: 0.6, rateHz: 1e4 };
    const least = async (moving: string): Promise<readonly number[]> => {
      const { body } = await request(app)
        .post(`/api/jobs/${job.events[0]!.jobId}/simulated-capture`)
        .send({ ...ask, moving })
        .buffer(true)
        .parse(collect)
        .expect(200);
      const read = readTraceFile(gunzipSync(body as Buffer));
      if (read.kind === "bad") throw new Error(read.why);
      const { samples } = read.trace.channels[0]!;
      return [samples.subarray(0, 1900), samples.subarray(2000)].map((part) => Math.min(...part));
    };
    const [still, moved] = await least("C16");
    expect(still).to.be.above(5);
    expect(moved).to.be.below(0.3);
    expect((await least("C30"))[1]).to.be.above(5);
  });

  it("says no for a real job and for places that are not there", async () => {
    const log = new LogWriter();
    await request(app).post("/api/jobs").send(log.add("job-opened", COMPLAINT)).expect(201);
    const ask = { leads: { quantity: "volts", red: "F99.1", black: "BAT.-" }, state: REST_STATE };
    expect((await request(app).post(`/api/jobs/${log.jobId}/simulated-reading`).send(ask).expect(409)).body.code).to.equal("no-stand-in");
    const demo = readDemoJobs(ROOT)[0]!.events[0]!.jobId;
    expect((await request(app).post(`/api/jobs/${demo}/simulated-reading`).send(ask).expect(400)).body.message).to.contain("F99.1");
  });
});
