import { expect } from "chai";
import { REST_STATE, type Fault } from "@rheonom/core/circuit";
import { actuatorsOf, addressedModules, codeFromNumber, liveValuesOf } from "@rheonom/core/codes";
import { linksOf, type Harness } from "@rheonom/core/harness";
import { predictReading, scanAll } from "@rheonom/core/instruments";
import { chanceOf } from "@rheonom/core/practice";
import { readCommand } from "./control.ts";
import { ALL_MODULES, createEntity, type Connection } from "./entity.ts";
import { createMemory } from "./memory.ts";
import { freezeOf } from "./values.ts";
import { catches, createWorld, type World } from "./world.ts";
import { vehicleOf } from "../../../../packages/core/src/test/vehicles.ts";

const brigg = vehicleOf("brigg");
const run = { ...REST_STATE, key: "run" as const };
const VIN = "0NLSKERR0WT000001";
/** A return in the bulkhead plug is gone: two sensors read too high. */
const lostReturn: Fault = { kind: "open", link: "C4.2" };

function vehicle(faults: readonly Fault[], harness: Harness = brigg) {
  const world = createWorld(harness, faults, run, chanceOf(3));
  const memory = createMemory(harness, "ECM", (m, now) => freezeOf(harness, m, now));
  const entity = createEntity(world, memory, { vin: VIN }, () => 5);
  const pass = (seconds: number): void => {
    for (let s = 0; s < seconds; s++) memory.tick(1, world.now(), world.state().key === "run");
  };
  const cycle = (): void => {
    pass(10);
    world.setState({ ...run, key: "off" });
    memory.tick(1, world.now(), false);
    world.setState(run);
  };
  return { world, memory, entity, pass, cycle };
}

/** A tester of bytes alone: it knows nothing of this product's own codecs. `saysAlive`: it answers when it is asked whether it is still there. */
function tester({ entity }: ReturnType<typeof vehicle>, saysAlive = false) {
  const sent: number[][] = [];
  const timers: (() => void)[] = [];
  let open = true;
  let nowMs = 0;
  const line: Connection = entity.connect(
    {
      send: (b) => {
        sent.push([...b]);
        if (saysAlive && b[3] === 0x07) line.receive(Uint8Array.of(2, 0xfd, 0, 8, 0, 0, 0, 2, 0x0e, 0x80), nowMs);
      },
      close: () => void (open = false),
      later: (_, then) => void timers.push(then),
    },
    0,
  );
  const header = (type: number, length: number): number[] => [2, 0xfd, type >> 8, type & 255, 0, 0, length >> 8, length & 255];
  const send = (type: number, payload: readonly number[]): number[][] => {
    sent.length = 0;
    line.receive(Uint8Array.from([...header(type, payload.length), ...payload]), (nowMs += 10));
    for (const then of timers.splice(0)) then();
    return sent.map((m) => [...m]);
  };
  const hex = (text: string): number[] =>
    text
      .replace(/\s/g, "")
      .match(/../g)
      ?.map((b) => parseInt(b, 16)) ?? [];
  return {
    send,
    raw: (bytes: readonly number[]) => line.receive(Uint8Array.from(bytes), (nowMs += 10)),
    isOpen: () => open,
    wait: (ms: number) => void (nowMs += ms),
    tick: () => line.tick(nowMs),
    activate: (source = "0E80", type = "00") => send(0x0005, hex(`${source} ${type} 00000000`)),
    /** User data of what modules answered. */
    ask: (target: string, data: string, source = "0E80"): string[] =>
      send(0x8001, [...hex(source), ...hex(target), ...hex(data)])
        .filter((m) => m[2] === 0x80 && m[3] === 0x01)
        .map((m) =>
          m
            .slice(12)
            .map((b) => b.toString(16).toUpperCase().padStart(2, "0"))
            .join(""),
        ),
    receipts: (target: string, data: string, source = "0E80"): number[][] =>
      send(0x8001, [...hex(source), ...hex(target), ...hex(data)]).filter((m) => m[3] !== 0x01),
  };
}
const ECM = "1001";
const TCM = "1003";
const idOf = (three: string): string => codeFromNumber(parseInt(three.slice(0, 4), 16));

describe("the simulated vehicle on its line", () => {
  it("stores lost messages in whoever misses them, cut off itself or not: the same codes as the whole circuit solved sets", () => {
    const lostIn = (faults: readonly Fault[]): string[] => {
      const v = vehicle(faults);
      v.pass(10);
      const kept = brigg.components.flatMap((c) => [...v.memory.codesOf(c.id)]).filter((e) => e.occurrences > 0);
      return kept
        .map((e) => e.monitor.code)
        .filter((code) => code.startsWith("U"))
        .sort();
    };
    const pair = (part: string): Fault[] =>
      linksOf(brigg).flatMap((l): Fault[] =>
        l.kind === "wire" && [`${part}.H`, `${part}.L`].some((p) => p === l.a || p === l.b) ? [{ kind: "open", link: l.id }] : [],
      );
    for (const [part, codes] of [
      ["ECM", ["U0100", "U0114"]],
      ["CLU", ["U0155"]],
      ["BCM", ["U0100", "U0155"]],
    ] as const) {
      expect(lostIn(pair(part)), part).to.deep.equal(codes);
      expect(
        scanAll(brigg, run, pair(part))
          .codes.filter((c) => c.startsWith("U"))
          .sort(),
      ).to.deep.equal(codes);
    }
    expect(lostIn([])).to.deep.equal([]);
  });
  it("tells who it is to whoever asks, and not to who asks for another", () => {
    const { entity } = vehicle([]);
    const ask = (hex: string): string | undefined => {
      const said = entity.datagram(Uint8Array.from(hex.match(/../g)!.map((b) => parseInt(b, 16))));
      return said === undefined ? undefined : Buffer.from(said).toString("latin1");
    };
    expect(ask("FF00000100000000")).to.contain(VIN);
    expect(ask(`02FD000300000011${Buffer.from(VIN).toString("hex")}`)).to.contain(VIN);
    expect(ask(`02FD000300000011${Buffer.from("0NLSKERR0WT000002").toString("hex")}`)).to.equal(undefined);
    expect(ask("02FD999900000000")!.charCodeAt(8)).to.equal(0x01);
  });
  it("wants to be activated first, by a tester's address and a known kind", () => {
    const a = tester(vehicle([]));
    expect(a.receipts(ECM, "3E00")[0]!.slice(12)).to.deep.equal([0x02]);
    expect(a.isOpen()).to.equal(false);
    const b = tester(vehicle([]));
    expect(b.activate("1234")[0]![12]).to.equal(0x00);
    expect(b.isOpen()).to.equal(false);
    expect(tester(vehicle([])).activate("0E80", "05")[0]![12]).to.equal(0x06);
    const c = tester(vehicle([]));
    expect(c.activate()[0]![12]).to.equal(0x10);
    expect(c.ask(ECM, "3E00")).to.deep.equal(["7E00"]);
    expect(c.receipts("2222", "3E00")[0]![12]).to.equal(0x03);
  });
  it("lets no second tester in under the same address while the first is alive, and takes the place of a dead one", () => {
    const v = vehicle([]);
    const first = tester(v);
    first.activate();
    const second = tester(v);
    // The first says nothing to "alive?": it is gone.
    expect(second.activate().at(-1)![12]).to.equal(0x10);
    expect(first.isOpen()).to.equal(false);
    const third = tester(v, true);
    expect(third.activate().at(-1)![12]).to.equal(0x10);
    const fourth = tester(v);
    expect(fourth.activate().at(-1)![12]).to.equal(0x03);
    expect([third.isOpen(), fourth.isOpen()]).to.deep.equal([true, false]);
  });
  it("closes a connection that is never activated, and one that sends nonsense", () => {
    const a = tester(vehicle([]));
    a.wait(2500);
    a.tick();
    expect(a.isOpen()).to.equal(false);
    const b = tester(vehicle([]));
    b.raw([1, 2, 3, 4, 5, 6, 7, 8]);
    expect(b.isOpen()).to.equal(false);
  });
});

describe("modules of the simulated vehicle", () => {
  it("tell VIN, name and volts as the meter finds them at the pin", () => {
    const t = tester(vehicle([]));
    t.activate();
    expect(Buffer.from(t.ask(ECM, "22F190")[0]!.slice(6), "hex").toString()).to.equal(VIN);
    const value = liveValuesOf(brigg, "ECM").find((v) => v.pin === "T1" && v.unit === "V")!;
    const told = parseInt(t.ask(ECM, `22${value.did.toString(16).padStart(4, "0")}`)[0]!.slice(6), 16) / 1000;
    const meter = predictReading(brigg, run, [], { quantity: "volts", red: "ECM.T1", black: "ECM.3" });
    expect(meter.kind === "value" && meter.value).to.be.closeTo(told, 0.01);
    expect(t.ask(ECM, "229999")).to.deep.equal(["7F2231"]);
  });
  it("say nothing without feed, ground or bus, and the others say so", () => {
    for (const fault of [
      { kind: "open", link: "C1.8" },
      { kind: "open", link: "W159" },
    ] as const) {
      const v = vehicle([fault]);
      v.pass(4);
      const t = tester(v);
      t.activate();
      expect(t.ask(TCM, "3E00"), fault.link).to.deep.equal([]);
      const codes = t.ask(ECM, "19022F")[0]!;
      expect(idOf(codes.slice(6))).to.equal("U0114");
    }
  });
  it("have codes only once a monitor's time is over, with what stood then, and none when sound", () => {
    const sound = vehicle([]);
    sound.pass(20);
    const s = tester(sound);
    s.activate();
    for (const { address } of addressedModules(brigg)) expect(s.ask(address.toString(16), "19022F")).to.deep.equal(["5902FF"]);
    const v = vehicle([lostReturn]);
    const t = tester(v);
    t.activate();
    v.pass(1);
    expect(t.ask(ECM, "19022F")).to.deep.equal(["5902FF"]);
    v.pass(3);
    const list = t.ask(ECM, "19022F")[0]!;
    expect([list.slice(6, 14), list.slice(14, 22)].map(idOf)).to.have.members(["P0118", "P0113"]);
    const snapshot = t.ask(ECM, "19 04 011800 FF")[0]!;
    // Supply, 0x0100, stands in it in mV.
    const supply = /0100([0-9A-F]{4})/.exec(snapshot.slice(14))![1]!;
    expect(parseInt(supply, 16) / 1000).to.be.closeTo(v.world.now().volts("ECM.~supply"), 0.1);
    expect(t.ask(ECM, "19 06 011800 01")[0]!.slice(-2)).to.equal("01");
  });
  it("clear with patience, and what is still wrong comes back at once", () => {
    const v = vehicle([lostReturn]);
    v.pass(5);
    const t = tester(v);
    t.activate();
    expect(t.ask(ECM, "14FFFFFF")).to.deep.equal(["7F1478", "54"]);
    expect(t.ask(ECM, "19022F")).to.deep.equal(["5902FF"]);
    v.pass(5);
    expect(t.ask(ECM, "190109")[0]!.slice(-4)).to.equal("0002");
    v.world.setFaults([]);
    t.ask(ECM, "14FFFFFF");
    v.pass(5);
    expect(t.ask(ECM, "19022F")).to.deep.equal(["5902FF"]);
  });
  it("heal: failing no more, then the lamp goes out, then it is forgotten", () => {
    const v = vehicle([lostReturn]);
    v.cycle();
    v.world.setFaults([]);
    const status = (): number => v.memory.codesOf("ECM").find((c) => c.monitor.code === "P0118")!.status;
    expect(status() & 0x89).to.equal(0x89);
    v.cycle();
    expect(status() & 0x8d).to.equal(0x88);
    for (let i = 0; i < 2; i++) v.cycle();
    expect(status() & 0x88).to.equal(0x08);
    for (let i = 0; i < 38; i++) v.cycle();
    expect(status() & 0x08).to.equal(0);
  });
  it("work only outputs that harm nobody, in the extended session, while the engine stands, and give them back when nobody asks for more", () => {
    const v = vehicle([]);
    const t = tester(v);
    t.activate();
    const fan = actuatorsOf(brigg, "ECM")[0]!;
    const did = fan.did.toString(16).padStart(4, "0");
    const pulled = (world: World): boolean => world.now().volts("ECM.7") < 2;
    expect(t.ask(ECM, `2F ${did} 03 01`)).to.deep.equal(["7F2F7F"]);
    t.ask(ECM, "1003");
    expect(t.ask(ECM, `2F ${did} 03 01`)[0]).to.match(/^6F/);
    expect(pulled(v.world)).to.equal(true);
    t.wait(6000);
    t.ask(ECM, "3E00");
    expect(pulled(v.world)).to.equal(false);
    t.ask(ECM, "1003");
    v.world.setState({ ...run, engine: "idling" });
    expect(t.ask(ECM, `2F ${did} 03 01`)).to.deep.equal(["7F2F22"]);
    // Fuel, ignition and starter are no tester's to work.
    expect(actuatorsOf(brigg, "ECM").map((a) => a.pin)).to.deep.equal(["7"]);
  });
  it("are asked all at once without a word from those that have nothing to say", () => {
    const v = vehicle([]);
    const t = tester(v);
    t.activate();
    expect(t.ask(ALL_MODULES.toString(16), "3E00")).to.have.lengthOf(4);
    expect(t.ask(ALL_MODULES.toString(16), "9900")).to.deep.equal([]);
    expect(t.ask(ALL_MODULES.toString(16), "3E80")).to.deep.equal([]);
  });
  it("answer the emissions services: live, stored, permanent, readiness, VIN, freeze frame", () => {
    const v = vehicle([lostReturn]);
    v.pass(5);
    const t = tester(v);
    t.activate();
    expect(t.ask("E000", "03")[0]).to.match(/^4302(01180113|01130118)$/);
    expect(t.ask("E000", "0A")[0]).to.match(/^4A02/);
    expect(t.ask("E000", "0101")[0]!.slice(4, 6)).to.equal("82");
    expect(Buffer.from(t.ask("E000", "0902")[0]!.slice(6), "hex").toString()).to.equal(VIN);
    expect(t.ask("E000", "020200")[0]).to.match(/^420200(0118|0113)$/);
    expect(t.ask("E000", "0142")[0]).to.match(/^4142/);
    expect(t.ask("E000", "01FE")).to.deep.equal([]);
    t.ask("E000", "04");
    expect(t.ask("E000", "03")).to.deep.equal(["4300"]);
    // What no tester clears.
    expect(t.ask("E000", "0A")[0]).to.match(/^4A02/);
  });
});

describe("the simulated vehicle worked by hand", () => {
  const read = (line: string) => readCommand(line, brigg, run);
  it("takes words and JSON, and says what it does not know", () => {
    expect(read("key off")).to.deep.include({ kind: "command" });
    expect(read("unplug C4")).to.deep.equal({ kind: "command", command: { do: "state", state: { ...run, opened: ["C4"] } } });
    expect(read('{"do":"move","at":"bay"}')).to.deep.equal({ kind: "command", command: { do: "move", at: "bay" } });
    for (const line of ["key sideways", "unplug C999", "fly", '{"do":"fly"}', "{", "drive 0", "temperature hot"])
      expect(read(line).kind, line).to.equal("bad");
  });
  it("starts when the starter turns and the engine module is awake", () => {
    const crank = {
      ...run,
      key: "crank" as const,
      engine: "cranking" as const,
      on: brigg.components.flatMap((c) => (c.kind === "switch" ? [c.id] : [])),
    };
    const with_ = (faults: readonly Fault[]): boolean => catches(createWorld(brigg, faults, crank, chanceOf(1)), "ECM");
    expect(with_([])).to.equal(true);
    expect(with_([{ kind: "open", link: "W21" }])).to.equal(false);
    expect(with_([{ kind: "open", link: "W4" }])).to.equal(false);
  });
  it("shakes only what lies where it is moved", () => {
    const world = createWorld(brigg, [{ kind: "series", link: "C1.8", ohms: 2 }], run, chanceOf(2));
    const volts = (): number => world.now().volts("TCM.1");
    const still = volts();
    world.setMoving("C4");
    expect(volts()).to.equal(still);
    world.setMoving("C1");
    const seen = new Set(Array.from({ length: 5 }, () => (world.shake(), volts())));
    expect(seen.size).to.be.above(2);
  });
});

it("the vehicle bears 100,000 changed messages: it answers, refuses or hangs up", () => {
  const v = vehicle([lostReturn]);
  v.pass(5);
  const chance = chanceOf(11);
  const good = ["3E00", "22F190", "220100", "19022F", "1904011800FF", "1003", "03", "010C05", "14FFFFFF", "2F05050301", "8502"].map(
    (d) => `02FD8001000000${(4 + d.length / 2).toString(16).padStart(2, "0")}0E801001${d}`,
  );
  const start = "02FD0005000000070E800000000000";
  let [answered, hungUp] = [0, 0];
  let line: Connection | undefined;
  for (let n = 0; n < 100_000; n++) {
    // What was told to be long swallows what follows: a tester that hears nothing connects anew, and takes the place of the one that is gone.
    if (line === undefined || n % 20 === 0) {
      line = v.entity.connect(
        { send: () => void answered++, close: () => ((line = undefined), void hungUp++), later: (_, then) => then() },
        n,
      );
      line.receive(Buffer.from(start, "hex"), n);
    }
    const bytes = [...Buffer.from(good[Math.floor(chance() * good.length)]!, "hex")];
    for (let k = 0; k < chance() * 3; k++) {
      const at = Math.floor(chance() * bytes.length);
      if (chance() < 0.7) bytes[at] = Math.floor(chance() * 256);
      else bytes.splice(at, chance() < 0.5 ? 1 : 0, Math.floor(chance() * 256));
    }
    line?.receive(Uint8Array.from(bytes), n);
  }
  expect(answered).to.be.above(50_000);
  expect(hungUp).to.be.above(1000);
});
