import { mkdtempSync, rmSync } from "node:fs";
import { createSocket } from "node:dgram";
import { connect } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import { expect } from "chai";
import { WebSocket } from "ws";
import { REST_STATE } from "@rheonom/core/circuit";
import { COMPLAINT, LogWriter } from "../../../packages/core/src/test/log.ts";
import { ask, sendRaw, upgradeRequest, type RawAnswer } from "./test/hostile.ts";
import { startServer, type RunningServer } from "./test/server-process.ts";

const JSON_BODY = { "content-type": "application/json" };

describe("whatever a client sends", () => {
  const folder = mkdtempSync(join(tmpdir(), "rheonom-hostile-"));
  const log = new LogWriter();
  let server: RunningServer;
  let port: number;
  before(async () => {
    server = await startServer(folder);
    port = Number(new URL(server.url).port);
    expect((await post("/api/jobs", log.add("job-opened", COMPLAINT))).status).to.equal(201);
  });
  after(async () => {
    await server.kill();
    rmSync(folder, { recursive: true, force: true });
  });
  // Whatever came: the same process answers, and so does everything that everybody looks at.
  afterEach(async () => {
    const health = await ask(`${server.url}/api/health`);
    expect(JSON.parse(health.body)).to.include({ pid: server.process.pid });
    for (const path of ["/api/jobs", `/api/jobs/${log.jobId}`, `/api/jobs/${log.jobId}/report.json`, "/api/vehicles"])
      expect((await ask(`${server.url}${path}`)).status, path).to.equal(200);
  });

  const post = (path: string, body: unknown): Promise<RawAnswer> =>
    ask(`${server.url}${path}`, { method: "POST", headers: JSON_BODY, body: typeof body === "string" ? body : JSON.stringify(body) });
  const append = (...events: unknown[]): Promise<RawAnswer> => post(`/api/jobs/${log.jobId}/events`, { events });
  const codeOf = (answer: RawAnswer): string => `${answer.status} ${(JSON.parse(answer.body) as { code: string }).code}`;

  it("an upgrade to // or to nothing is refused", async () => {
    for (const path of ["//", "/", "*", "http://", "/api/jobs/x/link", "/api/feed/../x"])
      expect((await sendRaw(port, upgradeRequest(path, `127.0.0.1:${port}`))).status, path).to.be.within(400, 499);
  });

  it("what no schema names is refused and not dropped in silence, however deep it stands", async () => {
    const leads = { quantity: "volts", red: "F1.1", black: "BAT.-" };
    const shown = { kind: "value", quantity: "volts", value: 12.3 };
    const taken = { leads, state: REST_STATE, load: "", text: "12.3", shown, instrument: "typed" };
    const odd = { odd: 1 };
    const reading = log.make("reading-taken", taken);
    for (const data of [
      { ...taken, ...odd },
      { ...taken, leads: { ...leads, ...odd } },
      { ...taken, state: { ...REST_STATE, ...odd } },
      { ...taken, shown: { ...shown, ...odd } },
    ]) {
      const answer = await append({ ...reading, data });
      expect(answer.status, JSON.stringify(data)).to.equal(400);
      expect(answer.body).to.match(/odd/);
    }
  });

  it("three hundred connections that end in the middle of a refused upgrade end nothing else", async () => {
    await Promise.all(
      Array.from(
        { length: 300 },
        () =>
          new Promise<void>((done) => {
            const socket = connect(port, "127.0.0.1", () => {
              socket.write(upgradeRequest("//", "evil.example"));
              socket.resetAndDestroy();
            });
            socket.on("error", () => undefined);
            socket.on("close", () => done());
          }),
      ),
    );
  });

  it("times that no calendar or clock holds, and those far ahead, are refused", async () => {
    const note = log.make("note-added", { text: "x" });
    for (const at of [
      "9999-12-31T23:59:59.9999999Z",
      "0000-01-01T00:00:00Z",
      "2026-01-01T00:00:00.0000001Z",
      "1999-12-31T23:59:59Z",
      "2100-01-01T00:00:00Z",
    ])
      expect(codeOf(await append({ ...note, at })), at).to.equal("400 body-invalid");
    const dayAfterNext = new Date(Date.now() + 2 * 24 * 3600 * 1000).toISOString();
    expect(codeOf(await append({ ...note, at: dayAfterNext }))).to.equal("400 event-time");
    expect((await append({ ...note, at: new Date().toISOString() })).status).to.equal(201);
  });

  it("texts that are none are refused: NUL, controls, half a character", async () => {
    for (const text of ["a\u0000b", "\u001b[2J", "\ud83d", "\ude00 x"])
      expect(codeOf(await append(log.make("note-added", { text }))), JSON.stringify(text)).to.equal("400 body-shape");
    for (const path of ["/api/jobs?search=%00", "/api/jobs?search=a%1Bb"])
      expect(codeOf(await ask(`${server.url}${path}`)), path).to.equal("400 body-shape");
  });

  it("a reading with thirty thousand keys in its state is refused", async () => {
    const inputs = Object.fromEntries(Array.from({ length: 30_000 }, (_, i) => [`k${i}`, i]));
    const reading = log.read("12.1", "F1.2");
    const wide = { ...reading, data: { ...reading.data, state: { ...REST_STATE, inputs } } };
    expect(codeOf(await append(wide))).to.equal("400 body-invalid");
  });

  it("a field that nobody knows is refused, not lost in silence", async () => {
    const note = log.make("note-added", { text: "x" });
    expect(codeOf(await append({ ...note, urgent: true }))).to.equal("400 body-invalid");
    expect(codeOf(await append({ ...note, data: { text: "x", colour: "red" } }))).to.equal("400 body-invalid");
  });

  it("−0 is 0, so that the same event can be posted again", async () => {
    const reading = { ...log.read("0.00", "F1.2"), id: log.id() };
    const body = JSON.stringify({ events: [reading] }).replace('"value":0', '"value":-0');
    expect(body).to.contain('"value":-0');
    for (const status of [201, 200]) expect((await post(`/api/jobs/${log.jobId}/events`, body)).status).to.equal(status);
  });

  it("bodies that cannot be read leave as rows of the table, never as 500", async () => {
    const sent = (body: Buffer | string, headers: Record<string, string>): Promise<RawAnswer> =>
      ask(`${server.url}/api/jobs`, { method: "POST", headers: { ...JSON_BODY, ...headers }, body });
    for (const encoding of ["gzip", "br", "deflate", "zstd"])
      expect(codeOf(await sent("not compressed", { "content-encoding": encoding })), encoding).to.equal("415 body-encoded");
    expect(codeOf(await sent(gzipSync("x".repeat(50_000_000)), { "content-encoding": "gzip" }))).to.equal("415 body-encoded");
    expect(codeOf(await sent(brotliCompressSync("{}"), { "content-encoding": "br" }))).to.equal("415 body-encoded");
    expect(codeOf(await sent("{}", { "content-type": "application/json; charset=utf-7" }))).to.match(/^400 /);
    for (const path of ["/%ff", "/api/%ff", "/assets/%ff", "/api/jobs/%E0%A4%A", "/assets/..%2f..%2fpackage.json"])
      expect(codeOf(await ask(`${server.url}${path}`)), path).to.match(/^4\d\d [a-z-]+$/);
    // Also where no page is.
    expect(codeOf(await post("/nowhere", {}))).to.equal("404 not-found");
    expect(codeOf(await post("/api/vehicles/deep/versions", "[".repeat(11_000_000)))).to.equal("400 body-shape");
    expect(codeOf(await post("/api/jobs", "[".repeat(900_000)))).to.equal("400 body-shape");
    expect((await sendRaw(port, "GET / HTTP/1.1\r\nHost: x\r\nContent-Length: -5\r\n\r\n")).status).to.equal(400);
    expect((await sendRaw(port, `GET /api/health HTTP/1.1\r\nHost: 127.0.0.1\r\nX: ${"x".repeat(40_000)}\r\n\r\n`)).status).to.be.within(
      400,
      499,
    );
  });

  it("another name than its own is not answered, over HTTP or by a WebSocket with an equal origin", async () => {
    expect(codeOf(await ask(`${server.url}/api/jobs`, { headers: { host: "evil.example" } }))).to.equal("421 host-unknown");
    expect((await ask(`${server.url}/`, { headers: { host: `evil.example:${port}` } })).status).to.equal(421);
    for (const path of ["/api/feed", `/api/jobs/${log.jobId}/link`]) {
      const rebound = await sendRaw(port, upgradeRequest(path, `evil.example:${port}`, `Origin: http://evil.example:${port}\r\n`));
      expect(rebound.status, path).to.equal(421);
      const foreign = await sendRaw(port, upgradeRequest(path, `127.0.0.1:${port}`, "Origin: http://evil.example\r\n"));
      expect(foreign.status, path).to.equal(403);
    }
    const note = log.make("note-added", { text: "forged" });
    const headers = { ...JSON_BODY, origin: "http://evil.example" };
    const forged = await ask(`${server.url}/api/jobs/${log.jobId}/events`, {
      method: "POST",
      headers,
      body: JSON.stringify({ events: [note] }),
    });
    expect(codeOf(forged)).to.equal("403 foreign-page");
  });

  it("no line is opened for a job that does not exist", async () => {
    const answer = await sendRaw(port, upgradeRequest("/api/jobs/0190a1b2-c3d4-7e5f-8a9b-000000000000/link", `127.0.0.1:${port}`));
    expect([answer.status, (JSON.parse(answer.body) as { code: string }).code]).to.deep.equal([404, "job-not-found"]);
  });

  it("what comes over a line is checked, answered with its code, and never too much at once", async () => {
    const ws = new WebSocket(`${server.url.replace("http", "ws")}/api/jobs/${log.jobId}/link`);
    const said: { type: string; code: string; message: string }[] = [];
    ws.on("message", (data) => said.push(JSON.parse(String(data)) as (typeof said)[number]));
    await new Promise((done, failed) => ws.once("open", done).once("error", failed));
    const told = async (message: string | Buffer): Promise<string> => {
      const before = said.length;
      ws.send(message);
      for (let i = 0; i < 1500 && said.length === before; i++) await new Promise((done) => setTimeout(done, 20));
      return said.at(-1)!.code;
    };
    expect(await told("{")).to.equal("body-not-json");
    expect(await told(Buffer.from([0xff, 0x00]))).to.equal("body-not-json");
    expect(await told('{"type":"guess"}')).to.equal("message-invalid");
    expect(await told('{"type":"connect","vin":"\\u0000"}')).to.equal("body-shape");
    expect(await told('{"type":"live","wishes":[],"hertz":1}')).to.equal("message-invalid");
    // A listener outside of the workshop's ranges hears nothing; one at this server's own port is not asked either.
    const find = (host: string, to: number): string => JSON.stringify({ type: "find", target: { kind: "network", host, port: to } });
    expect(await told(find("203.0.113.7", 13400))).to.equal("link-outside");
    expect(await told(find("127.0.0.1", port))).to.equal("link-own-server");
    for (let i = 0; i < 30; i++) ws.send(find("127.0.0.1", 1));
    for (let i = 0; i < 1500 && !said.some((s) => s.code === "work-busy"); i++) await new Promise((done) => setTimeout(done, 20));
    expect(said.map((s) => s.code)).to.include("work-busy");
    ws.terminate();
  });

  it("the simulated vehicle stands what comes over UDP, a forged sender included", async () => {
    const { runVehicle } = await import("../../stand-ins/src/vehicle/run.ts");
    const { FAN } = await import("../../../packages/core/src/test/circuits.ts");
    const { parseNotation } = await import("@rheonom/core/notation");
    const harness = parseNotation(FAN).harness!;
    const vehicle = await runVehicle({
      harness,
      faults: [],
      state: REST_STATE,
      vin: "0NLSKERR0WT000001",
      host: "127.0.0.1",
      port: 0,
      chance: Math.random,
    });
    const socket = createSocket("udp4");
    for (const bytes of [Buffer.alloc(0), Buffer.from("ff", "hex"), Buffer.from("02fd0001ffffffff", "hex"), Buffer.alloc(60_000, 7)])
      await new Promise((done) => socket.send(bytes, vehicle.port, "127.0.0.1", done));
    for (let i = 0; i < 40; i++)
      connect(vehicle.port, "127.0.0.1", function (this: { resetAndDestroy: () => void }) {
        this.resetAndDestroy();
      }).on("error", () => undefined);
    await new Promise((done) => setTimeout(done, 300));
    expect(vehicle.command({ do: "tell" }).state.key).to.equal("off");
    socket.close();
    await vehicle.stop();
  });

  it("another device's entry is told to whoever listens", async () => {
    const ws = new WebSocket(`${server.url.replace("http", "ws")}/api/feed`);
    await new Promise((done, failed) => ws.once("open", done).once("error", failed));
    const told = new Promise<unknown>((done) => ws.once("message", (data) => done(JSON.parse(String(data)))));
    const late = new Promise((done) => setTimeout(() => done("nothing within half a minute"), 30_000));
    const note = log.make("note-added", { text: "from another device" });
    expect((await append(note)).status).to.equal(201);
    const message = (await Promise.race([told, late])) as { entries: number };
    expect(message).to.deep.include({ type: "job", id: log.jobId });
    const tail = JSON.parse((await ask(`${server.url}/api/jobs/${log.jobId}?after=${message.entries - 1}`)).body) as {
      events: { id: string }[];
      next: number;
    };
    expect(tail.events.map((e) => e.id)).to.deep.equal([note.id]);
    expect(tail.next).to.equal(message.entries);
    ws.terminate();
  });

  it("is ended within seconds by SIGTERM, whatever it is printing", async () => {
    for (let i = 0; i < 8; i++) await append(...Array.from({ length: 150 }, () => ({ ...log.read("12.1", "F1.2"), id: log.id() })));
    const printing = Array.from({ length: 4 }, () => ask(`${server.url}/api/jobs/${log.jobId}/report.pdf`).catch(() => undefined));
    await new Promise((done) => setTimeout(done, 300));
    const began = Date.now();
    await server.kill("SIGTERM");
    expect(Date.now() - began).to.be.below(15_000);
    expect(server.process.exitCode).to.equal(0);
    await Promise.all(printing);
    server = await startServer(folder, { PORT: String(port) });
  });
});
