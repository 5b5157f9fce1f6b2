import { createServer as createHttp, type Server } from "node:http";
import { createServer, type Socket } from "node:net";
import { gunzipSync } from "node:zlib";
import { expect } from "chai";
import { WebSocket } from "ws";
import { REST_STATE } from "@rheonom/core/circuit";
import { readTraceFile } from "@rheonom/core/waveform";
import type { FromInstrument, ToInstrument } from "@rheonom/contract/instrument";
import { readDemoJobs, seedDemo } from "../demo/seed.ts";
import { attachSockets } from "../doors/upgrade.ts";
import { localApp, ROOT, type LocalApp } from "../test/local-app.ts";
import { instrumentRoute } from "./instrument-socket.ts";
import { createStandIns } from "./stand-in-process.ts";
import { createTargets } from "./targets.ts";

type Said = FromInstrument | Buffer;

/** A page at the line, and an instrument of the network behind it that says what a test has it say. */
describe("the line to an instrument", () => {
  let local: LocalApp;
  let http: Server;
  let port: number;
  const standIns = createStandIns();
  const ended: (() => void)[] = [];
  const job = readDemoJobs(ROOT).find((j) => j.truth.some((t) => t.kind === "series" && t.link === "G12"))!;
  const id = job.events[0]!.jobId;

  before(async () => {
    local = await localApp();
    await seedDemo(local.store, ROOT, new Date());
    http = createHttp();
    const { store, heavy, root, log, door } = local.parts;
    const targets = createTargets(["127.0.0.0/8"], () => new Set([port]));
    attachSockets(http, door, [instrumentRoute({ store, heavy, root, standIns, targets, log })], () => undefined);
    await new Promise<void>((done) => http.listen(0, "127.0.0.1", done));
    port = (http.address() as { port: number }).port;
  });
  afterEach(() => ended.splice(0).forEach((end) => end()));
  after(async () => {
    standIns.stopAll();
    http.close();
    await local.end();
  });

  async function page() {
    const ws = new WebSocket(`ws://127.0.0.1:${port}/api/jobs/${id}/instrument`);
    ended.push(() => ws.terminate());
    const said: Said[] = [];
    let at = 0;
    ws.on("message", (data: Buffer, isBinary) => said.push(isBinary ? data : (JSON.parse(String(data)) as FromInstrument)));
    await new Promise((done, failed) => ws.once("open", done).once("error", failed));
    const isA = (s: Said, type: FromInstrument["type"]): boolean => !Buffer.isBuffer(s) && s.type === type;
    return {
      said,
      send: (m: ToInstrument): void => ws.send(JSON.stringify(m)),
      close: (): void => ws.terminate(),
      /** The next of a type behind the last one that was asked for. */
      next: async <T extends FromInstrument["type"]>(type: T): Promise<Extract<FromInstrument, { type: T }>> => {
        const from = at;
        for (let i = 0; i < 1000; i++) {
          const found = said.findIndex((s, k) => k >= from && isA(s, type));
          if (found >= 0) {
            at = found + 1;
            return said[found] as Extract<FromInstrument, { type: T }>;
          }
          await new Promise((done) => setTimeout(done, 20));
        }
        throw new Error(`no ${type} came, but ${JSON.stringify(said.slice(from))}`);
      },
    };
  }
  /** An instrument that answers each message as it is told. */
  async function instrument(answer: (message: string, socket: Socket) => void): Promise<Extract<ToInstrument, { type: "connect" }>> {
    const open = new Set<Socket>();
    const server = createServer((socket) => {
      open.add(socket);
      socket.on("error", () => undefined);
      let held = "";
      socket.on("data", (chunk) => {
        held += chunk.toString("latin1");
        for (let end = held.indexOf("\n"); end >= 0; end = held.indexOf("\n")) {
          const message = held.slice(0, end);
          held = held.slice(end + 1);
          answer(message, socket);
        }
      });
    });
    await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
    ended.push(() => {
      server.close();
      for (const socket of open) socket.destroy();
    });
    return {
      type: "connect",
      what: "meter",
      target: { kind: "network", host: "127.0.0.1", port: (server.address() as { port: number }).port },
    };
  }
  /** As any meter: says who it is and has no errors; `read` answers a reading. */
  const meter = (read: (socket: Socket) => void) =>
    instrument((message, socket) => {
      if (message === "*IDN?") socket.write("Nobody,no model,1,0\n");
      else if (message === "SYST:ERR?") socket.write('0,"No error"\n');
      else if (message === "READ?") read(socket);
    });

  it("reads the simulated meter on and on, with its leads where the page puts them", async () => {
    const p = await page();
    p.send({ type: "connect", what: "meter", target: { kind: "simulated" } });
    expect(await p.next("connected")).to.deep.include({ what: "meter", isSimulated: true });
    const state = { ...REST_STATE, on: ["SW9"] };
    p.send({ type: "leads", leads: [{ on: "places", red: "LA1.2", black: "BAT.-" }], state });
    p.send({ type: "read", function: "volts" });
    const { said } = await p.next("reading");
    // A ground of a lamp through a bad joint.
    expect(said.kind === "value" ? said.value : NaN).to.be.above(1.5);
    p.send({ type: "leads", leads: [{ on: "each other" }], state });
    let together = NaN;
    // One or two readings of before may be on their way.
    for (let i = 0; i < 3 && !(together < 0.01); i++) {
      const { said: now } = await p.next("reading");
      together = now.kind === "value" ? Math.abs(now.value) : NaN;
    }
    expect(together).to.be.below(0.01);
    p.send({ type: "leads", leads: [{ on: "places", red: "X99.1", black: "BAT.-" }], state });
    expect((await p.next("failed")).code).to.equal("stand-in-refused");
    p.send({ type: "record", channels: [1], seconds: 0.01, points: 100 });
    expect((await p.next("failed")).code).to.equal("instrument-other");
  });

  it("fetches a recording of the simulated scope as a trace file", async () => {
    const p = await page();
    p.send({ type: "connect", what: "scope", target: { kind: "simulated" } });
    await p.next("connected");
    const state = { ...REST_STATE, on: ["SW9"] };
    p.send({
      type: "leads",
      leads: [
        { on: "places", red: "BAT.+", black: "BAT.-" },
        { on: "places", red: "LA1.2", black: "BAT.-" },
      ],
      state,
    });
    p.send({ type: "record", channels: [1, 2], seconds: 0.01, points: 1000 });
    const recorded = await p.next("recorded");
    for (let i = 0; i < 1500 && !Buffer.isBuffer(p.said.at(-1)); i++) await new Promise((done) => setTimeout(done, 20));
    const packed = p.said.at(-1) as Buffer;
    expect(packed.length).to.equal(recorded.bytes);
    const read = readTraceFile(gunzipSync(packed));
    if (read.kind === "bad") throw new Error(read.why);
    expect(read.trace).to.deep.include({ count: 1000 });
    expect(read.trace.rateHz).to.be.closeTo(1e5, 1);
    expect(read.trace.channels.map((c) => c.name)).to.deep.equal(["CH1", "CH2"]);
    expect(read.trace.channels[1]!.samples[500]).to.be.above(1.5);
  });

  it("takes answers in halves and slow ones, and tells over, none and nonsense from a value", async () => {
    const answers = ["+1.2", "9.9E37", "9.91E37", "low batt"];
    let n = 0;
    const p = await page();
    p.send(
      await meter((socket) => {
        const text = answers[n++ % answers.length]!;
        if (n === 1) {
          socket.write("+1");
          setTimeout(() => socket.write(".2\n"), 300);
        } else socket.write(`${text}\n`);
      }),
    );
    expect((await p.next("connected")).identity.maker).to.equal("Nobody");
    p.send({ type: "read", function: "ohms" });
    const said = [];
    for (let i = 0; i < 4; i++) said.push((await p.next("reading")).said);
    expect(said).to.deep.equal([{ kind: "value", value: 1.2 }, { kind: "over" }, { kind: "none" }, { kind: "odd", text: "low batt" }]);
    p.send({ type: "pause" });
  });

  it("ends with its reason when an instrument is silent, lost in mid-reading, or sends no end", async () => {
    for (const [read, code] of [
      [() => undefined, "instrument-late"],
      [(socket: Socket) => socket.destroy(), "instrument-lost"],
      [(socket: Socket) => void socket.write("#9999999999"), "instrument-unreadable"],
      [(socket: Socket) => void socket.write("1\n2\n3\n"), "instrument-unreadable"],
    ] as const) {
      const p = await page();
      p.send(await meter(read));
      await p.next("connected");
      p.send({ type: "read", function: "volts" });
      expect((await p.next("disconnected")).code).to.equal(code);
      p.send({ type: "read", function: "volts" });
      expect((await p.next("failed")).code).to.equal("instrument-none");
      p.close();
    }
  });

  it("passes on what an instrument says of itself, and goes where instruments may be only", async () => {
    const p = await page();
    p.send({ type: "connect", what: "meter", target: { kind: "network", host: "203.0.113.7", port: 5025 } });
    expect((await p.next("failed")).code).to.equal("link-outside");
    p.send({ type: "connect", what: "meter", target: { kind: "network", host: "127.0.0.1", port } });
    expect((await p.next("failed")).code).to.equal("link-own-server");
    p.send({ type: "connect", what: "meter", target: { kind: "network", host: "127.0.0.1", port: 1 } });
    expect((await p.next("failed")).message).to.contain("No instrument answers at 127.0.0.1:1");
    p.send({ type: "leads", leads: [{ on: "nothing" }], state: REST_STATE });
    expect((await p.next("failed")).code).to.equal("stand-in-none");
    p.send(
      await instrument((message, socket) => {
        if (message === "*IDN?") socket.write("Nobody\n");
        else if (message === "SYST:ERR?") socket.write('-310,"System error;battery low"\n');
        else if (message === "READ?") socket.write("1\n");
      }),
    );
    await p.next("connected");
    p.send({ type: "read", function: "amps" });
    expect((await p.next("says")).text).to.equal("-310, System error;battery low");
  });
});
