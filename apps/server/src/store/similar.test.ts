import { expect } from "chai";
import { randomBytes } from "node:crypto";
import request from "supertest";
import { similarCases } from "@rheonom/contract/shop";
import { uuidV7 } from "@rheonom/core/job";
import { localApp, type LocalApp } from "../test/local-app.ts";

const AT = "2026-05-20T10:00:00.000Z";
let clock = Date.parse(AT);
const id = (): string => uuidV7(++clock, randomBytes(10));
const STATE = { key: "run", engine: "stopped", on: [], temperatureC: 20, opened: [], bridged: [] };

describe("similar cases of a shop", () => {
  let here: LocalApp;
  before(async () => (here = await localApp()));
  after(() => here.end());

  /** A job on the same wiring with a part that is dead; mended at a place and closed where one is given. */
  async function job(part: string, words: string, mendedAt?: string): Promise<string> {
    const jobId = id();
    const event = (type: string, data: unknown) => ({ id: id(), jobId, at: AT, by: "Ada", type, data });
    await request(here.app)
      .post("/api/jobs")
      .send(event("job-opened", { vehicle: "Van", words }))
      .expect(201);
    const events = [
      event("circuit-set", { notation: "BAT -- F1", vehicle: { id: "van", version: 1, options: [] } }),
      event("seen", { state: STATE, observe: { kind: "part", part }, word: "none", wrong: true }),
      ...(mendedAt === undefined
        ? []
        : [
            event("mend-made", { at: mendedAt, found: "green copper", method: "contact cleaned", done: "cleaned" }),
            event("job-closed", { safeToDrive: "yes", withoutProof: "test" }),
          ]),
    ];
    await request(here.app).post(`/api/jobs/${jobId}/events`).send({ events }).expect(201);
    return jobId;
  }
  const similarTo = async (jobId: string) =>
    similarCases.parse((await request(here.app).get(`/api/jobs/${jobId}/similar`).expect(200)).body).cases;

  it("are the closed ones with what they ended at; open ones and others are none", async () => {
    const own = await job("LA1", "Stop lamp is dead");
    expect(await similarTo(own)).to.deep.equal([]);
    const ended = await job("LA1", "No brake light on the left", "C4.2");
    await job("LA1", "Stop lamp is dead too");
    await job("HORN", "It does not honk any more", "G7");
    const found = await similarTo(own);
    expect(found.map((c) => [c.jobId, c.places, c.common])).to.deep.equal([[ended, ["C4.2"], ["part LA1", "same type of vehicle"]]]);
    expect(found[0]!.repairs).to.deep.equal([{ words: "C4.2: contact cleaned", found: "green copper" }]);
    expect(found[0]!.isSameWiring).to.equal(true);
    // Opened again it is no ended case any more.
    const again = { id: id(), jobId: ended, at: AT, by: "Ada", type: "job-reopened", data: { why: "came back" } };
    await request(here.app)
      .post(`/api/jobs/${ended}/events`)
      .send({ events: [again] })
      .expect(201);
    expect(await similarTo(own)).to.deep.equal([]);
  });

  it("are three at most, and words cannot break the search", async () => {
    for (let i = 0; i < 5; i++) await job("FAN", `Fan is dead ${i}`, "C9.1");
    expect(await similarTo(await job("FAN", `' | & ! <-> :* ( "`))).to.have.length(3);
    await request(here.app).get(`/api/jobs/${id()}/similar`).expect(404);
  });
});
