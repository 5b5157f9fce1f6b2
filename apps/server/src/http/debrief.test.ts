import { expect } from "chai";
import request from "supertest";
import { debrief, learning, practiceClass, practiceMenu } from "@rheonom/contract/practice";
import { begun, looked } from "@rheonom/contract/light";
import { catalogueOf } from "@rheonom/core/faults";
import { WIRE_COLOUR } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { displayText, predictReading } from "@rheonom/core/instruments";
import { asBuilt, placesOfFault, type Misdrawn } from "@rheonom/core/practice";
import { askedOfJob, foldJob } from "@rheonom/core/job";
import { jobLog } from "@rheonom/contract/api";
import { FAN, fanOn } from "../../../../packages/core/src/test/circuits.ts";
import { parseNotation, printNotation } from "@rheonom/core/notation";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import type { AppError } from "../errors.ts";
import { standInOf } from "../link/stand-in-of.ts";
import { localApp, localHeavy, ROOT, type LocalApp } from "../test/local-app.ts";

describe("the debrief of a practice job", () => {
  // One for all: two would make the same ids.
  const log = new LogWriter();
  let local: LocalApp;
  before(async () => {
    local = await localApp();
  });
  after(() => local.end());
  const get = (path: string) => request(local.app).get(path);
  const post = (jobId: string, ...of: readonly (readonly [string, object])[]) =>
    request(local.app)
      .post(`/api/jobs/${jobId}/events`)
      .send({ events: of.map(([type, data]) => ({ ...log.make(type as never, data as never), jobId })) });
  const begin = async (more: object = {}): Promise<string> =>
    begun.parse(
      (
        await request(local.app)
          .post("/api/practice")
          .send({ by: "Inga", vehicle: { from: "bench", id: "rig-horn" }, family: "open", difficulty: 0.2, ...more })
          .expect(201)
      ).body,
    ).jobId;

  it("tells nothing of what is wrong while the job is open, in no answer", async () => {
    const id = await begin();
    const { truth, world } = await local.store.readJobWithTruth(id);
    const refused = await get(`/api/jobs/${id}/debrief`).expect(409);
    expect(refused.body.code).to.equal("practice-open");
    // The fault as it is kept, and each of its own properties beside its name, stand nowhere.
    const answers = await Promise.all(
      [
        `/api/jobs/${id}`,
        "/api/jobs",
        `/api/jobs/${id}/log.json`,
        `/api/jobs/${id}/report.json`,
        `/api/jobs/${id}/similar`,
        `/api/jobs/${id}/debrief`,
        `/api/jobs/${id}/readings.csv`,
        "/api/practice",
        "/api/practice/class",
        "/api/practice/learning?by=Inga",
        "/api/practice/results.csv",
        "/api/earlier-jobs?find=practice",
      ].map(async (path) => {
        const { body, text } = await get(path);
        return text ?? JSON.stringify(body);
      }),
    );
    expect(answers.every((a) => a.length > 2)).to.equal(true);
    for (const answer of answers) {
      expect(answer).to.not.contain(JSON.stringify(truth));
      expect(answer).to.not.contain(JSON.stringify(truth![0]));
      expect(answer).to.not.contain('"truth"');
      // Nor what it could be made anew from, nor of which kind it is.
      expect(answer).to.not.contain('"seed"');
      expect(answer).to.not.contain('"family":"open"');
      expect(answer).to.not.contain(String(world!.seed));
    }
  });

  it("is there once it is closed: what was wrong, what was repaired in vain, and what the evidence gave it", async () => {
    const id = await begin();
    const { truth } = await local.store.readJobWithTruth(id);
    const view = foldJob(jobLog.parse((await get(`/api/jobs/${id}`)).body).events)!;
    const harness = parseNotation(view.circuit!.notation).harness!;
    const [right] = placesOfFault(harness, truth![0]!);
    const wrong = harness.wires.find((w) => !placesOfFault(harness, truth![0]!).includes(w.id) && !right!.startsWith(w.id))!.id;
    const { state } = view.seen.find((s) => s.data.wrong)!.data;
    const fault = { type: "open circuit" };
    const mend = (at: string, method: string) => ["mend-made", { at, found: "x", cause: "", method, done: "x", fault }] as const;
    const reading = {
      leads: { quantity: "volts", red: "BAT.+", black: "BAT.-" },
      state,
      load: "",
      text: "12.60 V",
      shown: { kind: "value", quantity: "volts", value: 12.6 },
      instrument: "typed",
    };
    await post(id, ["reading-taken", reading], mend(wrong, "wire joined"), mend(right!, "part renewed")).expect(201);
    await post(id, ["job-closed", { safeToDrive: "yes", advice: "", withoutProof: "practice" }]).expect(201);
    const told = debrief.parse((await get(`/api/jobs/${id}/debrief`).expect(200)).body);
    expect((await get(`/api/jobs/${id}/debrief/progress`).expect(200)).body).to.deep.equal({ share: 0 });
    expect(told.isFound).to.equal(true);
    expect(told.truth).to.have.length(truth!.length);
    expect(told.acts.map((a) => [a.at, a.isRight, a.after])).to.deep.equal([
      [wrong, false, 1],
      [right, true, 1],
    ]);
    expect(told.steps).to.have.length(1);
    expect(told.mine.tests).to.equal(1);
    expect(told.lessons[0]).to.contain(wrong);
    expect(told.plan!.tests).to.be.above(0);
    expect(told.world).to.include({ family: "open", presence: 1 });
    const points = new Map(told.score.rows.map((r) => [r.id, r.points]));
    expect(points.get("found")).to.equal(30);
    expect(points.get("proof"), "closed without verifying").to.equal(0);
    expect(told.score.cost.parts).to.deep.equal([right]);
    expect(told.score.cost.partsHours).to.be.above(0);
    // It counts for whoever closed it, once: opening it again and finding what was told changes nothing.
    const counted = async () =>
      learning.parse((await get("/api/practice/learning?by=Inga").expect(200)).body).results.filter((r) => r.jobId === id);
    const [first] = await counted();
    expect(first).to.include({ family: "open", isFound: true, score: told.score.total });
    await post(id, ["job-reopened", { why: "again" }], ["job-closed", { safeToDrive: "yes", advice: "", withoutProof: "given up" }]).expect(
      201,
    );
    await get(`/api/jobs/${id}/debrief`).expect(200);
    expect(await counted()).to.deep.equal([first]);
    // A class weighs as it likes; what was counted stays.
    const shop = (await get("/api/shop").expect(200)).body as object;
    const put = (points: object) =>
      request(local.app)
        .put("/api/shop")
        .send({ ...shop, points });
    await put({ found: -1 }).expect(400);
    await put({ found: 0, remedy: 0, minutes: 0, evidence: 0, parts: 0, harm: 0, reference: 0, proof: 40, putBack: 0, record: 0 }).expect(
      200,
    );
    const again = debrief.parse((await get(`/api/jobs/${id}/debrief`).expect(200)).body);
    expect(again.score.rows.find((r) => r.id === "proof")).to.include({ points: 0, most: 100 });
    expect(again.score.total).to.equal(0);
    const { points: menu } = practiceMenu.parse((await get("/api/practice").expect(200)).body);
    expect(menu.find((p) => p.id === "proof")).to.include({ usual: 5, here: 40 });
    expect(await counted()).to.deep.equal([first]);
    await request(local.app).put("/api/shop").send(shop).expect(200);
    // And on with the same kind, on this vehicle or another one.
    for (const how of ["more", "elsewhere"]) {
      const { jobId } = begun.parse(
        (
          await request(local.app)
            .post("/api/practice")
            .send({ by: "Inga", like: { job: id, how } })
            .expect(201)
        ).body,
      );
      const { world } = await local.store.readJobWithTruth(jobId);
      expect(world!.family).to.equal("open");
      expect(world!.vehicle === "rig-horn").to.equal(how === "more");
    }
  });

  it("begins again from a step with the same fault, which counts for nothing, and makes a fault of the shop's own into practice", async () => {
    const id = await begin({ seed: 3 });
    const { truth } = await local.store.readJobWithTruth(id);
    const { state } = foldJob(jobLog.parse((await get(`/api/jobs/${id}`)).body).events)!.seen.find((s) => s.data.wrong)!.data;
    const reading = (red: string) =>
      [
        "reading-taken",
        {
          leads: { quantity: "volts", red, black: "BAT.-" },
          state,
          load: "",
          text: "12.60 V",
          shown: { kind: "value", quantity: "volts", value: 12.6 },
          instrument: "typed",
        },
      ] as const;
    const practise = (body: object) =>
      request(local.app)
        .post("/api/practice")
        .send({ by: "Inga", ...body });
    await practise({ again: { job: id, before: log.id() } }).expect(409);
    await post(id, reading("BAT.+"), reading("F1.2"), ["job-closed", { safeToDrive: "no", advice: "", withoutProof: "given up" }]).expect(
      201,
    );
    const told = debrief.parse((await get(`/api/jobs/${id}/debrief`).expect(200)).body);
    const { jobId } = begun.parse((await practise({ again: { job: id, before: told.steps[1]!.entry } }).expect(201)).body);
    const view = foldJob(jobLog.parse((await get(`/api/jobs/${jobId}`)).body).events)!;
    expect([view.readings.length, view.closed, view.practice?.advice]).to.deep.equal([1, undefined, "on"]);
    const hidden = await local.store.readJobWithTruth(jobId);
    expect(hidden.truth).to.deep.equal(truth);
    await post(jobId, ["job-closed", { safeToDrive: "no", advice: "", withoutProof: "given up" }]).expect(201);
    await get(`/api/jobs/${jobId}/debrief`).expect(200);
    const { results } = learning.parse((await get("/api/practice/learning?by=Inga").expect(200)).body);
    expect(results.map((r) => r.jobId)).to.not.include(jobId);
    // A real job of the shop, repaired at a wire.
    const real = log.id();
    const opened = log.make("job-opened", { ...COMPLAINT, vehicle: "Van of Aud Myre", registration: "SKV 9" });
    await request(local.app)
      .post("/api/jobs")
      .send({ ...opened, jobId: real })
      .expect(201);
    await post(
      real,
      ["circuit-set", { notation: FAN }],
      ["seen", { state: fanOn, observe: { kind: "part", part: "FAN" }, word: "none", wrong: true }],
      ["mend-made", { at: "F1", found: "x", cause: "", method: "fuse renewed", done: "x" }],
      ["job-closed", { safeToDrive: "yes", advice: "", withoutProof: "customer waits" }],
    ).expect(201);
    const own = begun.parse((await practise({ ofJob: real }).expect(201)).body).jobId;
    const whole = JSON.stringify((await get(`/api/jobs/${own}`)).body);
    expect(whole).to.not.match(/Aud Myre|SKV 9/);
    expect(JSON.stringify((await local.store.readJobWithTruth(own)).truth)).to.contain("F1");
  });

  it("lets eyes and hands work on the simulated vehicle, and refuses what no vehicle can be asked", async () => {
    const id = await begin({ seed: 3 });
    const view = foldJob(jobLog.parse((await get(`/api/jobs/${id}`)).body).events)!;
    const { state, observe, word } = view.seen.find((s) => s.data.wrong)!.data;
    const look = (body: object) => request(local.app).post(`/api/jobs/${id}/simulated-look`).send(body);
    const seen = looked.parse((await look({ state, observe }).expect(200)).body);
    expect(seen.word).to.equal(word);
    const swapped = looked.parse((await look({ state, observe: { kind: "wiggle", at: "C1" } }).expect(200)).body);
    expect(swapped.word).to.be.oneOf(["moves", "steady"]);
    await look({ state, observe: { kind: "look" } }).expect(400);
    await request(local.app).post(`/api/jobs/${id}/simulated-look`).send({ state, observe, truth: true }).expect(400);
  });

  it("has a fault only after some minutes of tests, where somebody chose that", async () => {
    const first = await begin({ seed: 3 });
    const log0 = jobLog.parse((await get(`/api/jobs/${first}`)).body);
    const { state, observe, word } = foldJob(log0.events)!.seen.find((s) => s.data.wrong)!.data;
    const harness = parseNotation(foldJob(log0.events)!.circuit!.notation).harness!;
    const { truth } = await local.store.readJobWithTruth(first);
    const hidden = JSON.stringify(truth![0]);
    const [supposed] = catalogueOf(harness).flatMap((f) =>
      f.severities.filter((s) => JSON.stringify(f.faultAt(s)) === hidden).map((severity) => ({ id: f.id, severity })),
    );
    const id = await begin({ faults: { options: [], supposed: [supposed], state, afterMinutes: 5 } });
    const view = foldJob(jobLog.parse((await get(`/api/jobs/${id}`)).body).events)!;
    await post(first, ["clock-turned", { running: false }]).expect(201);
    const { open } = practiceClass.parse((await get("/api/practice/class").expect(200)).body);
    expect(open.find((o) => o.jobId === first)?.by, "whose it is, whoever made the last entry").to.equal("Inga");
    expect([first, id].map((j) => open.find((o) => o.jobId === j)?.isStopped)).to.deep.equal([true, false]);
    expect(view.presence, "told as one that comes and goes").to.equal(0.5);
    const look = async (): Promise<unknown> =>
      looked.parse((await request(local.app).post(`/api/jobs/${id}/simulated-look`).send({ state, observe }).expect(200)).body).word;
    expect(await look()).to.not.equal(word);
    const at = { leads: { quantity: "volts", red: "BAT.+", black: "BAT.-" }, state, load: "", text: "12.6", instrument: "typed" };
    const shown = { kind: "value", quantity: "volts", value: 12.6 };
    for (let n = 0; n < 12; n++) await post(id, ["reading-taken", { ...at, shown }]).expect(201);
    expect(await look()).to.equal(word);
  });

  it("is on a vehicle that is not as its diagram in one place, where that was asked for: leads, eyes and what is told in the end go by the vehicle", async () => {
    const id = await begin({ vehicle: { from: "bench", id: "rig-lock" }, difficulty: 0.5, seed: 1, misdrawn: true });
    const { world, truth } = await local.store.readJobWithTruth(id);
    expect(world?.misdrawn?.kind).to.equal("cavities");
    const { connector, cavities } = world!.misdrawn as Extract<Misdrawn, { kind: "cavities" }>;
    const open = await get(`/api/jobs/${id}`);
    expect(open.text).to.not.contain("misdrawn");
    const view = foldJob(jobLog.parse(open.body).events)!;
    const drawn = parseNotation(view.circuit!.notation).harness!;
    const vehicle = asBuilt(drawn, world!.misdrawn);
    const state = { ...view.seen.find((s) => s.data.wrong)!.data.state, key: "run" as const };
    const leads = cavities.flatMap((c) =>
      ["a", "b"].map((side) => ({ quantity: "volts" as const, red: `${connector}.${c}${side}`, black: "BAT.-" })),
    );
    const read = async () =>
      Promise.all(
        leads.map(
          async (l) => (await request(local.app).post(`/api/jobs/${id}/simulated-reading`).send({ state, leads: l }).expect(200)).body.text,
        ),
      );
    const told = (on: Harness) =>
      leads.map((l) => {
        const shown = predictReading(on, state, [...truth!, ...world!.beside], l);
        return shown.kind === "value" ? displayText("volts", shown.value) : shown.kind;
      });
    expect(told(vehicle), "the two can be told apart").to.not.deep.equal(told(drawn));
    expect(await read()).to.deep.equal(told(vehicle));
    // Whoever writes the diagram anew changes no vehicle.
    await post(id, ["circuit-set", { notation: printNotation(vehicle) }]).expect(201);
    expect(await read()).to.deep.equal(told(vehicle));
    await post(id, ["circuit-set", { notation: view.circuit!.notation }]).expect(201);
    // Eyes miss one of ten.
    const colour = async (at: string) =>
      Promise.all(
        Array.from({ length: 9 }, async () => {
          const observe = { kind: "check", at, what: WIRE_COLOUR };
          return (await request(local.app).post(`/api/jobs/${id}/simulated-look`).send({ state, observe }).expect(200)).body.word;
        }),
      );
    expect(await colour(leads[0]!.red)).to.include("otherwise");
    const right = drawn.components.find((c) => c.kind === "connector" && c.id !== connector)!.id;
    expect(new Set(await colour(`${right}.1a`))).to.deep.equal(new Set(["as it should be"]));
    const at = placesOfFault(drawn, truth![0]!)[0]!;
    const reading = {
      leads: leads[0],
      state,
      load: "",
      text: "0.02",
      shown: { kind: "value", quantity: "volts", value: 0.02 },
      instrument: "simulated",
    };
    await post(
      id,
      ["reading-taken", reading],
      ["mend-made", { at, found: "broken", cause: "bent too often", method: "wire joined", done: "a new piece crimped in" }],
      ["job-closed", { safeToDrive: "yes", advice: "", withoutProof: "not tried" }],
    ).expect(201);
    const made = debrief.parse((await get(`/api/jobs/${id}/debrief`).expect(200)).body);
    expect(made.world?.misdrawn).to.contain(`wrong at ${connector}`);
    expect(made.lessons[0]).to.contain("another colour than drawn");
  });

  it("goes without what may not be used: no reading, no recording, no line to it", async () => {
    const id = await begin({ without: ["clamp", "scope", "known-good parts"], seed: 3 });
    const log0 = jobLog.parse((await get(`/api/jobs/${id}`)).body);
    const view = foldJob(log0.events)!;
    expect(view.practice?.without).to.deep.equal(["clamp", "scope", "known-good parts"]);
    const harness = parseNotation(view.circuit!.notation).harness!;
    const asked = askedOfJob(harness, view, "HRN", fanOn);
    expect(asked.instruments).to.include("meter").and.not.include("clamp");
    const { state } = view.seen.find((s) => s.data.wrong)!.data;
    const ask = (path: string, body: object) => request(local.app).post(`/api/jobs/${id}/simulated-${path}`).send(body);
    await ask("reading", { state, leads: { quantity: "volts", red: "BAT.+", black: "BAT.-" } }).expect(200);
    const refused = await Promise.all([
      ask("reading", { state, leads: { quantity: "amps", around: "W2" } }).expect(409),
      ask("look", { state, observe: { kind: "swap", part: "HRN" } }).expect(409),
      ask("capture?as=01890000-0000-7000-8000-000000000001", {
        state,
        probes: [{ at: { red: "BAT.+", black: "BAT.-" }, probe: 1 }],
        seconds: 0.01,
        rateHz: 1000,
      }).expect(409),
    ]);
    expect(refused.map((r) => r.body.code)).to.deep.equal(["practice-tool", "practice-tool", "practice-tool"]);
    expect(refused[0]!.body.message).to.contain("no clamp");
    // Nor is a simulated scope started for it.
    const parts = { store: local.store, heavy: localHeavy, root: ROOT, standIns: { of: () => expect.fail("was started") } as never };
    const line = await standInOf(id, "scope", parts).catch((error: unknown) => error);
    expect((line as AppError).code).to.equal("practice-tool");
    await request(local.app)
      .post("/api/practice")
      .send({ by: "Inga", without: ["x-ray"] })
      .expect(400);
  });

  it("is made of what is asked for, and says why it cannot be", async () => {
    const practise = (body: object) =>
      request(local.app)
        .post("/api/practice")
        .send({ by: "Inga", ...body });
    const menu = practiceMenu.parse((await get("/api/practice").expect(200)).body);
    expect(menu.vehicles.map((v) => v.id)).to.include.members(["rig-horn", "plover"]);
    expect(menu.ready.length).to.be.at.least(200);
    // Which fault it is does not stand in the menu.
    expect(JSON.stringify(menu.ready)).to.not.match(/"seed"|"family"/);
    const horn = { vehicle: { from: "bench", id: "rig-horn" } };
    const answers = await Promise.all([
      practise({ ...horn, family: "no crank" }).expect(409),
      practise({ ...horn, family: "gremlins" }).expect(400),
      practise({ vehicle: { from: "shop", id: "nowhere" } }).expect(404),
      practise({ ready: "of-an-older-version" }).expect(404),
      practise({ like: { job: await begin(), how: "more" } }).expect(409),
    ]);
    expect(answers.map((a) => a.body.code)).to.deep.equal([
      "practice-nothing",
      "practice-family",
      "vehicle-not-found",
      "practice-unknown",
      "practice-open",
    ]);
    await practise({ seed: -1 }).expect(400);
    await practise({ difficulty: 7 }).expect(400);
    const ready = menu.ready.find((r) => r.vehicle === "rig-horn")!;
    const { jobId } = begun.parse((await practise({ ready: ready.id, advice: "off" }).expect(201)).body);
    const view = foldJob(jobLog.parse((await get(`/api/jobs/${jobId}`)).body).events)!;
    expect(view.complaint.words).to.equal(ready.words);
    expect(view.practice).to.include({ advice: "off", asked: 0 });
  });

  it("is none of a real job", async () => {
    await request(local.app).post("/api/jobs").send(log.add("job-opened", COMPLAINT)).expect(201);
    expect((await get(`/api/jobs/${log.jobId}/debrief`).expect(409)).body.code).to.equal("no-stand-in");
  });
});
