import { expect } from "chai";
import { createHash, randomBytes } from "node:crypto";
import request from "supertest";
import type { Express } from "express";
import { problem } from "@rheonom/contract/problem";
import { jobLog } from "@rheonom/contract/api";
import { begun, earlierJobs, JOB_STAGES, jobList } from "@rheonom/contract/light";
import { REST_STATE, type Fault } from "@rheonom/core/circuit";
import { shownBy } from "@rheonom/core/diagnosis";
import { chainedLogSchema, checkChain, foldJob, reportSchema, STAGES, uuidV7, type JobEvent } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { FAN } from "../../../../packages/core/src/test/circuits.ts";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { readDemoJobs, seedDemo } from "../demo/seed.ts";
import { AppError, ERRORS, problemOf, type ErrorCode } from "../errors.ts";
import { collect } from "../test/collect.ts";
import { localApp, ROOT, type LocalApp } from "../test/local-app.ts";
import { createApp } from "./app.ts";

/** Tags of a page that are not closed in order. */
function unclosed(html: string): string[] {
  const open: string[] = [];
  for (const [, end, tag] of html.matchAll(/<(\/?)([a-z][a-z0-9]*)\b[^>]*>/g)) {
    if (["meta", "img", "br"].includes(tag!)) continue;
    if (end === "") open.push(tag!);
    else if (open.pop() !== tag) return [...open, `/${tag!}`];
  }
  return open;
}

describe("API", () => {
  let local: LocalApp;
  let app: Express;
  before(async () => {
    local = await localApp();
    app = local.app;
  });
  after(() => local.end());

  /** A job with a circuit that the server knows. */
  async function openedJob(): Promise<LogWriter> {
    const log = new LogWriter();
    // LogWriter numbers from one, so that each job needs ids of its own.
    for (let i = 0; i < counter; i++) log.id();
    counter += 60;
    Object.assign(log, { jobId: log.id() });
    await request(app).post("/api/jobs").send(log.add("job-opened", COMPLAINT)).expect(201);
    return log;
  }
  let counter = 1;
  const append = (log: LogWriter, ...events: JobEvent[]): request.Test =>
    request(app).post(`/api/jobs/${log.jobId}/events`).send({ events });

  describe("job log", () => {
    it("stores an event once however often it is posted", async () => {
      const log = await openedJob();
      await request(app).post("/api/jobs").send(log.events[0]!).expect(200);
      const reading = log.read("12.31", "F1.2");
      expect((await append(log, reading).expect(201)).body).to.deep.equal({ ids: [reading.id], stored: 1 });
      expect((await append(log, reading).expect(200)).body.stored).to.equal(0);
      expect((await append(log, reading, reading).expect(200)).body.stored).to.equal(0);
      const answer = jobLog.parse((await request(app).get(`/api/jobs/${log.jobId}`).expect(200)).body);
      expect(answer.events).to.deep.equal(log.events);
    });

    it("stores all of a posting or nothing", async () => {
      const log = await openedJob();
      const good = log.make("note-added", { text: "good" });
      const second = { ...log.make("note-added", { text: "again" }), id: log.events[0]!.id };
      await append(log, good, second).expect(409);
      const answer = await request(app).get(`/api/jobs/${log.jobId}`);
      expect(answer.body.events).to.have.length(1);
    });

    it("keeps the order of arrival, so that the fold is the same for everyone", async () => {
      const log = await openedJob();
      const notes = Array.from({ length: 30 }, (_, i) => log.make("note-added", { text: `note ${i}` }));
      const mixed = [...notes].reverse();
      await append(log, ...mixed).expect(201);
      const answer = await request(app).get(`/api/jobs/${log.jobId}`);
      expect(answer.body.events.slice(1).map((e: JobEvent) => e.id)).to.deep.equal(mixed.map((e) => e.id));
    });

    it("survives being closed and opened again", async () => {
      const log = await openedJob();
      await append(log, log.read("0.44 V", "F1.2")).expect(201);
      local = await local.reopen();
      app = local.app;
      const answer = jobLog.parse((await request(app).get(`/api/jobs/${log.jobId}`).expect(200)).body);
      expect(answer.events).to.deep.equal(log.events);
    });

    it("refuses to close a job with something left undone, and entries in a closed one", async () => {
      const log = await openedJob();
      const pulled = log.add("temporary-made", { kind: "pulled", at: "F1", to: "", note: "" });
      await append(log, pulled).expect(201);
      const close = log.make("job-closed", { safeToDrive: "yes", advice: "", withoutProof: "" });
      const refused = await append(log, close).expect(409);
      expect(refused.body.issues).to.deep.equal([
        { path: "tray", message: "F1 is still pulled. Put it back, or say why it stays in place." },
      ]);
      await append(log, log.add("temporary-undone", { target: pulled.id }), close).expect(201);
      await append(log, log.make("rules-chosen", { rules: "strict" })).expect(409);
    });

    it("lists jobs with stage and what is left undone", async () => {
      const log = await openedJob();
      await append(
        log,
        log.add("circuit-set", { notation: FAN }),
        log.add("temporary-made", { kind: "pulled", at: "F1", to: "", note: "" }),
      ).expect(201);
      const { jobs } = jobList.parse((await request(app).get("/api/jobs").expect(200)).body);
      expect(jobs.find((j) => j.id === log.jobId)).to.include({ stage: "trace", leftUndone: 1, vehicle: "Selwick Plover", demo: false });
    });
  });

  describe("what is kept beside the log", () => {
    const at = "2026-05-20T10:00:00.000Z";
    const state = { ...REST_STATE, key: "run" as const };
    const put = (id: string, body: object): request.Test => request(app).put(`/api/jobs/${id}/bench`).send(body);

    it("the bench of a job is found as it was left, and the board tells the next test until something more is entered", async () => {
      const log = await openedJob();
      await append(log, log.add("circuit-set", { notation: FAN })).expect(201);
      const bench = { at, by: "Inga", state, load: "FAN", next: "red on FAN.1", entries: 2 };
      await put(log.jobId, bench).expect(204);
      expect(jobLog.parse((await request(app).get(`/api/jobs/${log.jobId}`)).body).bench).to.deep.equal(bench);
      const row = async () => jobList.parse((await request(app).get("/api/jobs?limit=200")).body).jobs.find((j) => j.id === log.jobId);
      expect(await row()).to.include({ next: "red on FAN.1" });
      await append(log, log.read("12.1", "FAN.1")).expect(201);
      expect(await row()).to.include({ next: "" });
    });
    it("whose job it is and what it waits for are the last word; nobody named, it is whoever worked last", async () => {
      const log = await openedJob();
      const row = async (query = "") => jobList.parse((await request(app).get(`/api/jobs?limit=200${query}`)).body);
      const mine = async () => (await row()).jobs.find((j) => j.id === log.jobId);
      expect(await mine()).to.include({ whose: log.events[0]!.by, waits: "", until: "" });
      await append(log, log.add("planned", { whose: "Morag Quill", waits: "part", until: "2026-12-01" })).expect(201);
      expect(await mine()).to.include({ whose: "Morag Quill", waits: "part", until: "2026-12-01" });
      const hers = await row("&whose=Morag%20Quill");
      expect(hers.jobs.map((j) => j.id)).to.deep.equal([log.jobId]);
      expect(hers.people).to.include("Morag Quill");
      await append(log, log.add("return-watched", { until: "2026-12-24", distance: "500 km", what: "" })).expect(201);
      expect(await mine()).to.include({ askOn: "2026-12-24", askAfter: "500 km" });
      await append(log, log.add("return-watched", { until: "", distance: "", what: "" })).expect(201);
      expect(await mine()).to.include({ askOn: "", askAfter: "" });
    });
    it("gives the days of the shop as a calendar, in which no text begins a line of its own", async () => {
      const log = await openedJob();
      const days = async (): Promise<string[]> => {
        const { text, headers } = await request(app).get("/api/dates.ics").expect(200);
        expect(headers["content-type"]).to.match(/^text\/calendar/);
        const lines = text.replaceAll("\r\n ", "").split("\r\n");
        expect(lines.every((l) => l === "" || /^[A-Z-]+[:;]/.test(l))).to.equal(true);
        // Long lines are folded at 75 bytes.
        expect(text.split("\r\n").every((l) => Buffer.byteLength(l) <= 75)).to.equal(true);
        return lines
          .join("\n")
          .split("\nBEGIN:VEVENT\n")
          .filter((e) => e.includes(`UID:${log.jobId}`));
      };
      expect(await days()).to.deep.equal([]);
      const hostile = "seal kit; blue, 2 off\nEND:VEVENT\nBEGIN:VEVENT";
      await append(
        log,
        log.add("planned", { whose: "Morag Quill", waits: hostile, until: "2026-12-03" }),
        log.add("return-watched", { until: "2027-01-15", distance: "", what: "warning lamp in the wet" }),
      ).expect(201);
      const [wait, ask] = await days();
      expect(wait).to.include("DTSTART;VALUE=DATE:20261203").and.to.include("seal kit\\; blue\\, 2 off\\nEND:VEVENT\\nBEGIN:VEVENT");
      expect(ask)
        .to.include("DTSTART;VALUE=DATE:20270115")
        .and.to.include("warning lamp in the wet")
        .and.to.include(`/jobs/${log.jobId}/record`);
      await append(log, log.add("planned", { whose: "", waits: "", until: "" })).expect(201);
      expect(await days()).to.have.length(1);
    });
    it("a plate that was here before brings its vehicle, wiring and what was repaired, however it is typed", async () => {
      const log = await openedJob();
      const wiring = { id: "plover", version: 1, options: ["fridge"] };
      const change = { ...COMPLAINT, registration: "QX 17%", vin: "0NLSKERR0WT000001" };
      const struck = log.make("mend-made", { at: "F1", found: "x", cause: "", method: "fuse renewed", done: "x" });
      await append(
        log,
        log.add("complaint-changed", change),
        log.add("circuit-set", { notation: FAN, vehicle: wiring }),
        struck,
        log.add("struck", { target: struck.id, why: "mistaken" }),
        log.add("mend-made", { at: "C4.2", found: "green", cause: "", method: "contact cleaned", done: "cleaned" }),
      ).expect(201);
      const find = async (text: string) =>
        earlierJobs.parse(
          (
            await request(app)
              .get(`/api/earlier-jobs?find=${encodeURIComponent(text)}`)
              .expect(200)
          ).body,
        ).jobs;
      for (const typed of ["qx17%", "QX 1", " qx  17", "0nlskerr"]) {
        const [first] = await find(typed);
        expect(first, typed).to.deep.include({
          jobId: log.jobId,
          wiring: { id: "plover", options: ["fridge"] },
          repairs: ["C4.2: contact cleaned"],
        });
      }
      expect(await find("%%"), "a sign that means anything elsewhere is a sign here").to.deep.equal([]);
      await request(app).get("/api/earlier-jobs?find=q").expect(400);
    });
    it("a bench that is none is refused by its field, and one of no job too", async () => {
      const log = await openedJob();
      const bench = { at, by: "Inga", state, load: "", next: "", entries: 1 };
      expect((await put(log.jobId, { ...bench, state: { ...state, key: "sideways" } }).expect(400)).body.issues[0].path).to.equal(
        "state.key",
      );
      await put(log.jobId, { ...bench, at: "yesterday" }).expect(400);
      await put("0190a1b2-c3d4-7e5f-8a9b-000000000000", bench).expect(404);
    });
  });

  describe("bad input", () => {
    const NOBODY = "0190a1b2-c3d4-7e5f-8a9b-000000000000";
    const spoilt = async (send: () => request.Test, status: number, code: ErrorCode, message: RegExp): Promise<void> => {
      const answer = await send().expect(status);
      const said = problem.parse(answer.body);
      expect(said.code).to.equal(code);
      expect(`${said.message} ${said.issues.map((i) => `${i.path} ${i.message}`).join(" ")}`).to.match(message);
      expect(JSON.stringify(answer.body), "no stack trace").to.not.match(/\bat \w+ \(|node_modules|\.ts:\d/);
    };

    it("a body that is not JSON", () =>
      spoilt(() => request(app).post("/api/jobs").type("json").send('{"id": 12,'), 400, "body-not-json", /not JSON.*Nothing was stored/));
    it("a body that any web page could send", () =>
      spoilt(() => request(app).post("/api/jobs").type("text/plain").send("{}"), 415, "body-type", /application\/json/));
    it("a body of 4 MB", () =>
      spoilt(
        () =>
          request(app)
            .post("/api/jobs")
            .type("json")
            .send(JSON.stringify({ text: "x".repeat(4_000_000) })),
        413,
        "body-too-large",
        /larger than 1 MB/,
      ));
    it("a job id that does not exist", () =>
      spoilt(() => request(app).get(`/api/jobs/${NOBODY}`), 404, "job-not-found", /There is no job/));
    it("a job id that is none", () => spoilt(() => request(app).get("/api/jobs/17"), 400, "job-id-invalid", /UUIDs of version 7/));
    it("an address that leads nowhere", () => spoilt(() => request(app).get("/api/cars"), 404, "not-found", /\/api\/cars/));
    it("an event of an unknown type", async () => {
      const log = await openedJob();
      const odd = { ...log.make("note-added", { text: "x" }), type: "reading-guessed" };
      await spoilt(() => append(log, odd as unknown as JobEvent), 400, "event-unknown-type", /"reading-guessed".*reading-taken/);
    });
    it("an event with a field missing, named by its path", async () => {
      const log = await openedJob();
      const bare = { ...log.read("12", "F1.2"), by: "" };
      await spoilt(() => append(log, bare), 400, "body-invalid", /events\.0\.by/);
    });
    it("an event of another job", async () => {
      const [log, other] = [await openedJob(), await openedJob()];
      await spoilt(() => append(log, other.make("note-added", { text: "x" })), 400, "event-wrong-job", /another job/);
    });
    it("events for a job that nobody opened", () => {
      const log = new LogWriter();
      Object.assign(log, { jobId: NOBODY });
      return spoilt(() => append(log, log.make("note-added", { text: "x" })), 404, "job-not-found", /There is no job/);
    });
    it("an id that stands for something else already", async () => {
      const log = await openedJob();
      const note = log.add("note-added", { text: "one" });
      await append(log, note).expect(201);
      await spoilt(() => append(log, { ...note, data: { text: "two" } } as JobEvent), 409, "event-id-reused", new RegExp(note.id));
    });
    it("more events than one posting takes", async () => {
      const log = await openedJob();
      await spoilt(
        () => append(log, ...Array.from({ length: 201 }, () => log.make("note-added", { text: "x" }))),
        400,
        "body-invalid",
        /200/,
      );
    });
    it("a failure inside, told without detail", async () => {
      const broken = createApp({
        ...local.parts,
        store: { ...local.store, listJobs: () => Promise.reject(new Error("secret /etc/path")) },
      });
      const answer = await request(broken).get("/api/jobs").expect(500);
      expect(answer.text).to.not.contain("secret");
      expect(answer.body.message).to.match(/log says more under [0-9a-f]{8}/);
    });
  });

  describe("record", () => {
    before(() => seedDemo(local.store, ROOT, new Date()));
    it("comes as JSON by its schema and as a PDF that holds drawings and text", async () => {
      const closed = readDemoJobs(ROOT).find((j) => j.events.some((e) => e.type === "job-closed"))!;
      const id = closed.events[0]!.jobId;
      const json = await request(app).get(`/api/jobs/${id}/report.json`).expect(200);
      const report = reportSchema.parse(json.body);
      expect(report.proof.outcome).to.equal("proven");
      const pdf = await request(app)
        .get(`/api/jobs/${id}/report.pdf`)
        .buffer(true)
        .parse(collect)
        .expect(200)
        .expect("content-type", /application\/pdf/);
      const bytes = pdf.body as Buffer;
      expect(bytes.subarray(0, 5).toString("latin1")).to.equal("%PDF-");
      expect(bytes.length).to.be.above(20_000);
      // Bookmarks, one for each part.
      expect(bytes.toString("latin1").match(/\/Dest|\/A <</g)?.length ?? 0).to.be.at.least(4);
      expect(bytes.toString("latin1")).to.match(/\/Outlines \d+ 0 R/);
      expect(bytes.toString("latin1").match(/\/Type \/Page\b/g)!.length).to.be.within(2, 8);
    });

    it("comes as pages in one HTML file each, with all that stands on paper, well formed, and without anything to fetch or run", async () => {
      const closed = readDemoJobs(ROOT).find((j) => j.events.some((e) => e.type === "job-closed"))!;
      const id = closed.events[0]!.jobId;
      for (const name of ["report", "customer"]) {
        const { text } = await request(app)
          .get(`/api/jobs/${id}/${name}.html`)
          .expect(200)
          .expect("content-type", /text\/html/);
        expect(unclosed(text)).to.deep.equal([]);
        expect(text).not.to.match(/<script|\son[a-z]+=|(src|href)="(?!data:)/i);
        expect(text).to.match(/<h1>/).and.to.match(/<h2>/);
      }
      const { text } = await request(app).get(`/api/jobs/${id}/report.html`);
      const report = reportSchema.parse((await request(app).get(`/api/jobs/${id}/report.json`)).body);
      for (const said of [report.complaint.words, ...report.readings.map((r) => r.text), ...report.mends.map((m) => m.done)])
        expect(text.replaceAll("\u00a0", " ").replaceAll("&#39;", "'")).to.include(said);
      expect(text.match(/data:image\/svg/g)!.length).to.be.at.least(2);
      const redactedCopy = await request(app).get(`/api/jobs/${id}/report.html?copy=redacted`).expect(200);
      expect(redactedCopy.text).not.to.include(report.complaint.registration);
    });
    it("lets no text of a job become markup", async () => {
      const log = await openedJob();
      const evil = `<script>alert(1)</script> "quoted" & <img src=x onerror=alert(1)>`;
      await append(
        log,
        log.add("complaint-changed", { ...COMPLAINT, words: evil, vehicle: evil.slice(0, 60) }),
        log.add("note-added", { text: evil }),
      ).expect(201);
      for (const name of ["report", "customer"]) {
        const { text } = await request(app).get(`/api/jobs/${log.jobId}/${name}.html`).expect(200);
        expect(text).not.to.match(/<script|<img src=x/);
        expect(unclosed(text)).to.deep.equal([]);
      }
      expect((await request(app).get(`/api/jobs/${log.jobId}/estimate.html`).expect(409)).body.code).to.equal("estimate-missing");
    });

    it("is made of a job without a circuit too", async () => {
      const log = await openedJob();
      await request(app).get(`/api/jobs/${log.jobId}/report.pdf`).expect(200);
      expect((await request(app).get(`/api/jobs/${log.jobId}/report.json`).expect(200)).body.circuit).to.equal(null);
    });
  });

  describe("ways to begin", () => {
    it("a practice job has a circuit, a complaint and a fault that its simulated vehicle obeys", async () => {
      const { jobId } = begun.parse(
        (
          await request(app)
            .post("/api/practice")
            .send({ by: "Inga", vehicle: { from: "bench", id: "rig-lamps" }, family: "open" })
            .expect(201)
        ).body,
      );
      const { simulated, events } = jobLog.parse((await request(app).get(`/api/jobs/${jobId}`).expect(200)).body);
      expect(simulated).to.equal(true);
      const view = foldJob(events)!;
      expect(view.complaint.words).to.match(/\w+ .*\.$/);
      const harness = parseNotation(view.circuit!.notation).harness!;
      expect(view.seen.length).to.be.above(0);
      for (const s of view.seen) {
        const o = s.data.observe;
        expect(o.kind === "part" && harness.components.some((c) => c.id === o.part), JSON.stringify(o)).to.equal(true);
      }
      // What the customer says is so on the vehicle with its fault, and not on a sound one.
      const { truth } = await local.store.readJobWithTruth(jobId);
      const said = view.seen.find((x) => x.data.wrong)!.data;
      const shows = (faults: readonly Fault[]) => shownBy(harness, { state: said.state, observe: said.observe }, faults);
      expect(shows(truth!)).to.not.deep.equal(shows([]));
    });
    it("the finished job comes once", async () => {
      const ask = async () => begun.parse((await request(app).post("/api/samples/finished").send({}).expect(201)).body);
      const [first, second] = [await ask(), await ask()];
      expect(second).to.deep.equal(first);
      expect(jobLog.parse((await request(app).get(`/api/jobs/${first.jobId}`)).body).events.at(-1)?.type).to.equal("job-closed");
    });
    it("a job's log is chained entry by entry, whoever posts it and however often, and the report prints the last hash", async () => {
      const { jobId } = begun.parse((await request(app).post("/api/samples/finished").send({}).expect(201)).body);
      const sha256 = (text: string): string => createHash("sha256").update(text, "utf8").digest("hex");
      const saved = chainedLogSchema.parse((await request(app).get(`/api/jobs/${jobId}/log.json`).expect(200)).body);
      const found = await checkChain(saved, sha256);
      expect(found).to.deep.include({ kind: "fits", unchained: 0 });
      const log = jobLog.parse((await request(app).get(`/api/jobs/${jobId}`)).body);
      expect(saved.entries.map((e) => e.id)).to.deep.equal(log.events.map((e) => e.id));
      expect(log.hash).to.equal(saved.entries.at(-1)!.hash);
      const note = {
        id: uuidV7(Date.now(), randomBytes(10)),
        jobId,
        at: "2026-05-18T10:00:00.000Z",
        by: "Inga",
        type: "note-added",
        data: { text: "Σ later" },
      };
      for (const status of [201, 200]) {
        const answer = await request(app)
          .post(`/api/jobs/${jobId}/events`)
          .send({ events: [note] });
        expect(answer.status, JSON.stringify(answer.body)).to.equal(status);
      }
      const after = chainedLogSchema.parse((await request(app).get(`/api/jobs/${jobId}/log.json`)).body);
      expect(after.entries).to.have.length(saved.entries.length + 1);
      expect(await checkChain(after, sha256)).to.include({ kind: "fits" });
      const report = (await request(app).get(`/api/jobs/${jobId}/report.json`).expect(200)).body as { job: { chainHash: string } };
      expect(report.job.chainHash).to.equal(after.entries.at(-1)!.hash);
    });
    it("a redacted copy of what is handed over leaves the plate out", async () => {
      const { jobId } = begun.parse((await request(app).post("/api/samples/finished").send({}).expect(201)).body);
      const { complaint } = (await request(app).get(`/api/jobs/${jobId}/report.json`)).body as { complaint: { registration: string } };
      const plate = complaint.registration;
      expect(plate).to.not.equal("");
      expect((await request(app).get(`/api/jobs/${jobId}/report.json?copy=redacted`)).text).to.not.contain(plate);
      // It stands in the title of these two, which a PDF holds as UTF-16, big end first.
      const inTitle = Buffer.from(plate, "utf16le").swap16();
      for (const name of ["customer", "estimate"]) {
        const paper = async (query: string): Promise<Buffer> =>
          (await request(app).get(`/api/jobs/${jobId}/${name}.pdf${query}`).expect(200).buffer(true)).body as Buffer;
        expect((await paper("")).includes(inTitle), name).to.equal(true);
        expect((await paper("?copy=redacted")).includes(inTitle), `${name}, redacted`).to.equal(false);
      }
    });
    it("the finished job is handed over on three papers: for the customer on one page, the estimate, and the whole record", async () => {
      const { jobId } = begun.parse((await request(app).post("/api/samples/finished").send({}).expect(201)).body);
      const pages = async (name: string): Promise<number> => {
        const { body } = await request(app).get(`/api/jobs/${jobId}/${name}.pdf`).expect(200).expect("content-type", /pdf/).buffer(true);
        return (body as Buffer).toString("latin1").match(/\/Type \/Page\b/g)?.length ?? 0;
      };
      expect(await pages("customer")).to.equal(1);
      expect(await pages("estimate")).to.equal(1);
      expect(await pages("report")).to.be.above(1);
      const log = await openedJob();
      const refused = problem.parse((await request(app).get(`/api/jobs/${log.jobId}/estimate.pdf`).expect(409)).body);
      expect(refused.message).to.match(/no estimate yet/);
    });
  });

  describe("description", () => {
    it("is OpenAPI 3.1 whose references resolve and whose paths the server knows", async () => {
      const { body } = await request(app).get("/api/openapi.json").expect(200);
      expect(body.openapi).to.equal("3.1.0");
      const refs = [...JSON.stringify(body).matchAll(/"\$ref":"#\/components\/schemas\/([^"]+)"/g)].map((m) => m[1]!);
      expect(refs).to.include.members(["Problem", "AppendEvents", "JobList", "Report"]);
      for (const name of refs) expect(body.components.schemas).to.have.property(name);
      for (const [path, operations] of Object.entries(body.paths as Record<string, object>)) {
        if (!("get" in operations)) continue;
        const answer = await request(app).get(path.replace("{id}", "0190a1b2-c3d4-7e5f-8a9b-000000000000"));
        expect(answer.body.code, path).to.not.equal("not-found");
      }
    });
  });

  it("describes every address that it answers", async () => {
    const { body } = await request(app).get("/api/openapi.json").expect(200);
    const described = new Set(
      Object.entries(body.paths as Record<string, object>).flatMap(([path, operations]) =>
        Object.keys(operations).map((m) => `${m} ${path}`),
      ),
    );
    const routes = routesOf((app as unknown as { readonly router: Layers }).router).filter((r) => r.includes("/api/") || !r.includes("{"));
    expect(routes.length).to.be.greaterThan(30);
    const own = ["get /api/openapi.json", "get /{*path}"];
    expect(routes.filter((r) => !described.has(r) && !own.includes(r))).to.deep.equal([]);
  });

  it("knows the stages of a job that core knows", () => expect(JOB_STAGES).to.deep.equal([...STAGES, "closed"]));

  describe("error table", () => {
    it("has words for every code, and facts fill every gap", () => {
      for (const code of Object.keys(ERRORS) as ErrorCode[]) {
        const gaps = [...ERRORS[code].message.matchAll(/\{(\w+)\}/g)].map((m) => m[1]!);
        const { status, body } = problemOf(new AppError(code, Object.fromEntries(gaps.map((g) => [g, "fact"]))));
        expect(status).to.be.within(400, 599);
        expect(body.message).to.not.match(/[{}]|undefined/);
      }
    });
  });

  it("sets headers that keep foreign scripts out", async () => {
    const answer = await request(app).get("/api/health").expect(200);
    expect(answer.headers["content-security-policy"]).to.contain("default-src 'none'");
    expect(answer.headers["cross-origin-resource-policy"]).to.equal("same-origin");
    expect(answer.headers["x-powered-by"]).to.equal(undefined);
  });
});

interface Layers {
  readonly stack: readonly {
    readonly route?: { readonly path: string; readonly methods: Readonly<Record<string, boolean>> };
    readonly handle: Partial<Layers>;
  }[];
}

/** "get /api/jobs/{id}" for every route of a router and those below it, all of which hang below /api. */
const routesOf = ({ stack }: Layers): readonly string[] =>
  stack.flatMap(({ route, handle }) => {
    if (handle.stack !== undefined && route === undefined) return routesOf({ stack: handle.stack });
    if (route === undefined) return [];
    const path = route.path.startsWith("/api") || route.path.includes("*") ? route.path : `/api${route.path}`;
    return Object.keys(route.methods).map((m) => `${m} ${path.replace(/:(\w+)/g, "{$1}")}`);
  });
