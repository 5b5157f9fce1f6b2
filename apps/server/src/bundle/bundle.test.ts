import { expect } from "chai";
import { createHash } from "node:crypto";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import request from "supertest";
import { jobLog } from "@rheonom/contract/api";
import { begun, bundleTaken } from "@rheonom/contract/light";
import { problem } from "@rheonom/contract/problem";
import { collect } from "../test/collect.ts";
import { localApp, type LocalApp } from "../test/local-app.ts";

const sha256 = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

describe("a bundle", () => {
  let here: LocalApp;
  let there: LocalApp;
  let jobId: string;
  let zip: Buffer;
  before(async () => {
    here = await localApp();
    there = await localApp();
    jobId = begun.parse((await request(here.app).post("/api/samples/finished").send({}).expect(201)).body).jobId;
    zip = await bytesOf(`/api/jobs/${jobId}/bundle.zip`);
  });
  after(async () => {
    await here.end();
    await there.end();
  });
  const bytesOf = async (path: string): Promise<Buffer> =>
    (await request(here.app).get(path).expect(200).buffer(true).parse(collect)).body as Buffer;
  const post = (body: Uint8Array, type = "application/zip"): request.Test =>
    request(there.app).post("/api/bundles").set("content-type", type).send(Buffer.from(body));
  /** The same bundle with its files otherwise; with `relisted` the manifest says what is in it. */
  function changed(change: (files: Record<string, Uint8Array>) => void, relisted = false): Uint8Array {
    const files = unzipSync(new Uint8Array(zip));
    change(files);
    if (relisted) {
      const told = JSON.parse(strFromU8(files["manifest.json"]!)) as { files: Record<string, unknown> };
      told.files = Object.fromEntries(
        Object.entries(files).flatMap(([name, data]) =>
          name === "manifest.json" ? [] : [[name, { bytes: data.length, sha256: sha256(data) }]],
        ),
      );
      files["manifest.json"] = strToU8(JSON.stringify(told));
    }
    return zipSync(files);
  }
  /** A file of zeros whose directory says that it is small. */
  function understated(bytes: number, said: number): Uint8Array {
    const packed = Buffer.from(zipSync({ "zeros.txt": new Uint8Array(bytes) }));
    const directory = packed.lastIndexOf(Buffer.from("PK\u0001\u0002"));
    packed.writeUInt32LE(said, directory + 24);
    return packed;
  }
  const whyNot = async (body: Uint8Array): Promise<string> => {
    const answer = await post(body);
    expect(answer.status, JSON.stringify(answer.body)).to.equal(400);
    return problem.parse(answer.body).message;
  };

  it("holds log, report, papers, circuit and schemas, each with its hash", () => {
    const files = unzipSync(new Uint8Array(zip));
    expect(Object.keys(files)).to.have.members([
      ...["manifest.json", "log.json", "report.json", "report.pdf", "customer.pdf", "circuit.txt"],
      ...["schemas/log.schema.json", "schemas/report.schema.json", "schemas/job-event.schema.json"],
    ]);
    expect(strFromU8(files["report.pdf"]!.slice(0, 5))).to.equal("%PDF-");
    const told = JSON.parse(strFromU8(files["manifest.json"]!)) as { files: Record<string, { sha256: string }> };
    for (const [name, { sha256: hash }] of Object.entries(told.files)) expect(sha256(files[name]!), name).to.equal(hash);
  });

  it("is refused with what is wrong, and nothing of it stored", async () => {
    const spoil = (text: string, from: string, to: string): Uint8Array => {
      expect(text).to.include(from);
      return strToU8(text.replace(from, to));
    };
    const logOf = (f: Record<string, Uint8Array>): string => strFromU8(f["log.json"]!);
    const cases: readonly (readonly [Uint8Array, RegExp])[] = [
      [changed((f) => void (f["log.json"] = spoil(logOf(f), "winch cable", "which cable"))), /log\.json is not as it was packed/],
      [
        changed((f) => void (f["log.json"] = spoil(logOf(f), "winch cable", "which cable")), true),
        /entry \d+ of its log is not as it was stored/,
      ],
      [changed((f) => void (f["log.json"] = spoil(logOf(f), '"rheonom-log"', '"other"')), true), /log\.json is not the log of a job/],
      [
        changed(
          (f) =>
            void (f["manifest.json"] = spoil(
              strFromU8(f["manifest.json"]!),
              jobId,
              jobId.replace(/.$/, (c) => (c === "0" ? "1" : "0")),
            )),
        ),
        /log\.json is of another job/,
      ],
      [understated(50e6, 10), /zeros\.txt stands in no list|manifest\.json is missing|not a zip file/],
      [changed((f) => void delete f["manifest.json"]), /manifest\.json is missing/],
      [changed((f) => void delete f["report.pdf"]), /report\.pdf is missing/],
      [changed((f) => void (f["extra.txt"] = strToU8("x"))), /extra\.txt stands in no list/],
      [changed((f) => void (f["../../etc/passwd"] = strToU8("x"))), /file with the name “\.\.\/\.\.\/etc\/passwd”/],
      [zipSync({ "zeros.txt": new Uint8Array(60e6) }), /unpacks to more than 48 MB/],
      [zipSync(Object.fromEntries(Array.from({ length: 60 }, (_, i) => [`f${i}.txt`, strToU8("x")]))), /more than 40 files/],
      [zip.subarray(0, zip.length / 2), /not a zip file that can be read/],
      [strToU8("PK nonsense"), /not a zip file that can be read/],
    ];
    for (const [body, why] of cases) expect(await whyNot(body)).to.match(why);
    await post(strToU8("{}"), "application/json").expect(415);
    await request(there.app).get(`/api/jobs/${jobId}`).expect(404);
  });

  it("goes into another shop whole, with the same chain, and a second time changes nothing", async () => {
    expect(bundleTaken.parse((await post(zip).expect(201)).body).jobId).to.equal(jobId);
    const [own, other] = await Promise.all(
      [here, there].map(async ({ app }) => jobLog.parse((await request(app).get(`/api/jobs/${jobId}`).expect(200)).body)),
    );
    expect(other!.events).to.deep.equal(own!.events);
    expect(other!.hash).to.equal(own!.hash);
    expect(bundleTaken.parse((await post(zip).expect(200)).body)).to.deep.equal({ jobId, stored: 0 });
    expect(jobLog.parse((await request(there.app).get(`/api/jobs/${jobId}`)).body).events).to.have.length(own!.events.length);
  });
});
