import { expect } from "chai";
import fc from "fast-check";
import type { Harness } from "../harness/index.ts";
import { circuitOf, demoCircuits, FAN, rigs } from "../test/circuits.ts";
import { MAX_NOTATION_LENGTH, parseNotation } from "./parse.ts";
import { printNotation } from "./print.ts";

const GROUND = "\nG1 -- BK 25mm2 0.5m -- BAT";
const rest = "FAN(motor 12A) -- BK 2.5mm2 1m -- G1" + GROUND;

/** The first error as "line:column code". */
function firstProblem(text: string): string {
  const p = parseNotation(text).problems.find((q) => q.severity === "error");
  return p === undefined ? "none" : `${p.line}:${p.column} ${p.code}`;
}
const wiresOf = (h: Harness): string[] =>
  h.wires.map(
    (w) => `${w.id} ${w.colour ?? "-"} ${w.areaMm2} ${w.lengthM} ${w.from.component}.${w.from.pin}>${w.to.component}.${w.to.pin}`,
  );

describe("circuit notation", () => {
  it("reads a chain: parts, wires and the pins between them", () => {
    const h = circuitOf("BAT -- W7 RD/YE 4mm2 2m -- F3(30A) -- RD 2.5mm2 1m -- C12.4 -- RD 2.5mm2 0.8m -- " + rest);
    expect(wiresOf(h)).to.deep.equal([
      "W7 RD/YE 4 2 BAT.+>F3.1",
      "W1 RD 2.5 1 F3.2>C12.4a",
      "W2 RD 2.5 0.8 C12.4b>FAN.1",
      "W3 BK 2.5 1 FAN.2>G1.1",
      "W4 BK 25 0.5 G1.1>BAT.-",
    ]);
    expect(h.components.map((c) => `${c.id} ${c.kind}`)).to.deep.equal([
      "BAT battery",
      "F3 fuse",
      "C12 connector",
      "FAN load",
      "G1 ground",
    ]);
  });

  it("branches at a splice and joins parts without a wire", () => {
    const h = circuitOf(`BAT -- RD 4mm2 1m -- F1(20A) -- RD 2.5mm2 1m -- S1 -- RD 1.5mm2 1m -- LA(lamp 21W) -- G1
      S1 -- RD 1.5mm2 2m -- LB(lamp 21W) -- BK 1.5mm2 1m -- G1${GROUND}`);
    expect(h.wires.filter((w) => w.from.component === "S1")).to.have.length(2);
    expect(h.joints).to.deep.equal([{ from: { component: "LA", pin: "2" }, to: { component: "G1", pin: "1" } }]);
  });

  it("takes a line on with “--”, several chains with “;”, comments and dashes of any length", () => {
    const one = circuitOf("BAT -- RD 4mm2 1m -- F1(20A) -- RD 2.5mm2 1m -- " + rest);
    const other = circuitOf(
      "# feed\nBAT — RD 4mm2 1m – F1(20A) --   # to the fan\n  RD 2.5mm2 1m\n  -- FAN(motor 12A) -- BK 2.5mm2 1m -- G1 ; G1 -- BK 25mm2 0.5m -- BAT",
    );
    expect(other).to.deep.equal(one);
  });

  it("reads units, gauges, both cases and free names", () => {
    const h =
      circuitOf(`circuit "Horn, low"\nnominal 24V\nbat(25.2V 8mohm "under the step") -- rd-bk 14AWG 150cm -- f1(7.5a) -- 1.5 2 -- HORN(coil 40W pins A B at "grille") -- bk 1sq 30cm -- g1(on frame)
      G1 -- BK 35mm2 0.4m -- BAT`);
    expect(h.name).to.equal("Horn, low");
    expect(h.nominalVolts).to.equal(24);
    expect(h.wires[0]).to.include({ colour: "RD/BK", lengthM: 1.5 });
    expect(h.wires[0]!.areaMm2, "14 AWG").to.be.closeTo(2.08, 0.01);
    expect(h.wires[1]).to.include({ areaMm2: 1.5, lengthM: 2 });
    const battery = h.components[0]!;
    expect(battery).to.include({ kind: "battery", restVolts: 25.2, label: "under the step" });
    expect(battery.kind === "battery" && battery.internalOhms).to.be.closeTo(0.008, 1e-12);
    expect(h.components.find((c) => c.id === "HORN")).to.deep.include({
      sort: "coil",
      rating: { watts: 40 },
      pins: ["A", "B"],
      at: "grille",
    });
  });

  it("takes 1 m where no length is given, and says so", () => {
    const { harness, problems } = parseNotation("BAT -- RD 4mm2 -- F1(20A) -- RD 2.5mm2 1m -- " + rest);
    expect(harness?.wires[0]).to.include({ lengthM: 1, lengthAssumed: true });
    expect(problems.map((p) => p.code)).to.deep.equal(["length-assumed"]);
  });

  // What is wrong, where it stands, and its code.
  const WRONG: readonly (readonly [string, string])[] = [
    ["", "1:1 empty"],
    ["BAT -- RD 0mm2 1m -- F1(10A) -- RD 1mm2 1m -- " + rest, "1:11 wire-area"],
    ["BAT -- RD -- F1(10A) -- RD 1mm2 1m -- " + rest, "1:8 wire-area"],
    ["BAT -- RD 2,5mm2 1m -- F1(10A) -- RD 1mm2 1m -- " + rest, "1:11 decimal-comma"],
    ["BAT -- RD 2.5.1mm2 1m -- F1(10A) -- RD 1mm2 1m -- " + rest, "1:11 not-a-number"],
    ["BAT -- RX 2.5mm2 1m -- F1(10A) -- RD 1mm2 1m -- " + rest, "1:8 wire-colour"],
    ["BAT -- RD 2.5mm2 900m -- F1(10A) -- RD 1mm2 1m -- " + rest, "1:18 wire-length"],
    ["BAT -- RD 2.5mm2 1m -- RD 1mm2 1m -- " + rest, "1:24 two-wires"],
    ["RD 2.5mm2 1m -- F1(10A)", "1:1 wire-end"],
    ["BAT -- RD 2.5mm2 1m -- F1(10A) --\n\n", "1:32 dangling-join"],
    ["BAT -- -- F1(10A) -- RD 1mm2 1m -- " + rest, "1:8 empty-item"],
    ["BAT -- RD 2.5mm2 1m -- F1 -- RD 1mm2 1m -- " + rest, "1:24 fuse-rating"],
    ["BAT -- RD 2.5mm2 1m -- F1(10A -- RD 1mm2 1m -- " + rest, "1:26 open-parenthesis"],
    ['BAT -- RD 2.5mm2 1m -- F1(10A "left) -- RD 1mm2 1m -- ' + rest, "1:31 open-quote"],
    ["BAT -- RD 2.5mm2 1m -- C3 -- RD 1mm2 1m -- " + rest, "1:24 pin"],
    ["BAT -- RD 2.5mm2 1m -- C3.left -- RD 1mm2 1m -- " + rest, "1:24 pin"],
    ["BAT -- RD 2.5mm2 1m -- PUMP -- BK 1mm2 1m -- G1" + GROUND, "1:24 unknown-part"],
    ["BAT -- RD 2.5mm2 1m -- PUMP(motor) -- BK 1mm2 1m -- G1" + GROUND, "1:24 load-rating"],
    ["BAT -- RD 2.5mm2 1m -- PUMP(motor 0A) -- BK 1mm2 1m -- G1" + GROUND, "1:35 rating-zero"],
    ["BAT -- RD 2.5mm2 1m -- PUMP(moter 3A) -- BK 1mm2 1m -- G1" + GROUND, "1:29 unknown-word"],
    ["BAT -- W1 RD 2mm2 1m -- S1 -- W1 RD 2mm2 1m -- " + rest, "1:31 wire-twice"],
    ["F1(10A)\nF1(15A)\nBAT -- RD 1mm2 1m -- F1 -- RD 1mm2 1m -- " + rest, "2:1 said-twice"],
    ["nominal 13V\nBAT -- RD 1mm2 1m -- " + rest, "1:1 nominal"],
    ["C12", "1:1 alone"],
    ["BAT -- RD 1mm2 1m -- " + "LONG".repeat(10) + "(motor 2A) -- BK 1mm2 1m -- G1" + GROUND, "1:22 name-long"],
    ["F1(10A) -- RD 1mm2 1m -- " + rest.replace("BAT", "G9"), "1:1 no-battery"],
    // The load stands on a ground whose metal nothing joins to the battery.
    ["BAT -- RD 1mm2 1m -- F1(15A) -- RD 1mm2 1m -- FAN(motor 2A) -- BK 1mm2 1m -- G5", "1:78 mass-without-return"],
    ["BAT -- RD 1mm2 1m -- C1.1 -- RD 1mm2 1m -- " + rest + "\nBAT -- RD 1mm2 1m -- C1.1", "1:22 cavity-shared"],
  ];
  for (const [text, found] of WRONG) {
    it(`says ${found} for ${JSON.stringify(text.slice(0, 42))}`, () => {
      expect(firstProblem(text)).to.equal(found);
      expect(parseNotation(text).harness).to.equal(undefined);
    });
  }

  it("warns of what is doubtful and goes on", () => {
    const text = "BAT -- RD 1mm2 1m -- F1(5A) -- RD 1mm2 1m -- " + rest + '\nG7("tailgate")\nS4(splice)';
    const { harness, problems } = parseNotation(text);
    expect(harness).to.not.equal(undefined);
    expect(problems.map((p) => `${p.severity} ${p.code}`)).to.have.members([
      "warning fuse-small",
      "warning ground-unused",
      "warning open-end",
    ]);
    expect(problems.find((p) => p.code === "ground-unused")!.message).to.contain("G7");
  });

  it("finds every fault of a text at once, in order of the lines", () => {
    const codes = parseNotation("BAT -- RD 0mm2 1m -- F1\nX -- YZ 1mm2 1m -- G1").problems.map((p) => [p.line, p.code]);
    expect(codes).to.deep.equal([
      [1, "wire-area"],
      [1, "fuse-rating"],
      [2, "unknown-part"],
      [2, "wire-colour"],
    ]);
  });

  it("turns down a text that is too long before reading it", () => {
    const { harness, problems } = parseNotation("BAT -- RD 1mm2 1m -- F1(10A)\n".repeat(140_000));
    expect(harness).to.equal(undefined);
    expect(problems).to.have.length(1);
    expect(problems[0]!.message).to.contain(MAX_NOTATION_LENGTH.toLocaleString("en"));
  });

  it("prints what it read, and reads that again as the same", () => {
    for (const text of [FAN, ...demoCircuits.map((d) => d.text), ...rigs.map((r) => r.text)]) {
      const harness = circuitOf(text);
      expect(circuitOf(printNotation(harness))).to.deep.equal(harness);
    }
  });

  it("reads devices with their settings, and segments of loom", () => {
    const h = circuitOf(`
BAT(12.6V charge=0.5 wear=0.2)
R1(relay coilOhms=90 suppression=diode changeover=true "fan relay")
ECM(module pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"5":{"sort":"low"}} rules=[{"pin":"5","when":{"key":["run"]}}])
BAT -- W1 RD 4mm2 1m via=dash,door -- R1.30
R1.87 -- RD 2.5mm2 1m -- D1(led) -- BK 1mm2 1m -- G1
BAT -- RD 1mm2 1m -- R1.86
R1.85 -- BU 1mm2 1m -- ECM.5
BAT -- RD 1mm2 1m -- ECM.1
ECM.2 -- BK 1mm2 1m -- G1${GROUND}`);
    const part = (id: string): unknown => h.components.find((c) => c.id === id);
    expect(part("BAT")).to.include({ charge: 0.5, wear: 0.2 });
    expect(part("R1")).to.deep.equal({
      id: "R1",
      label: "fan relay",
      kind: "device",
      device: "relay",
      settings: { coilOhms: 90, suppression: "diode", changeover: true },
    });
    expect(h.wires[0]!.segments).to.deep.equal(["dash", "door"]);
    // Two terminals are entered and left in order, as with other parts.
    expect(wiresOf(h)).to.include("W2 RD 2.5 1 R1.87>D1.A").and.to.include("W3 BK 1 1 D1.K>G1.1");
  });

  const BAD_DEVICES: readonly (readonly [string, string, RegExp])[] = [
    ["R1(relay coilOhm=85)", "1:1 setting", /coilOhm/],
    ["R1(relay coilOhms=-85)", "1:1 setting", /coilOhms/],
    ["R1(relay coilOhms=)", "1:10 setting", /not a value for coilOhms/],
    ["R1(relay 85ohm)", "1:1 device-rating", /said by name/],
    ["M1(module pins={)", "1:11 setting", /JSON/],
    ["F1(10A coilOhms=3)", "1:1 setting", /not a device and takes no coilOhms/],
    ["BAT(charge=3)", "1:1 share", /share from 0 to 1/],
    ["BAT -- RD 1mm2 1m -- R1(relay)", "1:22 pin", /Which terminal of R1/],
    ["BAT -- RD 1mm2 1m -- R1.88(relay)", "1:22 pin", /terminals 86, 85, 30, 87, not 88/],
    ["BAT -- RD 1mm2 1m via=9th -- " + rest, "1:19 wire-segment", /cannot name a segment/],
  ];
  for (const [text, where, message] of BAD_DEVICES) {
    it(`says what is wrong with ${text.slice(0, 36)}`, () => {
      expect(firstProblem(text)).to.equal(where);
      expect(parseNotation(text).problems.find((p) => p.severity === "error")!.message).to.match(message);
    });
  }

  it("never throws, whatever is typed, and always points inside the text", () => {
    const words = [
      "BAT",
      "--",
      "RD",
      "2.5mm2",
      "1m",
      "F1",
      "(10A)",
      "C1.4",
      "G1",
      "(",
      ")",
      '"',
      ";",
      "#",
      "\n",
      "S1",
      "nominal",
      "circuit",
      "W1",
      ".",
      "-",
      "on",
      "24V",
      "é",
      "Ω",
      "R1.86",
      "(relay",
      "coilOhms=85",
      'pins={"1":{"sort":"supply"',
      "via=dash,door",
      "module",
      "=",
      "{",
      "]",
    ];
    const typed = fc.array(fc.oneof(fc.constantFrom(...words), fc.string({ maxLength: 4 })), { maxLength: 40 }).map((w) => w.join(" "));
    fc.assert(
      fc.property(typed, (text) => {
        const { harness, problems } = parseNotation(text);
        const lines = text.split("\n");
        for (const p of problems) {
          expect(p.line).to.be.within(1, lines.length);
          expect(p.column).to.be.within(1, lines[p.line - 1]!.length + 1);
          expect(p.message).to.not.equal("");
        }
        expect(harness === undefined).to.equal(problems.some((p) => p.severity === "error"));
      }),
      { numRuns: 1500 },
    );
  });
});
