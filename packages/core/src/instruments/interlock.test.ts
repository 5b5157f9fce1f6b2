import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { parseNotation } from "../notation/index.ts";
import { refusalsOf, type Act } from "./interlock.ts";

const bench: Harness = parseNotation(`circuit "interlocks"
nominal 12V
vehicle "Net Loft" "interlock bench"
zone cell "under the rear seat" 5min closed "high voltage"
G1("frame")
BAT(12.6V)
ECM(module pin 1 supply, pin 2 ground, pin 3 reference, pin 4 low when=engine=idling, pin 5 canh, pin 6 canl "module")
POT(pot "lever")
SQ(squib "left bag")
HVC(load 5A zone=cell "cell fan")
G1 -- BK 16mm2 0.5m -- BAT
BAT -- RD 2.5mm2 0.5m -- F1(10A "module") -- RD 1.5mm2 0.4m -- ECM.1
ECM.2 -- BN 1mm2 0.4m -- G1
ECM.3 -- GY 0.5mm2 0.5m -- C2.1 -- GY 0.5mm2 0.5m -- POT.P
POT.N -- BN 0.5mm2 0.5m -- G1
POT.W -- WH 0.5mm2 0.5m -- G1
F1 -- RD 1mm2 0.5m -- V1(coil 12ohm "valve").1
V1.2 -- GN 1mm2 0.5m -- C1.1 -- GN 1mm2 0.5m -- ECM.4
SQ.1 -- YE 0.75mm2 0.5m -- C3.1 -- YE 0.75mm2 0.5m -- LP(lamp 5W "bag lamp") -- BN 0.75mm2 0.5m -- G1
SQ.2 -- YE 0.75mm2 0.5m -- G1
F1 -- RD 1mm2 2m -- HVC -- BN 1mm2 1m -- G1
`).harness!;

const rules = (act: Act, volts?: number, state = REST_STATE): string[] =>
  refusalsOf(bench, state, act, volts).map((r) => `${r.harm}: ${r.rule}`);

describe("interlocks", () => {
  it("let nothing near an igniter, from whichever end of its wire", () => {
    for (const kind of ["lamp", "ohms", "powered probe", "volts", "unplug"] as const)
      expect(rules({ kind, places: ["SQ.1", "BAT.-"] }), kind).to.include("people: igniter");
    expect(rules({ kind: "ohms", places: ["C3.1b", "BAT.-"] }), "two plugs away").to.include("people: igniter");
    expect(
      rules({ kind: "ohms", places: ["C3.1b", "BAT.-"] }, undefined, { ...REST_STATE, opened: ["C3"] }),
      "its plug is apart",
    ).to.deep.equal([]);
    expect(rules({ kind: "touch", places: ["SQ.1"] })).to.deep.equal([]);
  });
  it("keep lamps off module outputs, references and buses, and let them on feeds and grounds", () => {
    expect(rules({ kind: "lamp", places: ["C1.1a", "BAT.-"] })).to.deep.equal(["equipment: lamp on output"]);
    expect(rules({ kind: "lamp", places: ["POT.P", "BAT.-"] })).to.deep.equal(["equipment: lamp on reference"]);
    expect(rules({ kind: "powered probe", places: ["ECM.5"] })).to.deep.equal(["equipment: lamp on reference"]);
    expect(rules({ kind: "lamp", places: ["ECM.1", "ECM.2"] })).to.deep.equal([]);
    expect(rules({ kind: "volts", places: ["POT.P", "BAT.-"] })).to.deep.equal([]);
    expect(
      rules({ kind: "lamp", places: ["POT.P", "BAT.-"] }, undefined, { ...REST_STATE, opened: ["ECM"] }),
      "the module is unplugged",
    ).to.deep.equal([]);
  });
  it("keep ohms off what is live", () => {
    expect(rules({ kind: "ohms", places: ["F1.2", "BAT.-"] }, 12.6)).to.deep.equal(["equipment: ohms on live"]);
    expect(rules({ kind: "ohms", places: ["F1.2", "BAT.-"] }, 0.001)).to.deep.equal([]);
  });
  it("want a fuse in a bypass, and none across the supply", () => {
    const jumper = (p: string, q: string, fused: boolean): string[] => rules({ kind: "jumper", places: [p, q], fused });
    expect(jumper("BAT.+", "V1.1", false)).to.deep.equal(["people: bypass without fuse"]);
    expect(jumper("BAT.+", "V1.1", true)).to.deep.equal([]);
    expect(jumper("F1.2", "G1", true)).to.deep.equal(["people: short across supply"]);
  });
  it("stay out of zones that are out of bounds, and say what to do instead", () => {
    const found = refusalsOf(bench, REST_STATE, { kind: "volts", places: ["HVC.1", "BAT.-"] });
    expect(found.map((r) => r.rule)).to.deep.equal(["out of bounds"]);
    expect(found[0]!.reason).to.match(/high voltage/);
    expect(found[0]!.instead).to.match(/qualified/);
  });
});
