import { gzipSync } from "node:zlib";
import { expect } from "chai";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import request from "supertest";
import { REST_STATE } from "@rheonom/core/circuit";
import type { KnownGood } from "@rheonom/core/job";
import { writeTraceFile } from "@rheonom/core/waveform";
import { knownGood } from "../../../../packages/core/src/test/known-goods.ts";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { collect } from "../test/collect.ts";
import { localApp, type LocalApp } from "../test/local-app.ts";

const log = new LogWriter();
const item = (part: Partial<KnownGood> = {}): KnownGood => knownGood(log.id(), part);

describe("the shelf of known-goods", () => {
  let [here, there]: [LocalApp, LocalApp] = [undefined!, undefined!];
  before(async () => {
    here = await localApp();
    there = await localApp();
  });
  after(async () => {
    await here.end();
    await there.end();
  });
  const put = (good: object, at = here) => request(at.app).post("/api/known-goods").send(good);
  const listed = async (query: string, at = here): Promise<readonly KnownGood[]> =>
    ((await request(at.app).get(`/api/known-goods${query}`).expect(200)).body as { items: KnownGood[] }).items;
  const file = async (at: LocalApp): Promise<Buffer> =>
    (await request(at.app).get("/api/known-goods/file.zip?vehicle=plover").buffer(true).parse(collect).expect(200)).body as Buffer;
  const take = (zip: Buffer | Uint8Array, at: LocalApp) =>
    request(at.app).post("/api/known-goods/file.zip").set("Content-Type", "application/zip").send(Buffer.from(zip));

  it("keeps what is put there, once, and finds it by family and place", async () => {
    const first = item();
    await put(first).expect(201);
    await put(first).expect(200);
    // The database keeps the names of a record in an order of its own.
    const switched = item({ vehicle: "brigg", state: { ...REST_STATE, inputs: { coolant: 90, sun: 1 } } });
    await put(switched).expect(201);
    await put({ ...switched, state: { ...switched.state, inputs: { sun: 1, coolant: 90 } } }).expect(200);
    await put(item({ leads: { quantity: "amps", around: "W2" }, value: 3 })).expect(201);
    await put(item({ vehicle: "brigg" })).expect(201);
    expect((await listed("?vehicle=plover")).map((i) => i.value)).to.deep.equal([12.1, 3]);
    expect(await listed(`?vehicle=plover&place=${encodeURIComponent("volts C5.3a BAT.-")}`)).to.deep.equal([first]);
    expect((await put({ ...first, value: 11 }).expect(409)).body.code).to.equal("known-good-reused");
    expect(JSON.stringify((await put({ ...item(), value: undefined }).expect(400)).body)).to.contain("value");
    expect((await put(item({ value: undefined, trace: traceOf("1".repeat(64), 9) })).expect(404)).body.code).to.equal("trace-not-found");
  });

  const traceOf = (hash: string, bytes: number): NonNullable<KnownGood["trace"]> => ({
    hash,
    bytes,
    channel: 0,
    name: "coil",
    unit: "V",
    factor: 1,
    rateHz: 1e5,
    count: 100,
  });

  it("goes to another shop with its recordings, says where it came from, and takes its withdrawal along", async () => {
    const packed = gzipSync(
      writeTraceFile({ startS: 0, rateHz: 1e5, count: 100, channels: [{ name: "CH1", unit: "V", samples: new Float32Array(100) }] }),
    );
    const kept = (await request(here.app).post("/api/traces").set("Content-Type", "application/gzip").send(packed).expect(201)).body as {
      hash: string;
      bytes: number;
    };
    const recording = item({ value: undefined, trace: traceOf(kept.hash, kept.bytes), jobId: log.jobId });
    await put(recording).expect(201);
    await request(here.app)
      .put("/api/shop")
      .send({ name: "Nether Quay", currency: "EUR", taxPercent: 0, hourlyRate: 0, hoursADay: 8, keepMonths: 36 })
      .expect(200);
    const zip = await file(here);
    const list = strFromU8(unzipSync(zip)["known-goods.json"]!);
    expect(list, "no job goes along").to.not.contain(log.jobId);
    expect((await take(zip, there).expect(200)).body).to.deep.equal({ added: 3, known: 0, withdrawn: 0 });
    expect((await take(zip, there).expect(200)).body).to.deep.equal({ added: 0, known: 3, withdrawn: 0 });
    const [, , came] = await listed("?vehicle=plover", there);
    expect(came).to.deep.equal(JSON.parse(JSON.stringify({ ...recording, jobId: null, from: "Nether Quay" })));
    await request(there.app).get(`/api/traces/${kept.hash}`).expect(200);

    await request(here.app).post(`/api/known-goods/${recording.id}/withdraw`).send({ by: "Rook", why: "that coil was weak" }).expect(200);
    expect((await take(await file(here), there).expect(200)).body).to.deep.equal({ added: 0, known: 2, withdrawn: 1 });
    expect((await listed("?vehicle=plover", there))[2]!.withdrawn?.why).to.equal("that coil was weak");
    expect(
      (await request(here.app).post(`/api/known-goods/${log.id()}/withdraw`).send({ by: "Rook", why: "x" }).expect(404)).body.code,
    ).to.equal("known-good-not-found");
  });

  it("names the jobs that held something against it", async () => {
    const good = item();
    await put(good).expect(201);
    const job = new LogWriter();
    await request(here.app).post("/api/jobs").send(job.add("job-opened", COMPLAINT)).expect(201);
    await request(here.app)
      .post(`/api/jobs/${job.jobId}/events`)
      .send({ events: [job.add("known-good-used", { items: [good.id], what: "11.2 V at C5.3" })] })
      .expect(201);
    const { users } = (await request(here.app).get(`/api/known-goods/${good.id}/users`).expect(200)).body as { users: object[] };
    expect(users).to.have.lengthOf(1);
    expect(users[0]).to.include({ jobId: job.jobId, registration: COMPLAINT.registration, what: "11.2 V at C5.3", by: "Inga" });
  });

  it("takes all of a file or nothing, and never one that is not what it says", async () => {
    const files = unzipSync(await file(here));
    const trace = Object.keys(files).find((f) => f.startsWith("traces/"))!;
    const { [trace]: samples, ...without } = files;
    const changed = JSON.parse(strFromU8(files["known-goods.json"]!)) as { items: KnownGood[]; version: number };
    const listAs = (list: object): Uint8Array => zipSync({ ...files, "known-goods.json": strToU8(JSON.stringify(list)) });
    const before = (await listed("", there)).length;
    for (const [zip, why] of [
      [Buffer.from("hello"), "not a zip file"],
      [zipSync(without), "is missing"],
      [zipSync({ ...without, [trace]: samples!.slice(1) }), "not what its name says"],
      [zipSync({ ...files, "../../etc/passwd": strToU8("x") }), "no shelf’s file has"],
      [listAs({ ...changed, version: 2 }), "version"],
      [listAs({ ...changed, items: [...changed.items, { ...item(), value: "much" }] }), "value"],
    ] as const)
      expect(((await take(zip, there).expect(400)).body as { message: string }).message).to.contain(why);
    // One that contradicts what stands here: none of the others is taken either.
    const liar = { ...changed, items: [item(), { ...changed.items[0]!, value: 1 }] };
    expect((await take(listAs(liar), there).expect(409)).body.code).to.equal("known-good-reused");
    expect(await listed("", there)).to.have.lengthOf(before);
  });
});
