import { expect } from "chai";
import {
  actuatorsOf,
  addressedModules,
  emissionsModule,
  fromRaw,
  liveValuesOf,
  toRaw,
  bitsOf,
  codeFromNumber,
  codeName,
  codeToNumber,
  compareScans,
  failureWords,
  readCode,
  readScanCsv,
  readTypedCodes,
  scanSchema,
  statusWord,
  triage,
  writeScanCsv,
  type CodeEntry,
  type Scan,
} from "./index.ts";
import { vehicleOf } from "../test/vehicles.ts";

const brigg = vehicleOf("brigg");
const entry = (code: string, status: CodeEntry["status"] = "active", module = "ECM"): CodeEntry => ({ module, code, status });
const scanOf = (codes: readonly CodeEntry[], silent: readonly string[] = []): Scan => ({
  format: "rheonom-scan",
  version: 1,
  takenAt: "2026-05-20T10:00:00.000Z",
  source: "scan",
  modules: [
    ...["ECM", "BCM", "TCM", "CLU"].filter((m) => !silent.includes(m)).map((id) => ({ id, answers: true })),
    ...silent.map((id) => ({ id, answers: false })),
  ],
  codes: [...codes],
});
const sort = (codes: readonly CodeEntry[], silent: readonly string[] = [], more: Partial<Parameters<typeof triage>[0]> = {}) =>
  triage({ harness: brigg, scan: scanOf(codes, silent), doneBy: () => [], works: [], ...more });

describe("readCode", () => {
  it("takes a code apart by letter, owner, area and failure type", () => {
    const of = (text: string) => {
      const read = readCode(text);
      if (read.kind === "bad") throw new Error(text);
      return [read.code.id, read.code.failureType, read.code.system, read.code.meaning, read.code.area];
    };
    expect(of(" p0301 ")).to.deep.equal(["P0301", undefined, "power train", "standard", "ignition and misfire"]);
    expect(of("U0100-87")).to.deep.equal(["U0100", "87", "network", "standard", "lost word of a module"]);
    expect(of("P1234")).to.deep.equal(["P1234", undefined, "power train", "maker", undefined]);
    // P30 to P33 are the maker's, P34 and up the standard's.
    expect([of("P33FF")[3], of("P3400")[3], of("P2101")[3], of("C1201")[3]]).to.deep.equal(["maker", "standard", "standard", "maker"]);
  });
  it("names the character that is wrong and what was expected there", () => {
    const bad = (text: string) => {
      const read = readCode(text);
      return read.kind === "bad" ? [read.at, read.found] : ["read", ""];
    };
    expect(bad("X0301")).to.deep.equal([0, "X"]);
    expect(bad("P4301")).to.deep.equal([1, "4"]);
    expect(bad("P03O1")).to.deep.equal([3, "O"]);
    expect(bad("P030")).to.deep.equal([4, ""]);
    expect(bad("P0301x")).to.deep.equal([5, "X"]);
    expect(bad("P0301-8")).to.deep.equal([7, ""]);
    expect(bad("P0301-871")).to.deep.equal([8, "1"]);
    expect(bad("  P0G01")).to.deep.equal([4, "G"]);
  });
  it("goes to its number and back, as on the wire", () => {
    // P is 00, C 01, B 10, U 11 in the two highest bits: U0100 = 0xC100, B1234 = 0x9234.
    expect([codeToNumber("P0301"), codeToNumber("U0100"), codeToNumber("B1234"), codeToNumber("C3FFF")]).to.deep.equal([
      0x0301, 0xc100, 0x9234, 0x7fff,
    ]);
    for (let v = 0; v <= 0xffff; v += 37) expect(codeToNumber(codeFromNumber(v))).to.equal(v);
    expect(() => codeFromNumber(0x10000)).to.throw(RangeError);
  });
  it("words failure types, and says only the group of one that it does not know", () => {
    expect([failureWords("87"), failureWords("1a"), failureWords("1D")]).to.deep.equal([
      "message missing",
      "resistance too low",
      "current out of range",
    ]);
    expect(failureWords("2B")).to.match(/signal.*not known/);
    expect(failureWords("F0")).to.equal("manufacturer-specific");
  });
  it("reads the status byte bit by bit", () => {
    expect(bitsOf(0x2f)).to.deep.equal(["failed", "failedThisCycle", "pending", "confirmed", "failedSinceClear"]);
    expect([0x2f, 0x2c, 0x04, 0x50, 0x01].map(statusWord)).to.deep.equal(["active", "stored", "pending", undefined, "active"]);
  });
});

describe("typed and imported codes", () => {
  it("takes status and module in either order, silent modules, and leaves what is good when a line is not", () => {
    const read = readTypedCodes(
      "U0100-87 active ECM\nP0301 ECM pending\n\n# from the tool\nBCM silent\nP03O2 active ECM\nP0118 loud ECM x",
    );
    expect(read.codes.map((c) => [codeName(c), c.status, c.module])).to.deep.equal([
      ["U0100-87", "active", "ECM"],
      ["P0301", "pending", "ECM"],
    ]);
    expect(read.silent).to.deep.equal(["BCM"]);
    expect(read.misread.map((m) => [m.line, m.column, m.found])).to.deep.equal([
      [6, 4, "O"],
      [7, 12, "ECM"],
    ]);
  });
  it("writes a table that it reads back, silent modules included", () => {
    const scan = scanOf([{ ...entry("U0100", "active", "BCM"), failureType: "87", statusByte: 0x2f }, entry("P0118", "stored")], ["TCM"]);
    const back = readScanCsv(writeScanCsv(scan));
    expect(back).to.deep.equal({ codes: scan.codes, silent: ["TCM"], misread: [] });
    expect(scanSchema.parse(JSON.parse(JSON.stringify(scan)))).to.deep.equal(scan);
  });
  it("reads a foreign table with other columns, and says where one is broken", () => {
    const read = readScanCsv("Status,Code,Module\nactive,P0642,ECM\nstored,Q0001,ECM\nloud,P0118,ECM\n");
    expect(read.codes.map((c) => [c.code, c.status, c.module])).to.deep.equal([["P0642", "active", "ECM"]]);
    expect(read.misread.map((m) => [m.line, m.found])).to.deep.equal([
      [3, "Q"],
      [4, "loud"],
    ]);
    expect(readScanCsv("a,b\n1,2").misread[0]!.expected).to.contain("code");
  });
  it("tells what came back after clearing", () => {
    const change = compareScans([entry("P0118"), entry("P0301")], [entry("P0118", "pending"), entry("P0642")]);
    expect([change.gone, change.came, change.stayed].map((l) => l.length)).to.deep.equal([1, 1, 1]);
    expect(change.gone[0]!.code).to.equal("P0301");
  });
});

describe("what a harness means on a tester's line", () => {
  const values = liveValuesOf(brigg, "ECM");
  it("numbers the modules from the entity on, and finds the one that watches the powertrain", () => {
    expect(addressedModules(brigg).map((m) => `${m.id} ${m.address.toString(16)}`)).to.deep.equal([
      "ECM 1001",
      "BCM 1002",
      "TCM 1003",
      "CLU 1004",
    ]);
    expect(emissionsModule(brigg)).to.equal("ECM");
  });
  it("turns volts behind a pull-up into the sensor's temperature", () => {
    const coolant = values.find((v) => v.unit === "°C" && v.sensor === "ECT")!;
    // 2.2 kΩ at 25 °C behind 2.2 kΩ from 5 V: half.
    expect(coolant.fromVolts(2.5, 12.6)).to.be.closeTo(25, 1e-6);
    expect([coolant.fromVolts(4.999, 12.6), coolant.fromVolts(0, 12.6)]).to.deep.equal([-50, 150]);
  });
  it("tells what a module wants of an output from its own rules, and what that works", () => {
    const fan = values.find((v) => v.pin === "7" && v.wants !== undefined)!;
    // ECM.7 is on while T1 stands below 0.9 V: hot.
    const by = (t1: number) => ({
      volts: (pin: string) => (pin === "T1" ? t1 : 5),
      pulses: () => true,
      key: "run",
      engine: "idling",
      input: 0,
    });
    expect([fan.wants!(by(0.8)), fan.wants!(by(2.5))]).to.deep.equal([true, false]);
    expect(fan.works).to.deep.equal(["FAN"]);
  });
  it("sends every value in two bytes and reads it back", () => {
    for (const [unit, v] of [
      ["V", 12.574],
      ["°C", -40],
      ["%", 33.3],
    ] as const)
      expect(fromRaw(unit, toRaw(unit, v))).to.be.closeTo(v, 0.05);
    expect(toRaw("V", NaN)).to.equal(0xffff);
  });
  it("lets a tester work light, sound and air only", () => {
    const names = addressedModules(brigg).flatMap((m) => actuatorsOf(brigg, m.id).map((a) => a.name));
    expect(names.join()).to.contain("side light").and.contain("radiator fan");
    expect(names.join()).to.not.match(/pump|injector|coil|start|lock|winch|valve/);
  });
});

describe("triage", () => {
  it("puts a silent module before the codes that others have about it", () => {
    const found = sort([entry("U0100", "active", "BCM"), entry("P0118", "stored", "BCM")], ["ECM"]);
    expect(found.codes[0]).to.deep.include({ role: "consequence", of: "ECM" });
    expect(found.first).to.deep.equal({ what: "ECM", why: "it does not answer, and 1 code follows from that", parts: ["ECM"] });
  });
  it("takes sensor codes for what follows from the reference that they hang on", () => {
    const found = sort([entry("P0107"), entry("P0522"), entry("P0642"), entry("P0118")]);
    const role = (code: string) => found.codes.find((c) => c.entry.code === code)!;
    expect(role("P0107")).to.deep.include({ role: "consequence", of: "P0642" });
    expect(role("P0522")).to.deep.include({ role: "consequence", of: "P0642" });
    expect(role("P0642").role).to.equal("cause");
    // The coolant sensor is a thermistor behind the module's own pull-up: the reference is nothing to it.
    expect(role("P0118").role).to.equal("cause");
    expect(found.first!.what).to.equal("P0642");
  });
  it("sends to what several failing codes share before any of them, unless something works through it", () => {
    const found = sort([entry("P0118"), entry("P0113")]);
    expect(found.first!.what).to.contain("ECM.R2");
    expect(found.first!.why).to.contain("P0118 and P0113");
    expect(sort([entry("P0118"), entry("P0113")], [], { works: ["MAP", "OPS", "PED", "CAM"] }).first!.what).to.match(/^P01/);
  });
  it("names our own doing, low supply, and history, each with its reason", () => {
    const own = sort([entry("P0118")], [], { doneBy: (c) => (c === "P0118" ? ["ECT unplugged or pulled"] : []) });
    expect(own.codes[0]!.role).to.equal("own doing");
    expect(own.codes[0]!.reason).to.contain("ECT");
    const low = sort([entry("P0562"), entry("P0301", "stored")], [], { batteryVolts: 11.2 });
    expect(low.codes[0]).to.deep.include({ role: "consequence", of: "battery" });
    expect(low.first!.what).to.equal("battery");
    expect(low.codes[1]!.role).to.equal("history");
    expect(sort([entry("P0562")], [], { batteryVolts: 12.6 }).codes[0]!.role).to.equal("cause");
    expect(sort([entry("P0301", "stored")]).codes[0]!.role, "with nothing active it is all there is").to.equal("cause");
  });
  it("sends a code about another module's data to the module that owns the input", () => {
    const found = sort([entry("U0401", "active", "BCM"), entry("P0118")]);
    expect(found.codes[0]).to.deep.include({ role: "consequence", of: "P0118" });
  });
  it("tells hard faults from those that stay away after clearing", () => {
    const found = sort([entry("P0118")], [], { beforeClear: scanOf([entry("P0118"), entry("P0301")]) });
    expect(found.codes.map((c) => [c.entry.code, c.came])).to.deep.equal([
      ["P0118", "back at once"],
      ["P0301", "not back"],
    ]);
    expect(found.codes[1]).to.deep.include({ role: "history" });
    expect(found.codes[1]!.reason).to.match(/repaired, if it stays away over a drive/);
  });
  it("knows that a permanent code outlives the repair, and takes it for a cause only beside the same code that is still there", () => {
    const alone = sort([entry("P0118", "permanent")]);
    expect(alone.codes[0]).to.deep.include({ role: "history" });
    expect(alone.codes[0]!.reason).to.match(/until its monitor has run/);
    expect(alone.first).to.equal(undefined);
    expect(sort([entry("P0118", "permanent"), entry("P0118")]).codes.map((c) => c.role)).to.include("cause");
  });
  it("finds what the parts behind the codes share and a working one does not", () => {
    const found = sort([entry("P0118"), entry("P0113")]);
    // Both thermistors come back through the sensor ground of the engine loom.
    expect(found.shared.slice(0, 8).some((n) => n.failing.includes("ECT") && n.failing.includes("IAT"))).to.equal(true);
    expect(sort([entry("P0118")]).shared).to.deep.equal([]);
  });
  it("does not lose a code, and gives each one role, whatever comes", () => {
    const codes = Array.from({ length: 60 }, (_, i) =>
      entry(
        codeFromNumber((i * 997) % 0x10000),
        (["active", "pending", "stored", "permanent"] as const)[i % 4],
        ["ECM", "BCM", "", "XYZ"][i % 4]!,
      ),
    );
    const found = sort(codes, ["TCM"]);
    expect(found.codes.map((c) => c.entry)).to.deep.equal(codes);
    expect(found.codes.every((c) => c.reason !== "")).to.equal(true);
  });
});
