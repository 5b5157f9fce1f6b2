import { expect } from "chai";
import { createHash, randomBytes } from "node:crypto";
import sharp from "sharp";
import request from "supertest";
import { jobList } from "@rheonom/contract/light";
import { dueList, keptPicture, oldCustomers, removedCustomers, shopSettings } from "@rheonom/contract/shop";
import { chainedLogSchema, checkChain, reportSchema, uuidV7 } from "@rheonom/core/job";
import { localApp, type LocalApp } from "../test/local-app.ts";

let clock = Date.parse("2020-02-03T10:00:00.000Z");
const id = (): string => uuidV7(++clock, randomBytes(10));
const sha256 = (text: string): string => createHash("sha256").update(text, "utf8").digest("hex");

describe("the shop", () => {
  let here: LocalApp;
  beforeEach(async () => (here = await localApp()));
  afterEach(() => here.end());

  /** Opens a job with events after it. `at`: when all of it happened. */
  async function job(complaint: object, at: string, list: readonly (readonly [string, unknown])[]): Promise<string> {
    const jobId = id();
    const event = (type: string, data: unknown) => ({ id: id(), jobId, at, by: "Ada", type, data });
    await request(here.app)
      .post("/api/jobs")
      .send(event("job-opened", { vehicle: "Van", words: "dead", ...complaint }))
      .expect(201);
    if (list.length > 0)
      await request(here.app)
        .post(`/api/jobs/${jobId}/events`)
        .send({ events: list.map(([type, data]) => event(type, data)) })
        .expect(201);
    return jobId;
  }

  it("keeps its settings, and refuses what no shop has", async () => {
    const usual = shopSettings.parse((await request(here.app).get("/api/shop").expect(200)).body);
    expect(usual).to.include({ currency: "EUR", keepMonths: 36, hoursADay: 8 });
    const own = { ...usual, name: "Shed", currency: "JPY", hourlyRate: 9000, taxPercent: 10 };
    await request(here.app).put("/api/shop").send(own).expect(200);
    for (const bad of [{ currency: "QQQ" }, { currency: "eur" }, { hourlyRate: -1 }, { keepMonths: 0 }, { hoursADay: 30 }, { other: 1 }])
      await request(here.app)
        .put("/api/shop")
        .send({ ...own, ...bad })
        .expect(400);
    expect((await request(here.app).get("/api/shop").expect(200)).body).to.deep.equal(own);
  });

  it("tells what is due, by day and by minute, and how much work is open", async () => {
    const plan = (data: object): readonly [string, unknown] => ["planned", { whose: "Inga", waits: "", ...data }];
    const soak = await job({ registration: "A 1" }, "2026-05-20T08:00:00Z", [
      plan({ waits: "cold engine", until: "2026-05-20T11:30", hours: 2.5 }),
    ]);
    await job({ registration: "A 2" }, "2026-05-20T08:00:00Z", [plan({ waits: "part", until: "2026-05-21" })]);
    await job({ registration: "A 3" }, "2026-05-20T08:00:00Z", [plan({ promised: "2026-05-20T16:00" }), ["time-told", { minutes: 90 }]]);
    const due = async (now: string): Promise<string[]> =>
      dueList
        .parse((await request(here.app).get("/api/due").query({ now }).expect(200)).body)
        .due.map((d) => `${d.registration} ${d.kind}`);
    expect(await due("2026-05-20T11:29")).to.deep.equal([]);
    expect(await due("2026-05-20T11:30")).to.deep.equal(["A 1 waits"]);
    expect(await due("2026-05-21T00:00")).to.deep.equal(["A 1 waits", "A 3 promised", "A 2 waits"]);
    await request(here.app).get("/api/due").query({ now: "soon" }).expect(400);
    const { jobs } = jobList.parse((await request(here.app).get("/api/jobs").expect(200)).body);
    expect(Object.fromEntries(jobs.map((j) => [j.registration, [j.hours, j.hoursOpen]]))).to.deep.equal({
      "A 1": [2.5, 2.5],
      "A 2": [null, 1],
      // More was worked than it was thought to need.
      "A 3": [null, 0],
    });
    expect((await request(here.app).get("/api/dates.ics").expect(200)).text)
      .to.include(`${soak}-waits`)
      .and.to.include("Promised: Van");
  });

  it("takes the customer out of old closed jobs, keeps the rest, and the chain goes on over it", async () => {
    const photo = await sharp({ create: { width: 40, height: 30, channels: 3, background: "#777" } })
      .jpeg()
      .toBuffer();
    const kept = keptPicture.parse(
      (await request(here.app).post("/api/pictures").set("content-type", "image/jpeg").send(photo).expect(201)).body,
    );
    const complaint = { registration: "SKV 123", vin: "0NLSKERR0WT000001", words: "SKV123 does not start" };
    const closed = ["job-closed", { safeToDrive: "yes", withoutProof: "x" }] as const;
    const old = await job(complaint, "2021-01-05T10:00:00Z", [
      ["note-added", { text: "Owner of skv 123 rang." }],
      ["mend-made", { at: "G1", found: "rust", method: "ground cleaned and re-fixed", done: "cleaned" }],
      ["estimate-made", { currency: "EUR", taxPercent: 0, lines: [{ kind: "part", text: "x", quantity: 1, unitPrice: 100 }] }],
      ["estimate-answered", { answer: "accepted", who: "Mr Bo", how: "by phone" }],
      ["picture-kept", { ...kept, at: "G1", when: "before", caption: "plate SKV 123" }],
      closed,
    ]);
    const open = await job(complaint, "2021-01-05T10:00:00Z", []);
    const young = await job(complaint, "2026-01-05T10:00:00Z", [closed]);
    const told = oldCustomers.parse((await request(here.app).get("/api/shop/old-customers").expect(200)).body);
    expect(told).to.deep.equal({ jobs: 1, pictures: 1, before: "2023-05-20T15:00:00.000Z" });
    await request(here.app).post("/api/shop/old-customers/remove").send({ by: "", pictures: true }).expect(400);
    const done = removedCustomers.parse(
      (await request(here.app).post("/api/shop/old-customers/remove").send({ by: "Ada", pictures: true }).expect(200)).body,
    );
    expect(done).to.deep.equal({ jobs: 1, entries: 4, pictures: 1 });

    const text = (await request(here.app).get(`/api/jobs/${old}`).expect(200)).text;
    for (const gone of [/skv\s*123/i, /0NLSKERR/, /Mr Bo/]) expect(text).not.to.match(gone);
    const report = reportSchema.parse((await request(here.app).get(`/api/jobs/${old}/report.json`).expect(200)).body);
    expect(report.mends[0]).to.include({ place: "G1", found: "rust" });
    expect(report.complaint.words).to.equal("… does not start");
    await request(here.app).get(`/api/pictures/${kept.hash}`).expect(404);
    const log = chainedLogSchema.parse((await request(here.app).get(`/api/jobs/${old}/log.json`).expect(200)).body);
    expect(await checkChain(log, sha256)).to.include({ kind: "fits", entries: 8, removed: 4 });
    // What was not taken out is still held by the chain.
    const forged = log.entries.map((e) => (e.type === "mend-made" ? { ...e, data: { ...(e.data as object), found: "good" } } : e));
    expect(await checkChain({ ...log, entries: forged }, sha256)).to.include({ kind: "broken", number: 3 });
    // The board no longer finds it by its plate, and the others are as they were.
    const found = jobList.parse((await request(here.app).get("/api/jobs").query({ search: "skv 123" }).expect(200)).body);
    expect(found.jobs.map((j) => j.id).sort()).to.deep.equal([open, young].sort());
    expect((await request(here.app).get("/api/shop/old-customers").expect(200)).body).to.include({ jobs: 0, pictures: 0 });
  });
});
