import { execFile } from "node:child_process";
import { fileURLToPath } from "node:url";
import { promisify } from "node:util";
import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { predictReading } from "@rheonom/core/instruments";
import { parseNotation } from "@rheonom/core/notation";
import { latin1Of } from "@rheonom/protocol/bytes";
import { chanceOf } from "../../../../packages/protocol/src/test/chance.ts";
import { readBenchCommand, workBench } from "./control.ts";
import type { Device } from "./device.ts";
import { createMeter } from "./meter.ts";
import { runInstrument } from "./run.ts";
import { createScope } from "./scope.ts";
import { createBenchWorld, type BenchWorld } from "./world.ts";

/** A work lamp of 21 W on 12 V behind a fuse, 6 m of wire in all. */
const { harness } = parseNotation(`BAT(battery 12V)
BAT.+ -- W1 RD 2.5mm2 1m -- F1(10A).1
F1.2 -- W2 YE 1mm2 3m -- L1(lamp 21W).1
L1.2 -- W3 BN 1mm2 2m -- BAT.-`);
const bench = (
  make: (world: BenchWorld) => Device,
): { readonly world: BenchWorld; readonly device: Device; readonly do: (line: string) => string } => {
  const world = createBenchWorld(harness!, [{ kind: "series", link: "W3", ohms: 0.5 }], REST_STATE, chanceOf(3));
  const device = make(world);
  const work = (line: string): string => {
    const read = readBenchCommand(line, harness!, world.state());
    if (read.kind === "bad") return read.message;
    workBench(world, read.command);
    return "";
  };
  return { world, device, do: work };
};
const ask = (device: Device, message: string): string => latin1Of(device.handle(message)).trimEnd();
const run = promisify(execFile);
/** Asks by a library of somebody else's. */
async function elsewhere(device: Device, steps: readonly (readonly [string, string])[]): Promise<readonly unknown[]> {
  const running = await runInstrument(device, "127.0.0.1", 0);
  try {
    const script = fileURLToPath(new URL("../test/ask.py", import.meta.url));
    const { stdout } = await run("/usr/bin/python3", [script, String(running.port), JSON.stringify(steps)], { maxBuffer: 1e8 });
    return JSON.parse(stdout) as readonly unknown[];
  } finally {
    await running.stop();
  }
}

describe("the stand-in meter", () => {
  it("shows what the circuit does between its leads, within what such a meter may be off", () => {
    const { device, do: work, world } = bench(createMeter);
    expect(work("leads L1.2 BAT.-")).to.equal("");
    const truth = predictReading(harness!, world.state(), world.faults(), { quantity: "volts", red: "L1.2", black: "BAT.-" });
    const volts = truth.kind === "value" ? truth.value : NaN;
    // 0.5 Ω and 2 m of 1 mm² at some 1.6 A.
    expect(volts).to.be.within(0.7, 1);
    for (let i = 0; i < 20; i++) expect(Number(ask(device, "READ?"))).to.be.closeTo(volts, 0.005 * volts + 0.002);
    // The last digit is not still.
    expect(new Set(Array.from({ length: 20 }, () => ask(device, "READ?"))).size).to.be.above(1);
    work("clamp W3");
    expect(Number(ask(device, "MEAS:CURR:DC?"))).to.be.within(1.3, 1.8);
  });
  it("knows leads on nothing, on each other, on a live circuit, and a range that is too small", () => {
    const { device, do: work } = bench(createMeter);
    expect(Math.abs(Number(ask(device, "MEAS:VOLT?")))).to.be.below(0.003);
    expect(ask(device, "MEAS:RES?")).to.equal("+9.90000000E+37");
    work("leads together");
    expect(Number(ask(device, "READ?"))).to.be.within(0, 0.5);
    work("leads BAT.+");
    expect(ask(device, "READ?")).to.equal("+9.90000000E+37");
    expect(Number(ask(device, "MEAS:VOLT:DC? 60"))).to.be.within(11, 13);
    expect(ask(device, "MEAS:VOLT:DC? 6")).to.equal("+9.90000000E+37");
    expect(ask(device, "STAT:QUES?;QUES?")).to.equal("1;1");
  });
  it("will not stand still on a bad joint that is being moved", () => {
    const { device, do: work } = bench(createMeter);
    work("leads L1.2 BAT.-");
    const spread = (): number => {
      const values = Array.from({ length: 30 }, () => Number(ask(device, "READ?")));
      return Math.max(...values) - Math.min(...values);
    };
    expect(spread()).to.be.below(0.01);
    work("move W3");
    expect(spread()).to.be.above(0.3);
    work("still");
    expect(spread()).to.be.below(0.01);
  });
  it("keeps errors in order, and tells what it does not take", () => {
    const { device, do: work } = bench(createMeter);
    expect(ask(device, "*ESR?")).to.equal("128");
    expect(ask(device, "NONE:SUCH 1;:CONF:VOLT:DC 1E9;:FUNC;:FETC?;:12?")).to.equal("");
    expect(ask(device, "*STB?")).to.equal("4");
    const errors = Array.from({ length: 6 }, () => ask(device, "SYST:ERR?").split(",")[0]);
    expect(errors).to.deep.equal(["-113", "-222", "-109", "-230", "-102", "0"]);
    expect(ask(device, "*ESR?")).to.equal(String(32 | 16));
    for (let i = 0; i < 40; i++) ask(device, "NONE");
    expect(ask(device, "SYST:ERR:COUN?")).to.equal("20");
    expect(ask(device, "*ESE 32;*SRE 32;*STB?")).to.equal(String(4 | 32 | 64));
    expect(ask(device, "*CLS;SYST:ERR?;*STB?")).to.equal('0,"No error";0');
    expect(ask(device, "*TST?")).to.equal("0");
    work("battery low");
    expect(ask(device, "*TST?;:SYST:ERR?")).to.equal('1;-330,"Self-test failed;battery low"');
  });
  it("answers a client of somebody else's", async () => {
    const { device, do: work } = bench(createMeter);
    work("leads BAT.+ BAT.-");
    const [identity, error, values, none, over] = await elsewhere(device, [
      ["write", "*RST;*CLS"],
      ["query", "*IDN?"],
      ["query", "SYST:ERR?"],
      ["values", "MEAS:VOLT:DC?"],
      ["write", "NONE:SUCH"],
      ["query", "SYST:ERR?"],
      ["values", "MEAS:RES?"],
    ]);
    expect(String(identity).split(",")).to.have.lengthOf(4);
    expect(error).to.equal('0,"No error"');
    expect((values as number[])[0]).to.be.within(11.5, 13);
    expect(none).to.match(/^-113,"Undefined header/);
    expect((over as number[])[0]).to.be.closeTo(9.9e37, 1e30);
  });
  it("throws away a message that does not end", async () => {
    const { device } = bench(createMeter);
    const [error, next] = await elsewhere(device, [
      ["write", "A".repeat(100_000)],
      ["query", "SYST:ERR?"],
      ["query", "SYST:ERR?"],
    ]);
    expect([error, next]).to.deep.equal(['-363,"Input buffer overrun"', '0,"No error"']);
  });
});

describe("the stand-in scope", () => {
  it("hands a recording of two channels to a client of somebody else's", async () => {
    const { device, do: work, world } = bench(createScope);
    work("probe 1 BAT.+ -");
    work("probe 2 L1.2 -");
    const [points, interval, battery, lamp, hanging, stale] = await elsewhere(device, [
      ["write", "FORM:DATA REAL,32;BORD SWAP"],
      ["write", "SENS:SWE:TIME 0.01;POIN 2000"],
      ["query", "INIT;*OPC?;:TRAC:POIN? CH1"],
      ["values", "SENS:SWE:TINT?"],
      ["block", 'TRAC:DATA? "CH1"'],
      ["block", "TRAC? CH2"],
      ["block", "TRAC? CH3"],
      ["query", "TRAC? CH9;:SYST:ERR?"],
    ]);
    expect(points).to.equal("1;2000");
    expect((interval as number[])[0]).to.be.closeTo(5e-6, 1e-12);
    const mean = (values: unknown): number => (values as number[]).reduce((sum, v) => sum + v, 0) / (values as number[]).length;
    const at = (red: string): number => {
      const r = predictReading(harness!, world.state(), world.faults(), { quantity: "volts", red, black: "BAT.-" });
      return r.kind === "value" ? r.value : NaN;
    };
    expect(battery).to.have.lengthOf(2000);
    expect(mean(battery)).to.be.closeTo(at("BAT.+"), 0.02);
    expect(mean(lamp)).to.be.closeTo(at("L1.2"), 0.005);
    expect(mean(hanging)).to.be.closeTo(0, 0.002);
    expect(stale).to.match(/^-224/);
  });
  it("has nothing to tell before it has recorded, and tells numbers when asked for text", () => {
    const { device, do: work } = bench(createScope);
    expect(ask(device, "TRAC? CH1;:SYST:ERR?")).to.match(/^-230/);
    work("probe 1 BAT.+ -");
    const text = ask(device, "FORM ASC;:SWE:POIN 5;:INIT;:TRAC? CH1");
    expect(text.split(",")).to.have.lengthOf(5);
    expect(ask(device, "FORM REAL,64;:SYST:ERR?")).to.match(/^-224/);
  });
});

describe("the hands at a stand-in instrument", () => {
  it("are told what they cannot do", () => {
    const { do: work } = bench(createMeter);
    expect(work("leads X9.1")).to.contain("X9.1");
    expect(work("clamp X9")).to.contain("X9");
    expect(work("probe 7 BAT.+")).to.contain("probe 1 to 4");
    expect(work("crank")).to.contain("does not crank");
    expect(work("dance")).to.contain("leads C5.3");
    expect(work('{"do":"leads","leads":{"on":"places","red":"X9.1","black":"BAT.-"}}')).to.contain("X9.1");
    expect(work('{"do":"leads","leads":{"on":"places","red":"L1.1","black":"BAT.-"}}')).to.equal("");
    expect(work("key run")).to.equal("");
  });
});
