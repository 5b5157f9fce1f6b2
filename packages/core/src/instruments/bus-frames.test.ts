import { expect } from "chai";
import { readFileSync } from "node:fs";
import { REST_STATE, type Fault } from "../circuit/index.ts";
import { busMembersOf, linksOf } from "../harness/index.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { parseNotation } from "../notation/index.ts";
import { decodeCan, decodeLin, SINGLE_WIRE } from "../waveform/index.ts";
import { busFrames, frameSenders, isOnBus } from "./bus-frames.ts";
import { predictTraces } from "./scope.ts";

const ouse = vehicleOf("ouse");
const state = { ...REST_STATE, key: "run" as const };
const wireAt = (place: string): string => linksOf(ouse).find((l) => l.kind === "wire" && (l.a === place || l.b === place))!.id;
const trace = (faults: readonly Fault[], red: string, black: string, seconds: number, rateHz: number): Float32Array => {
  const made = predictTraces(ouse, state, faults, [{ at: { red, black }, probe: 10 }], { seconds, resolutionS: 1 / rateHz });
  if (made.kind !== "traces") throw new Error(made.kind);
  return Float32Array.from(made.channels[0]!);
};
const lin = (faults: readonly Fault[], at: string, seconds = 0.009) => {
  const samples = trace(faults, at, "BAT.-", seconds, 1e6);
  return { ...decodeLin(samples, 1e6, 12), low: Math.min(...samples), high: Math.max(...samples) };
};

describe("a simulated LIN line", () => {
  it("carries the master's headers and the answers of its slaves, at the levels of the circuit", () => {
    const { frames, baud, low, high } = lin([], "CLM.N", 0.02);
    expect(baud).to.be.closeTo(19_200, 100);
    expect(frames.map((f) => [f.id, [...f.data], f.checksum, f.problems.length])).to.deep.equal([
      [0x10, [0, 0], "enhanced", 0],
      [0x11, [1, 0], "enhanced", 0],
    ]);
    // 1 kΩ of the master and 30 kΩ of each slave against 40 Ω of a driver.
    expect(low).to.be.within(0.3, 0.9);
    expect(high).to.be.within(11.5, 12.5);
  });
  it("has a header without an answer where a slave is cut off, and levels that come short behind a bad joint", () => {
    const open: Fault[] = [{ kind: "open", link: wireAt("FL1.3") }];
    const [cut] = lin(open, "CLM.N").frames;
    expect([cut!.id, cut!.problems]).to.deep.equal([0x10, ["header without a response"]]);
    expect(lin(open, "FL1.3").frames, "behind the break nothing moves").to.deep.equal([]);
    // 20 kΩ before the slave's own 30 kΩ to its feed: 12 V · 20 / 50 are left of a dominant level.
    const behind = lin([{ kind: "series", link: wireAt("FL1.3"), ohms: 20_000 }], "FL1.3");
    expect(behind.low).to.be.within(4, 6);
    expect(behind.frames).to.deep.equal([]);
  });
});

describe("a simulated CAN bus", () => {
  const across = (faults: readonly Fault[], module: string, seconds = 0.0047) =>
    decodeCan(trace(faults, `${module}.H`, `${module}.L`, seconds, 1e7), 1e7);
  it("carries a frame of each module in turn, each answered by another", () => {
    const { baud, frames, faults } = across([], "VCM");
    expect(baud).to.be.closeTo(500_000, 2000);
    expect(frames.map((f) => [f.id, f.isAcknowledged])).to.deep.equal(
      [0x100, 0x110, 0x120, 0x130, 0x100].map((id) => [id, true]).slice(0, frames.length),
    );
    expect(frames.length).to.be.above(3);
    expect(faults).to.deep.equal([]);
  });
  it("has nobody who answers a module that is alone on it, which says so by an error flag", () => {
    const others = busMembersOf(ouse).flatMap((m) => (m.sort === "can" && m.id !== "VCM" ? [m.id] : []));
    const probe = { at: { red: "VCM.H", black: "VCM.L" }, probe: 10 } as const;
    const made = predictTraces(ouse, { ...state, opened: others }, [], [probe], { seconds: 0.0027, resolutionS: 1e-7 });
    if (made.kind !== "traces") throw new Error(made.kind);
    const { frames, faults } = decodeCan(Float32Array.from(made.channels[0]!), 1e7);
    expect([...frames.map((f) => f.problems.join()), ...faults.map((f) => f.words)].join("; ")).to.contain("nobody acknowledged it");
  });
  it("cannot let go of a stretch that has lost its ends: no frame is read there", () => {
    const cut: Fault[] = [
      { kind: "open", link: wireAt("CLM.H") },
      { kind: "open", link: wireAt("CLM.L") },
    ];
    expect(across(cut, "CLM").frames).to.deep.equal([]);
  });
});

describe("frames of buses", () => {
  it("name their senders, and are few where a recording is long", () => {
    expect([...frameSenders(ouse, "FL1.3")]).to.deep.equal([
      [0x10, "FL1"],
      [0x11, "FL2"],
      [0x12, "FL3"],
    ]);
    expect(frameSenders(ouse, "VCM.L").get(0x100)).to.be.a("string");
    expect([isOnBus(ouse, "FL1.3"), isOnBus(ouse, "BAT.+")]).to.deep.equal([true, false]);
    const said = busFrames(ouse, state, [], [{ at: { red: "CLM.N", black: "BAT.-" }, probe: 10 }], 1);
    const turns = said
      .flatMap((f) => (f.kind === "settings" ? Object.values((f.settings as { pins: Record<string, { talk?: number[] }> }).pins) : []))
      .reduce((sum, p) => sum + (p.talk?.length ?? 0), 0);
    expect(turns).to.be.within(400, 2000);
  });
  it("are left out where no probe is on a bus, and where nobody is awake", () => {
    expect(busFrames(ouse, state, [], [{ at: { red: "BAT.+", black: "BAT.-" }, probe: 10 }], 1)).to.deep.equal([]);
    const asleep = busFrames(
      ouse,
      { ...state, key: "off", opened: ["BAT"] },
      [],
      [{ at: { red: "CLM.N", black: "BAT.-" }, probe: 10 }],
      0.05,
    );
    for (const f of asleep) if (f.kind === "settings") expect(JSON.stringify(f.settings)).to.not.match(/"talk":\[\d/);
  });
});

describe("a simulated single wire", () => {
  const trim = parseNotation(readFileSync("packages/core/src/test/proving/wire-trim.circuit", "utf8")).harness!;
  const onWire = (faults: readonly Fault[], red: string) => {
    const made = predictTraces(trim, state, faults, [{ at: { red, black: "BAT.-" }, probe: 10 }], { seconds: 0.025, resolutionS: 2e-6 });
    if (made.kind !== "traces") throw new Error(made.kind);
    const samples = Float32Array.from(made.channels[0]!);
    return { ...decodeCan(samples, 5e5, SINGLE_WIRE), low: Math.min(...samples), high: Math.max(...samples) };
  };
  it("carries the frames of its modules at 33.3 kbit/s, between 0 and about 4 V", () => {
    const { baud, frames, faults, low, high } = onWire([], "TRM.3");
    expect(baud).to.be.closeTo(33_333, 150);
    expect(frames.slice(0, 4).map((f) => [f.id, f.isAcknowledged, f.problems.length])).to.deep.equal(
      [0x100, 0x110, 0x120, 0x130].map((id) => [id, true, 0]),
    );
    expect(faults).to.deep.equal([]);
    expect(low).to.be.within(-0.1, 0.1);
    expect(high).to.be.within(3.5, 4.1);
    expect(frameSenders(trim, "TRM.3").get(0x110)).to.equal("DFL");
  });
  it("is quiet behind a break but for the module there, which nobody answers", () => {
    const { frames, faults } = onWire([{ kind: "open", link: "W11" }], "DFL.3");
    expect(frames.every((f) => f.id === 0x110 && !f.isAcknowledged)).to.equal(true);
    expect(frames.length + faults.length).to.be.above(0);
  });
});
