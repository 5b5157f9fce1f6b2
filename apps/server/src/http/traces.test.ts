import { expect } from "chai";
import { createHash, randomBytes } from "node:crypto";
import { existsSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { gunzipSync, gzipSync } from "node:zlib";
import request from "supertest";
import { keptTrace } from "@rheonom/contract/shop";
import { problem } from "@rheonom/contract/problem";
import { uuidV7 } from "@rheonom/core/job";
import { readTraceFile, writeTraceFile } from "@rheonom/core/waveform";
import { collect } from "../test/collect.ts";
import { localApp, type LocalApp } from "../test/local-app.ts";

const samples = Float32Array.from({ length: 5000 }, (_, i) => Math.sin(i / 30));
const packed = gzipSync(writeTraceFile({ startS: 0, rateHz: 1e5, count: 5000, channels: [{ name: "A", unit: "V", samples }] }));

describe("traces", () => {
  let here: LocalApp;
  before(async () => (here = await localApp()));
  after(() => here.end());
  const post = (body: Uint8Array, type = "application/gzip"): request.Test =>
    request(here.app).post("/api/traces").set("content-type", type).send(Buffer.from(body));
  const bytesOf = async (path: string, app = here.app): Promise<Buffer> =>
    (await request(app).get(path).expect(200).buffer(true).parse(collect)).body as Buffer;

  it("are stored once under the hash of their bytes, and come back as they were", async () => {
    const kept = keptTrace.parse((await post(packed).expect(201)).body);
    expect(kept).to.deep.equal({ hash: createHash("sha256").update(packed).digest("hex"), bytes: packed.length });
    await post(packed).expect(201);
    const back = await bytesOf(`/api/traces/${kept.hash}`);
    const read = readTraceFile(gunzipSync(back));
    expect(read.kind === "read" && [...read.trace.channels[0]!.samples]).to.deep.equal([...samples]);
  });

  it("are refused when they are none, and nothing is stored", async () => {
    const files = (): string[] =>
      existsSync(join(here.folder, "media")) ? readdirSync(join(here.folder, "media"), { recursive: true, encoding: "utf8" }) : [];
    const before = files();
    const cases: readonly (readonly [Uint8Array, RegExp])[] = [
      [Buffer.from("words"), /not packed/],
      [packed.subarray(0, packed.length - 40), /not packed/],
      [gzipSync(Buffer.from("words\n")), /head is not one of a trace/],
      // 200 MB of zeros in some 200 kB.
      [gzipSync(Buffer.alloc(200e6)), /unpacks to more/],
      [new Uint8Array(0), /not packed/],
    ];
    for (const [body, why] of cases) {
      const told = problem.parse((await post(body).expect(422)).body);
      expect(told.code).to.equal("trace-refused");
      expect(told.message).to.match(why);
    }
    await post(packed, "text/csv").expect(415);
    await request(here.app)
      .get(`/api/traces/${"0".repeat(64)}`)
      .expect(404);
    await request(here.app).get("/api/traces/..%2f..%2fseal.json").expect(404);
    expect(files()).to.deep.equal(before);
  });

  it("stand in the report as drawings, and go along in the bundle of their job", async () => {
    const kept = keptTrace.parse((await post(packed).expect(201)).body);
    let clock = Date.parse("2026-05-20T10:00:00.000Z");
    const id = (): string => uuidV7(++clock, randomBytes(10));
    const jobId = id();
    const event = (type: string, data: unknown) => ({ id: id(), jobId, at: "2026-05-20T10:00:00.000Z", by: "Ada", type, data });
    await request(here.app)
      .post("/api/jobs")
      .send(event("job-opened", { vehicle: "Van", words: "misfires" }))
      .expect(201);
    const channels = [{ name: "A", unit: "V", factor: 10, red: "COIL.1", black: "BAT.-" }];
    const events = [event("trace-kept", { ...kept, name: "coil", startS: 0, rateHz: 1e5, count: 5000, channels })];
    await request(here.app).post(`/api/jobs/${jobId}/events`).send({ events }).expect(201);
    const page = (await bytesOf(`/api/jobs/${jobId}/report.html`)).toString("utf8");
    const drawn = [...page.matchAll(/data:image\/svg\+xml;base64,([A-Za-z0-9+/=]+)/g)].map(([, b]) => Buffer.from(b!, "base64").toString());
    expect(page).to.include("1 A (COIL.1 against BAT.-)");
    // A sine of one volt with a probe of ten: its highest and lowest stand at the axis.
    expect(drawn.join(""))
      .to.include(">10 V<")
      .and.to.include(">-10 V<")
      .and.to.match(/<path d="M\d/);
    expect((await bytesOf(`/api/jobs/${jobId}/report.pdf`)).length).to.be.above(10_000);
    const there = await localApp();
    try {
      const zip = await bytesOf(`/api/jobs/${jobId}/bundle.zip`);
      await request(there.app).post("/api/bundles").set("content-type", "application/zip").send(zip).expect(201);
      expect(await bytesOf(`/api/traces/${kept.hash}`, there.app)).to.deep.equal(Buffer.from(packed));
    } finally {
      await there.end();
    }
  });
});
