import { createSocket } from "node:dgram";
import { createServer, type Server, type Socket } from "node:net";
import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { addressedModules, liveValuesOf } from "@rheonom/core/codes";
import { runVehicle } from "../../../stand-ins/src/vehicle/run.ts";
import { AppError, problemOf } from "../errors.ts";
import { connectVehicle, findVehicles } from "./doip-client.ts";
import { readLive } from "./live.ts";
import { clearCodes, scanVehicle, type ScanResult } from "./scan.ts";
import { vehicleOf } from "../../../../packages/core/src/test/vehicles.ts";

const brigg = vehicleOf("brigg");
const modules = addressedModules(brigg);
const now = (): Date => new Date("2026-05-20T15:00:00.000Z");
const never = new AbortController().signal;
const sleep = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
const hex = (text: string): Buffer => Buffer.from(text.replaceAll(" ", ""), "hex");

/** The code of what broke a scan off. */
const codeOf = (broken: ScanResult["broken"]): string =>
  broken?.kind === "failed" && broken.error instanceof AppError ? broken.error.code : String(broken?.kind);

describe("a tester at the simulated vehicle", () => {
  it("finds it, scans it, clears it and finds what comes back", async () => {
    const vehicle = await runVehicle({
      harness: brigg,
      faults: [
        { kind: "open", link: "C4.2" },
        { kind: "open", link: "C1.8" },
      ],
      state: { ...REST_STATE, key: "run" },
      vin: "0NLSKERR0WT000001",
      host: "127.0.0.1",
      port: 0,
      chance: Math.random,
    });
    try {
      const [found, ...others] = await findVehicles("127.0.0.1", vehicle.port, 150);
      expect(others).to.deep.equal([]);
      expect(found).to.deep.include({ vin: "0NLSKERR0WT000001", address: 0x1000 });
      const client = await connectVehicle(found!);
      // Monitors of the module that answers the emissions services: run before, and not yet since.
      const monitors = ({ scan }: ScanResult): readonly string[] =>
        (scan.readiness ?? []).flatMap((r) => r.monitors.map((m) => `${r.module} ${m.name} ${m.complete ? "complete" : "not complete"}`));
      // Its monitors take their two seconds, and longer on a machine that has much to do.
      await sleep(2600);
      let seen: string[] = [];
      const scan = (): Promise<ScanResult> => {
        seen = [];
        return scanVehicle(client, modules, now, (done, m) => seen.push(`${done} ${m.id}`), never);
      };
      let first = await scan();
      for (let more = 0; more < 40 && !monitors(first).includes("ECM catalyst complete"); more++) {
        await sleep(250);
        first = await scan();
      }
      expect(first).to.include({ complete: true, broken: undefined });
      expect(seen).to.have.lengthOf(4);
      expect(first.scan.modules.filter((m) => !m.answers).map((m) => m.id)).to.deep.equal(["TCM"]);
      expect(first.scan.codes.map((c) => `${c.module} ${c.code} ${c.status}`).sort()).to.deep.equal([
        "ECM P0113 active",
        "ECM P0118 active",
        "ECM U0114 active",
      ]);
      expect(first.scan.codes.find((c) => c.code === "P0118")!.snapshot!["supply, V"]).to.be.closeTo(12.5, 0.3);
      const cleared = await clearCodes(client, modules, never);
      expect(cleared.filter((c) => c.cleared).map((c) => c.id)).to.deep.equal(["ECM", "BCM", "CLU"]);
      const after = await scanVehicle(client, modules, now, () => undefined, never);
      expect(monitors(first)).to.include("ECM catalyst complete");
      expect(first.scan.readiness![0]!.lamp).to.equal(true);
      expect(monitors(after)).to.include("ECM catalyst not complete");
      // The silent module is missed at once; a circuit too high takes its two seconds.
      expect(after.scan.codes.filter((c) => c.status === "active").map((c) => c.code)).to.deep.equal(["U0114"]);
      client.close();
    } finally {
      await vehicle.stop();
    }
  });
  it("reads live values ten times a second", async () => {
    const vehicle = await runVehicle({
      harness: brigg,
      faults: [],
      state: { ...REST_STATE, key: "run" },
      vin: "0NLSKERR0WT000001",
      host: "127.0.0.1",
      port: 0,
      chance: Math.random,
    });
    try {
      const client = await connectVehicle({ host: "127.0.0.1", port: vehicle.port });
      const module = modules[0]!;
      const wishes = [
        ...liveValuesOf(brigg, "ECM").map((v) => ({ module, what: { did: v.did, unit: v.unit } })),
        { module, what: { pid: 0x42 } },
        { module, what: { did: 0x9999, unit: "V" as const } },
      ];
      const rows: (readonly (number | null)[])[] = [];
      const live = readLive(client, wishes, 10, (_, values) => rows.push(values));
      const began = Date.now();
      for (let i = 0; i < 600 && rows.length < 12; i++) await sleep(100);
      live.stop();
      // No oftener than that; how often at the least is a matter of the machine.
      expect(rows.length).to.be.within(12, 3 + (Date.now() - began) / 100);
      expect(rows.at(-1)![0]).to.be.closeTo(rows.at(-1)!.at(-2)!, 0.01);
      expect(rows.at(-1)!.at(-1)).to.equal(null);
      client.close();
    } finally {
      await vehicle.stop();
    }
  });
});

/** A vehicle of bytes alone: activates whoever asks, and answers a message for a module with what `answers` gives for it, header and all. */
async function byteVehicle(answers: (target: string, socket: Socket) => void): Promise<{ readonly port: number; readonly server: Server }> {
  const server = createServer((socket) => {
    socket.on("error", () => undefined);
    let held = Buffer.alloc(0);
    socket.on("data", (chunk) => {
      held = Buffer.concat([held, chunk]);
      while (held.length >= 8 && held.length >= 8 + held.readUInt32BE(4)) {
        const message = held.subarray(0, 8 + held.readUInt32BE(4));
        held = held.subarray(message.length);
        if (message.readUInt16BE(2) === 0x0005) socket.write(hex("02FD000600000009 0E80 1000 10 00000000"));
        else if (message.readUInt16BE(2) === 0x8001) answers(message.subarray(10, 12).toString("hex"), socket);
      }
    });
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const address = server.address();
  return { port: typeof address === "object" && address !== null ? address.port : 0, server };
}
const said = (source: string, data: string): Buffer => {
  const payload = hex(`${source} 0E80 ${data}`);
  const head = Buffer.alloc(8);
  head.write("02FD8001", "hex");
  head.writeUInt32BE(payload.length, 4);
  return Buffer.concat([head, payload]);
};
const five = ["1001", "1002", "1003", "1004", "1005"].map((a) => ({ id: `M${a}`, address: parseInt(a, 16) }));

describe("a tester at vehicles that do not do what they should", () => {
  it("keeps what is good and says of each module what was odd", async () => {
    const { port, server } = await byteVehicle((target, socket) => {
      if (target === "1001") socket.write(said("1001", "59 02 FF 011800 AF"));
      // Half a message, the wrong length, the wrong address, and never.
      if (target === "1002") socket.write(said("1002", "59 02 FF 0118"));
      if (target === "1003") socket.write(said("1003", "59 01 FF 04 0002 00"));
      if (target === "1004") socket.write(said("1234", "59 02 FF 011700 AF"));
    });
    const client = await connectVehicle({ host: "127.0.0.1", port });
    const result = await scanVehicle(client, five, now, () => undefined, never);
    client.close();
    server.close();
    expect(result.complete).to.equal(true);
    expect(result.scan.codes.map((c) => `${c.module} ${c.code}`)).to.deep.equal(["M1001 P0118"]);
    expect(result.odd.map((o) => o.module)).to.include.members(["M1002", "M1003"]);
    expect(result.odd.find((o) => o.module === "M1002")!.why).to.contain("ends early");
    expect(result.scan.modules.filter((m) => !m.answers).map((m) => m.id)).to.deep.equal(["M1004", "M1005"]);
  });
  it("keeps what was read when the connection is lost, and says so", async () => {
    const { port, server } = await byteVehicle((target, socket) => {
      if (target === "1001") socket.write(said("1001", "59 02 FF 011800 AF"));
      else if (target === "1002") setTimeout(() => socket.destroy(), 200);
    });
    const client = await connectVehicle({ host: "127.0.0.1", port });
    const result = await scanVehicle(client, five.slice(0, 2), now, () => undefined, never);
    server.close();
    expect(result.complete).to.equal(false);
    expect(codeOf(result.broken)).to.equal("link-closed");
  });
  it("hangs up on what is not a message at all", async () => {
    const { port, server } = await byteVehicle((_, socket) => void socket.write(hex("00 11 22 33 44 55 66 77")));
    const client = await connectVehicle({ host: "127.0.0.1", port });
    const result = await scanVehicle(client, five.slice(0, 1), now, () => undefined, never);
    server.close();
    expect(codeOf(result.broken)).to.equal("link-unreadable");
    expect(result.scan.modules).to.deep.equal([]);
  });
  it("stops when it is told to, and keeps what it has", async () => {
    const stop = new AbortController();
    const { port, server } = await byteVehicle((target, socket) => {
      if (target !== "1001") return;
      socket.write(said("1001", "59 02 FF"));
      setTimeout(() => stop.abort(), 300);
    });
    const client = await connectVehicle({ host: "127.0.0.1", port });
    const result = await scanVehicle(client, five, now, () => undefined, stop.signal);
    client.close();
    server.close();
    expect(result).to.deep.include({ complete: false, broken: { kind: "cancelled" } });
    expect(result.scan.modules.map((m) => m.id)).to.deep.equal(["M1001"]);
  });
  it("waits for a module that asks for patience, and no longer than it promised", async () => {
    const { port, server } = await byteVehicle((_, socket) => {
      socket.write(said("1001", "7F 19 78"));
      setTimeout(() => socket.write(said("1001", "59 02 FF 011800 2F")), 2500);
    });
    const client = await connectVehicle({ host: "127.0.0.1", port });
    const answer = await client.ask(0x1001, hex("19022F"), { timeoutMs: 2000 });
    client.close();
    server.close();
    expect(answer.kind === "answer" && Buffer.from(answer.bytes).toString("hex")).to.equal("5902ff0118002f");
  });
  it("shows both of two vehicles that answer", async () => {
    const udp = createSocket("udp4");
    await new Promise<void>((done) => udp.bind(0, "127.0.0.1", done));
    udp.on("message", (_, from) => {
      for (const last of ["1", "2"])
        udp.send(
          hex(`02FD000400000020 ${Buffer.from(`0NLSKERR0WT00000${last}`).toString("hex")} 1000 024E4C000001 024E4C000001 00`),
          from.port,
          from.address,
        );
      udp.send(hex("FF"), from.port, from.address);
    });
    const found = await findVehicles("127.0.0.1", udp.address().port, 200);
    udp.close();
    expect(found.map((v) => v.vin)).to.deep.equal(["0NLSKERR0WT000001", "0NLSKERR0WT000002"]);
  });
  it("says what to look at when nobody is there, or nobody lets it in", async () => {
    const fails = async (port: number): Promise<string> =>
      connectVehicle({ host: "127.0.0.1", port }).then(
        () => "",
        (e: unknown) => (e instanceof AppError ? problemOf(e).body.message : "another error"),
      );
    expect(await fails(1)).to.contain("No vehicle answers at 127.0.0.1:1");
    const closed = createServer((socket) => socket.on("data", () => socket.write(hex("02FD000600000009 0E80 1000 01 00000000"))));
    await new Promise<void>((done) => closed.listen(0, "127.0.0.1", done));
    const address = closed.address();
    expect(await fails(typeof address === "object" && address !== null ? address.port : 0)).to.contain("another tester is plugged in");
    closed.close();
  });
});
