import { expect } from "chai";
import type { Express } from "express";
import request from "supertest";
import { versionedHarness } from "@rheonom/contract/api";
import { vehicleList, vehicleVersions } from "@rheonom/contract/light";
import type { Harness } from "@rheonom/core/harness";
import { parseNotation } from "@rheonom/core/notation";
import { seedVehicles } from "../demo/seed.ts";
import { localApp, ROOT, type LocalApp } from "../test/local-app.ts";

const HORN = parseNotation(
  'circuit "Horn"\nBAT -- RD 6mm2 1m -- F4(15A) -- RD/BU 2.5mm2 2m -- C7.3 -- BU 1.5mm2 2m -- HORN(load 6A) -- BK 1.5mm2 0.4m -- G3\nG1 -- BK 25mm2 0.5m -- BAT',
).harness!;

describe("vehicles", () => {
  let local: LocalApp;
  let app: Express;
  before(async () => {
    local = await localApp();
    app = local.app;
  });
  after(() => local.end());

  const save = (id: string, harness: unknown, basedOn: number): request.Test =>
    request(app).post(`/api/vehicles/${id}/versions`).send({ harness, basedOn, by: "Ansa", note: "as drawn" });

  it("keep every version as it was, and list the latest", async () => {
    await save("horn", HORN, 0).expect(201, { id: "horn", version: 1 });
    const recoloured: Harness = { ...HORN, wires: HORN.wires.map((w, i) => (i === 0 ? { ...w, colour: "OG" } : w)) };
    await save("horn", recoloured, 1).expect(201, { id: "horn", version: 2 });
    const first = versionedHarness.parse((await request(app).get("/api/vehicles/horn/versions/1").expect(200)).body);
    expect(first.harness).to.deep.equal(HORN);
    const heads = vehicleVersions.parse((await request(app).get("/api/vehicles/horn").expect(200)).body);
    expect(heads.versions.map((v) => [v.version, v.by, v.counts.wires])).to.deep.equal([
      [2, "Ansa", 5],
      [1, "Ansa", 5],
    ]);
    const list = vehicleList.parse((await request(app).get("/api/vehicles").expect(200)).body);
    expect(list.vehicles.find((v) => v.id === "horn")).to.deep.include({ versions: 2, demo: false });
  });

  it("refuse a version made from an older one than the latest, of two at once all but one", async () => {
    await save("race", HORN, 0).expect(201);
    const answers = await Promise.all([save("race", HORN, 1), save("race", HORN, 1), save("race", HORN, 1)]);
    expect(answers.map((a) => a.status).sort()).to.deep.equal([201, 409, 409]);
    const stale = answers.find((a) => a.status === 409)!.body as { code: string; message: string };
    expect(stale.code).to.equal("version-stale");
    expect(stale.message).to.include("stands at version 2");
    await save("race", HORN, 0).expect(409);
  });

  it("refuse wiring with errors, naming each and its place, and store nothing", async () => {
    const dangling = { ...HORN, wires: [...HORN.wires, { ...HORN.wires[0]!, id: "W99", to: { component: "NOBODY", pin: "1" } }] };
    const answer = await save("bad", dangling, 0).expect(400);
    expect(answer.body).to.have.property("code", "harness-invalid");
    expect((answer.body as { issues: { path: string; message: string }[] }).issues[0]).to.deep.include({ path: "W99" });
    await request(app).get("/api/vehicles/bad").expect(404);
  });

  const BAD: readonly (readonly [string, () => request.Test, number, string])[] = [
    ["a name that is none", () => save("Über Van", HORN, 0), 400, "vehicle-id-invalid"],
    ["no wiring", () => save("empty", { format: "something" }, 0), 400, "body-invalid"],
    ["an unknown vehicle", () => request(app).get("/api/vehicles/nobody"), 404, "vehicle-not-found"],
    ["an unknown version", () => request(app).get("/api/vehicles/horn/versions/77"), 404, "version-not-found"],
    ["a version that is not a number", () => request(app).get("/api/vehicles/horn/versions/last"), 404, "version-not-found"],
    ["a new version of nothing", () => save("nobody", HORN, 3), 404, "vehicle-not-found"],
    ["an unknown connector", () => request(app).get("/api/vehicles/horn/versions/1/faces/C99.pdf"), 400, "place-unknown"],
    ["a state that is none", () => request(app).get("/api/vehicles/horn/versions/1/faces/C7.pdf?key=sideways"), 400, "body-invalid"],
    ["a body that is far too large", () => save("huge", { ...HORN, name: "x".repeat(13_000_000) }, 0), 413, "body-too-large"],
  ];
  for (const [what, ask, status, code] of BAD)
    it(`answer ${what} with ${code}`, async () => {
      const answer = await ask();
      expect([answer.status, (answer.body as { code: string }).code]).to.deep.equal([status, code]);
    });

  it("hold the fleet once, however often the demo begins, and print its grounds and faces", async () => {
    await seedVehicles(local.store, ROOT, new Date());
    await seedVehicles(local.store, ROOT, new Date());
    const list = vehicleList.parse((await request(app).get("/api/vehicles").expect(200)).body);
    expect(list.vehicles.filter((v) => v.demo).map((v) => [v.id, v.versions]))
      .to.have.length(10)
      .and.to.deep.include(["plover", 1]);
    for (const path of ["grounds.pdf?options=fridge", "faces/C10.pdf?half=b&look=mating&key=run&engine=idling&on=none"]) {
      const pdf = await request(app).get(`/api/vehicles/plover/versions/1/${path}`).expect(200).expect("Content-Type", /pdf/);
      expect((pdf.body as Buffer).subarray(0, 5).toString()).to.equal("%PDF-");
      expect((pdf.body as Buffer).length).to.be.above(15_000);
    }
  });
});
