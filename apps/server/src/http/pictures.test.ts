import { expect } from "chai";
import { createHash, randomBytes } from "node:crypto";
import { once } from "node:events";
import { existsSync, mkdirSync, readdirSync, writeFileSync } from "node:fs";
import type { IncomingMessage } from "node:http";
import { connect, type AddressInfo } from "node:net";
import { join } from "node:path";
import { strFromU8, unzipSync, zipSync } from "fflate";
import sharp from "sharp";
import request from "supertest";
import { keptPicture, type KeptPicture } from "@rheonom/contract/shop";
import { problem } from "@rheonom/contract/problem";
import { LONGEST_SIDE_PX, reportSchema, uuidV7 } from "@rheonom/core/job";
import { createMediaStore } from "../media/media-store.ts";
import { collect } from "../test/collect.ts";
import { localApp, type LocalApp } from "../test/local-app.ts";

const sha256 = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");
const AT = "2026-05-20T10:00:00.000Z";
let clock = Date.parse(AT);
const id = (): string => uuidV7(++clock, randomBytes(10));

/** Left half red, right half blue; the noise keeps it from packing to nothing. */
async function camera(width: number, height: number, form: "jpeg" | "png" | "webp" = "jpeg"): Promise<Buffer> {
  const half = await sharp({ create: { width: width >> 1, height, channels: 3, background: "#d00000" } })
    .png()
    .toBuffer();
  return sharp({ create: { width, height, channels: 3, background: "#0000d0" } })
    .composite([{ input: half, left: 0, top: 0 }])
    .toFormat(form)
    .toBuffer();
}

describe("pictures", () => {
  let here: LocalApp;
  before(async () => (here = await localApp()));
  after(() => here.end());
  const post = (body: Uint8Array, type = "image/jpeg"): request.Test =>
    request(here.app).post("/api/pictures").set("content-type", type).send(Buffer.from(body));
  const keep = async (body: Uint8Array, type?: string): Promise<KeptPicture> =>
    keptPicture.parse((await post(body, type).expect(201)).body);
  const bytesOf = async (path: string, app = here.app): Promise<Buffer> =>
    (await request(app).get(path).expect(200).buffer(true).parse(collect)).body as Buffer;
  const files = (media = join(here.folder, "media")): string[] =>
    existsSync(media) ? readdirSync(media, { recursive: true, encoding: "utf8" }).filter((f) => f.includes(".")) : [];

  it("are turned upright, cut down to size and rid of where and when they were taken", async () => {
    const turned = await sharp(await camera(3000, 1000))
      .withExif({ IFD0: { Make: "camera" }, IFD3: { GPSLatitudeRef: "N", GPSLatitude: "51/1 30/1 0/1" } })
      .withMetadata({ orientation: 6 })
      .toBuffer();
    expect((await sharp(turned).metadata()).exif).to.be.an.instanceOf(Buffer);
    const kept = await keep(turned);
    expect([kept.width, kept.height]).to.deep.equal([667, LONGEST_SIDE_PX]);
    const whole = await bytesOf(`/api/pictures/${kept.hash}`);
    expect(sha256(whole)).to.equal(kept.hash);
    expect(whole.length).to.equal(kept.bytes);
    const about = await sharp(whole).metadata();
    expect([about.format, about.exif, about.xmp, about.orientation]).to.deep.equal(["jpeg", undefined, undefined, undefined]);
    // Turned to the right: what was left is above.
    const { data } = await sharp(whole).extract({ left: 300, top: 100, width: 1, height: 1 }).raw().toBuffer({ resolveWithObject: true });
    expect(data[0]).to.be.above(180);
    expect(data[2]).to.be.below(60);
    const small = await sharp(await bytesOf(`/api/pictures/${kept.hash}/thumbnail`)).metadata();
    expect(Math.max(small.width, small.height)).to.equal(360);
  });

  it("are taken as PNG and WebP too, and the same one is stored once", async () => {
    for (const form of ["png", "webp"] as const) {
      const body = await camera(400, 300, form);
      const before = files().length;
      const [first, second] = [await keep(body, `image/${form}`), await keep(body, `image/${form}`)];
      expect(second).to.deep.equal(first);
      expect([first.width, first.height]).to.deep.equal([400, 300]);
      expect(files().length).to.equal(before + 2);
    }
  });

  it("are refused with what they are and what to do, and nothing is stored", async () => {
    const jpeg = await camera(1200, 900);
    // 121 million pixels of one colour pack to some 100 kB.
    const bomb = await sharp({ create: { width: 11_000, height: 11_000, channels: 3, background: "#fff" }, limitInputPixels: false })
      .png({ compressionLevel: 9 })
      .toBuffer();
    const cases: readonly (readonly [string, Uint8Array, RegExp])[] = [
      ["HEIC", Buffer.from("\0\0\0\x18ftypheic\0\0\0\0heicmif1"), /HEIC.*JPEG/],
      ["a renamed PDF", Buffer.from("%PDF-1.7\n%âãÏÓ\n1 0 obj"), /PDF.*page/],
      ["a drawing with a script in it", Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>x</script></svg>'), /SVG/],
      ["words", Buffer.from("these are words"), /no picture/],
      ["one that was cut off", jpeg.subarray(0, jpeg.length >> 1), /cut off/],
      ["one of nothing but a head", jpeg.subarray(0, 20), /damaged/],
      ["a bomb", bomb, /million pixels/],
    ];
    const before = files();
    for (const [name, body, why] of cases) {
      const refused = await post(body);
      expect(refused.status, name).to.equal(422);
      const told = problem.parse(refused.body);
      expect(told.code).to.equal("picture-refused");
      expect(told.message, name)
        .to.match(why)
        .and.to.match(/Nothing was stored/);
    }
    await post(new Uint8Array(0)).expect(422);
    const large = problem.parse((await post(Buffer.alloc(41e6, 7)).expect(413)).body);
    expect(large.message).to.include("40 MB");
    await request(here.app).post("/api/pictures").set("content-type", "text/plain").send("x").expect(415);
    expect(files()).to.deep.equal(before);
  });

  it("that are cut off on their way are not stored", async () => {
    const server = here.app.listen(0, "127.0.0.1");
    await once(server, "listening");
    try {
      // Bytes after its end change nothing in a JPEG: what arrives here of it is a whole picture.
      const body = Buffer.concat([await camera(1200, 900), Buffer.alloc(200)]);
      const before = files();
      const { port } = server.address() as AddressInfo;
      const socket = connect(port, "127.0.0.1");
      await once(socket, "connect");
      const arrived = once(server, "request") as Promise<[IncomingMessage]>;
      socket.write(
        `POST /api/pictures HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Type: image/jpeg\r\nContent-Length: ${body.length}\r\n\r\n`,
      );
      socket.write(body.subarray(0, body.length - 100));
      const [asked] = await arrived;
      socket.destroy();
      if (!asked.destroyed) await once(asked, "close").catch(() => undefined);
      // What comes afterwards is taken, so what was cut off has had its turn.
      await keep(await camera(640, 480));
      expect(files().length).to.equal(before.length + 2);
      await keep(body.subarray(0, body.length - 100));
      expect(files().length).to.equal(before.length + 4);
    } finally {
      server.closeAllConnections();
      server.close();
    }
  });

  it("are not stored on a full disk, and one that is not there is said to be missing", async () => {
    const media = createMediaStore(
      join(here.folder, "full"),
      () => "",
      () => 1e6,
    );
    const error = await media.take(await camera(100, 100)).then(
      () => undefined,
      (e: { code: string }) => e.code,
    );
    expect(error).to.equal("disk-full");
    expect(existsSync(join(here.folder, "full"))).to.equal(false);
    await request(here.app)
      .get(`/api/pictures/${"0".repeat(64)}`)
      .expect(404);
    await request(here.app).get("/api/pictures/..%2F..%2Fseal.json").expect(404);
  });

  describe("of a job", () => {
    const jobId = id();
    const opened = {
      id: id(),
      jobId,
      at: AT,
      by: "Ada",
      type: "job-opened",
      data: { vehicle: "Van", registration: "RX 12", words: "Horn is dead" },
    };
    let kept: KeptPicture;
    const make = async (list: readonly (readonly [string, unknown])[]): Promise<string[]> => {
      const events = list.map(([type, data]) => ({ id: id(), jobId, at: AT, by: "Ada", type, data }));
      await request(here.app).post(`/api/jobs/${jobId}/events`).send({ events }).expect(201);
      return events.map((e) => e.id);
    };
    before(async () => {
      kept = await keep(await camera(1600, 1200));
      await request(here.app).post("/api/jobs").send(opened).expect(201);
      const picture = (when: string, caption: string): readonly [string, unknown] => [
        "picture-kept",
        { ...kept, at: "C21.4", when, caption },
      ];
      const [first] = await make([picture("before", "green <b>copper</b>"), picture("after", "cleaned")]);
      await make([
        [
          "picture-marked",
          {
            target: first,
            marks: [
              { kind: "arrow", from: [0.1, 0.1], to: [0.5, 0.5] },
              { kind: "circle", at: [0.5, 0.5], radii: [0.1, 0.1] },
              { kind: "words", at: [0.2, 0.2], text: '</text><script>alert("x")</script>' },
            ],
          },
        ],
      ]);
    });

    it("stand in its papers before beside after, with their marks as drawings, and nothing in them runs", async () => {
      const report = reportSchema.parse((await request(here.app).get(`/api/jobs/${jobId}/report.json`).expect(200)).body);
      expect(report.pictures.map((p) => [p.when, p.place, p.marks.length])).to.deep.equal([
        ["before", "C21.4", 3],
        ["after", "C21.4", 0],
      ]);
      for (const paper of ["report", "customer"]) {
        const pdf = await bytesOf(`/api/jobs/${jobId}/${paper}.pdf`);
        // The picture itself is in it, as a JPEG.
        expect(pdf.toString("latin1"), paper).to.include("/DCTDecode");
        // What the customer gets is one page.
        if (paper === "customer") expect(pdf.toString("latin1").match(/\/Type \/Page\b/g)).to.have.length(1);
        const page = (await bytesOf(`/api/jobs/${jobId}/${paper}.html`)).toString("utf8");
        expect(page).to.include("data:image/svg+xml;base64,").and.not.to.include("<script").and.not.to.include("<b>copper");
        expect(page.indexOf("Before the repair, C21.4")).to.be.within(1, page.indexOf("After the repair, C21.4"));
      }
    });

    it("are left out of a copy without the customer, which says so", async () => {
      const copy = reportSchema.parse((await request(here.app).get(`/api/jobs/${jobId}/report.json?copy=redacted`).expect(200)).body);
      expect([copy.pictures.length, copy.picturesLeftOut]).to.deep.equal([0, 2]);
      const page = (await bytesOf(`/api/jobs/${jobId}/report.html?copy=redacted`)).toString("utf8");
      expect(page).to.include("2 left out of this copy");
    });

    it("go along in its bundle, and one that was changed on the way is refused", async () => {
      const there = await localApp();
      try {
        const zip = await bytesOf(`/api/jobs/${jobId}/bundle.zip`);
        const name = `pictures/${kept.hash}.jpg`;
        const packed = unzipSync(new Uint8Array(zip));
        const other = new Uint8Array(packed[name]!);
        other[other.length - 20]! ^= 1;
        const told = JSON.parse(strFromU8(packed["manifest.json"]!)) as { files: Record<string, unknown> };
        told.files[name] = { bytes: other.length, sha256: sha256(other) };
        const forged = zipSync({ ...packed, [name]: other, "manifest.json": new TextEncoder().encode(JSON.stringify(told)) });
        const take = (body: Uint8Array): request.Test =>
          request(there.app).post("/api/bundles").set("content-type", "application/zip").send(Buffer.from(body));
        expect(problem.parse((await take(forged).expect(400)).body).message).to.match(/is not what its name says/);
        await request(there.app).get(`/api/pictures/${kept.hash}`).expect(404);
        await take(zip).expect(201);
        expect(sha256(await bytesOf(`/api/pictures/${kept.hash}`, there.app))).to.equal(kept.hash);
        await take(zip).expect(200);
      } finally {
        await there.end();
      }
    });

    it("are taken back when the log they came with is refused", async () => {
      const there = await localApp();
      try {
        const packed = unzipSync(new Uint8Array(await bytesOf(`/api/jobs/${jobId}/bundle.zip`)));
        const log = JSON.parse(strFromU8(packed["log.json"]!)) as { entries: { id: string }[] };
        // The same entry stands there already, in another job: such a log is not taken in.
        const other = { id: log.entries.at(-1)!.id, jobId: id(), at: AT, by: "Ada", type: "job-opened", data: opened.data };
        await request(there.app).post("/api/jobs").send(other).expect(201);
        const media = join(there.folder, "media");
        const send = zipSync(packed);
        await request(there.app).post("/api/bundles").set("content-type", "application/zip").send(Buffer.from(send)).expect(409);
        await request(there.app).get(`/api/jobs/${jobId}`).expect(404);
        expect(files(media)).to.deep.equal([]);
      } finally {
        await there.end();
      }
    });

    it("that were not prepared are not taken in with a bundle, and nothing of it is stored", async () => {
      // What another shop packed without preparing it: with where it was taken still in it.
      const raw = await sharp(await camera(400, 300))
        .withExif({ IFD3: { GPSLatitudeRef: "N", GPSLatitude: "51/1 30/1 0/1" } })
        .toBuffer();
      const hash = sha256(raw);
      const [from, there] = [await localApp(), await localApp()];
      try {
        for (const name of [`${hash}.jpg`, `${hash}.thumb.jpg`]) {
          mkdirSync(join(from.folder, "media", hash.slice(0, 2)), { recursive: true });
          writeFileSync(join(from.folder, "media", hash.slice(0, 2), name), raw);
        }
        await request(from.app).post("/api/jobs").send(opened).expect(201);
        const told = { hash, width: 400, height: 300, bytes: raw.length, at: "C21.4", when: "before", caption: "" };
        const events = [{ id: id(), jobId, at: AT, by: "Ada", type: "picture-kept", data: told }];
        await request(from.app).post(`/api/jobs/${jobId}/events`).send({ events }).expect(201);
        const zip = await bytesOf(`/api/jobs/${jobId}/bundle.zip`, from.app);
        const refused = await request(there.app).post("/api/bundles").set("content-type", "application/zip").send(zip);
        expect(problem.parse(refused.body).code).to.equal("picture-refused");
        expect(files(join(there.folder, "media"))).to.deep.equal([]);
        await request(there.app).get(`/api/jobs/${jobId}`).expect(404);
      } finally {
        await from.end();
        await there.end();
      }
    });
  });
});
