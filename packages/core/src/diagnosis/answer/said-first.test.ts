import { expect } from "chai";
import { REST_STATE, type VehicleState } from "../../circuit/index.ts";
import { catalogueOf } from "../../faults/index.ts";
import { leadFuseAmps } from "../../harness/index.ts";
import { predictReading } from "../../instruments/index.ts";
import { parseNotation } from "../../notation/index.ts";
import { ask, said, shown } from "../../test/evidence.ts";
import { provingCircuit, stateOf } from "../../test/proving/cases.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import { answerCase } from "./case-file.ts";
import { diagnose } from "./diagnose.ts";
import { stateInWhich } from "./not-asked.ts";

const rear = provingCircuit("rear-cluster");
const TAIL: VehicleState = stateOf({ on: ["SW1"] });
const dark = (part: string, state = TAIL): Evidence => said(state, { kind: "part", part }, "none");
const of = (element: string, answer: ReturnType<typeof answerCase>): number =>
  answer.suspects.filter((s) => s.element === element).reduce((sum, s) => sum + s.probability, 0);

describe("what is said before anything is suspected", () => {
  it("a part that nobody switched on is not a suspect: the switch is named, and nothing else", () => {
    const answer = answerCase(ask(rear, ["TL1"], stateOf(), [dark("TL1", stateOf())]));
    expect(answer.notAsked.map((n) => n.words).join()).to.match(/SW1 \(lamps\) is not switched on/);
    expect([answer.suspects, answer.next, answer.enoughToAct.yes, answer.enoughToAct.element]).to.deep.equal([[], [], false, null]);
  });
  it("finds two switches and a key where all are needed, and no more", () => {
    const start = provingCircuit("cold-start");
    const off: VehicleState = { ...REST_STATE };
    expect(stateInWhich(start, "STA", off))
      .to.include({ key: "crank", engine: "cranking" })
      .and.to.deep.include({ on: ["CLS"] });
    expect(stateInWhich(rear, "TP", off)).to.deep.include({ key: "off", on: ["SW3"] });
  });
  it("suspects as usual once it is asked, or once something was measured", () => {
    expect(answerCase(ask(rear, ["TL1"], TAIL, [dark("TL1")]), "none").suspects).not.to.deep.equal([]);
    const measured = [dark("TL1", stateOf()), shown(rear, stateOf(), { kind: "volts", red: "TL1.1", black: "BAT.-" }, [])];
    expect(answerCase(ask(rear, ["TL1"], stateOf(), measured), "none").notAsked).to.have.length(1);
  });
});

describe("what nobody said", () => {
  const one = answerCase(ask(rear, ["TL1"], TAIL, [dark("TL1")]), "none");
  it("counts against what would put out half the vehicle when a single lamp is complained of", () => {
    expect(of("G1", one)).to.be.below(0.25 * of("TL1", one));
    expect(of("F1", one)).to.be.below(0.5 * of("TL1", one));
  });
  it("does not when the others are said to be dark too", () => {
    const all = answerCase(ask(rear, ["TL1"], TAIL, [dark("TL1"), dark("TL2"), dark("NPL")]), "none");
    expect(of("G1", all)).to.be.above(10 * of("TL1", all));
  });
});

describe("full voltage at a part that does too little", () => {
  const pump: VehicleState = stateOf({ on: ["SW3"] });
  const CASES: readonly (readonly [string, string, VehicleState, string, number])[] = [
    ["a motor", "TP", pump, "weak", 12.3],
    ["a lamp", "TL1", TAIL, "none", 12.4],
    ["a dim lamp", "NPL", TAIL, "weak", 12.4],
  ];
  for (const [words, part, state, word, value] of CASES)
    it(`${words}: the part itself comes first`, () => {
      const evidence: readonly Evidence[] = [
        said(state, { kind: "part", part }, word as "weak"),
        {
          ...dark(part, state),
          observe: { kind: "volts", red: `${part}.1`, black: `${part}.2` },
          result: { kind: "value", value, resolution: 0.01 },
        },
      ];
      const { suspects } = answerCase(ask(rear, [part], state, evidence), "none");
      expect(suspects[0]!.element).to.equal(part);
      expect(suspects[0]!.probability).to.be.above(2 * (suspects[1]?.probability ?? 0));
    });
  it("the reading on which all hangs is confirmed by another one, not by itself", () => {
    const evidence: readonly Evidence[] = [
      dark("TL1"),
      {
        ...dark("TL1"),
        id: "v",
        observe: { kind: "volts", red: "TL1.1", black: "TL1.2" },
        result: { kind: "value", value: 12.4, resolution: 0.01 },
      },
    ];
    const { next } = answerCase(ask(rear, ["TL1"], TAIL, evidence));
    expect(next[0]!.observe).not.to.deep.equal(evidence[1]!.observe);
    expect(new Set(next.map((n) => JSON.stringify([n.observe, n.state]))).size).to.equal(next.length);
  });
});

describe("leads with a fuse", () => {
  it("have the rating of the circuit that they are put on, ten amperes where it has none", () => {
    expect(leadFuseAmps(rear, "TP.1", "BAT.+")).to.equal(20);
    expect(leadFuseAmps(rear, "TL1.2", "BAT.-")).to.equal(15);
    expect(leadFuseAmps(rear, "BAT.+", "BAT.-")).to.equal(10);
  });
  it("blow in the model where they join feed to ground, and carry what a part takes", () => {
    const volts = (bridged: [string, string][], at: string): number => {
      const r = predictReading(rear, stateOf({ bridged }), [], { quantity: "volts", red: at, black: "BAT.-" });
      return r.kind === "value" ? r.value : NaN;
    };
    expect(volts([["TP.1", "BAT.+"]], "TP.1")).to.be.above(12.2);
    // Ground side of the lamps: the lead's fuse goes, and what is left stands at ground.
    expect(volts([["S3", "BAT.+"]], "S3")).to.be.below(0.01);
  });
  it("are not put where a suspect worth the name would blow them", () => {
    const fault = catalogueOf(rear)
      .find((f) => f.id === "W27 short to ground")!
      .faultAt(0.05);
    const evidence = [dark("TP", pump2), shown(rear, pump2, { kind: "volts", red: "F3.2", black: "BAT.-" }, [fault])];
    const { next } = answerCase(ask(rear, ["TP"], pump2, evidence));
    const shorted = ["SW3.2", "C3.1a", "C3.1b", "TP.1"];
    expect(next.flatMap((n) => n.state.bridged.flat()).filter((p) => shorted.includes(p))).to.deep.equal([]);
    expect(next.length).to.be.above(0);
  });
  it("come off again: what is measured next does not stand on a lead that was put on for one test", () => {
    const led: VehicleState = { ...pump2, bridged: [["TP.2", "BAT.-"]] };
    const evidence = [dark("TP", pump2), said(led, { kind: "part", part: "TP" }, "none")];
    const { next } = answerCase(ask(rear, ["TP"], pump2, evidence, { vehicleNow: led }));
    const measured = next.filter((n) => n.kind === "measure");
    expect(measured).not.to.deep.equal([]);
    expect(measured.flatMap((n) => n.state.bridged)).to.deep.equal([]);
  });
  const pump2: VehicleState = stateOf({ on: ["SW3"] });
});

describe("a new fuse", () => {
  const pump: VehicleState = stateOf({ on: ["SW3"] });
  const blown = [dark("TP", pump), said(pump, { kind: "look", at: "F3" }, "burnt")];
  it("that blew at once leaves the fuse alone no suspect; one that holds clears what it feeds", () => {
    const again = answerCase(ask(rear, ["TP"], pump, [...blown, said(pump, { kind: "fuse", at: "F3" }, "blew at once")]), "none");
    expect(of("F3", again)).to.be.below(0.1);
    const holds = answerCase(ask(rear, ["TP"], pump, [...blown, said(pump, { kind: "fuse", at: "F3" }, "holds")]), "none");
    expect(of("F3", holds)).to.be.above(0.9);
  });
  it("is proposed only after a lamp in its place, and is never enough while what blew it may be left", () => {
    const before = answerCase(ask(rear, ["TP"], pump, blown));
    expect(before.next.map((n) => n.kind)).not.to.include("renew fuse");
    expect(before.next.map((n) => n.kind)).to.include("lamp in place of fuse");
    expect(before.enoughToAct.yes).to.equal(false);
  });
  it("is not enough either while what blew it in another state than that of the complaint may be left", () => {
    const { harness } = parseNotation(`circuit "One fuse, two switches"
BAT(12.6V)
F1(10A)
SW1(switch)
SW2(switch)
LA(lamp 5W)
LB(lamp 5W)
G1("frame")
BAT -- W1 RD 4mm2 1m -- F1 -- W2 RD 1.5mm2 1m -- S1
S1 -- W3 GN 1mm2 1m -- SW1 -- W4 GN 1mm2 1m -- LA -- W5 BK 1mm2 1m -- G1
S1 -- W6 BU 1mm2 1m -- SW2 -- W7 BU 1mm2 4m -- LB -- W8 BK 1mm2 1m -- G1
G1 -- W9 BK 16mm2 0.5m -- BAT`);
    const [one, both] = [stateOf({ on: ["SW1"] }), stateOf({ on: ["SW1", "SW2"] })];
    const short = catalogueOf(harness!)
      .find((f) => f.id === "W7 short to ground")!
      .faultAt(0.05);
    const pulled = { ...one, opened: ["F1"] };
    const lamp = { kind: "lamp", red: "F1.1", black: "F1.2", watts: 21 } as const;
    const blewIn = (state: VehicleState): readonly Evidence[] => [
      dark("LA", one),
      said(state, { kind: "look", at: "F1" }, "burnt"),
      shown(harness!, pulled, lamp, [short]),
      shown(harness!, one, { kind: "volts", red: "F1.1", black: "BAT.-" }, [short]),
      shown(harness!, pulled, { kind: "volts", red: "F1.1", black: "F1.2" }, [short]),
    ];
    const answerFor = (evidence: readonly Evidence[]) => answerCase(ask(harness!, ["LA"], one, evidence));
    expect(answerFor(blewIn(one)).enoughToAct.missing.filter((m) => m.what === "cause")).to.deep.equal([]);
    const { enoughToAct, next } = answerFor(blewIn(both));
    expect(enoughToAct.yes).to.equal(false);
    expect(enoughToAct.missing.map((m) => m.words).join()).to.match(/SW2.*lamp in its place/);
    expect(next[0]).to.deep.include({ observe: lamp, kind: "lamp in place of fuse" });
    expect(next[0]!.state.on).to.deep.equal(both.on);
    // It glows at full there: the fuse alone is not what is wrong.
    const after = answerFor([...blewIn(both), shown(harness!, next[0]!.state, lamp, [short])]);
    expect(after.enoughToAct.yes).to.equal(false);
    expect(after.suspects.map((x) => x.element)).to.include("W7");
  });
});

describe("a splice", () => {
  it("that is corroded is told from one bad wire by two of its branches", () => {
    const fault = { kind: "splice", splice: "S3", ohms: 2 } as const;
    const both: VehicleState = stateOf({ on: ["SW1", "SW2"] });
    const read = (red: string, black: string): Evidence => shown(rear, both, { kind: "volts", red, black }, [fault]);
    const evidence = [
      shown(rear, both, { kind: "part", part: "TL1" }, [fault]),
      shown(rear, both, { kind: "part", part: "BL1" }, [fault]),
      read("TL1.2", "C1.3a"),
      read("BL1.2", "C1.3a"),
      read("TL1.2", "BL1.2"),
      read("C1.3b", "BAT.-"),
    ];
    const { suspects } = answerCase(ask(rear, ["TL1", "BL1"], both, evidence), "none");
    expect(suspects[0]!.element).to.equal("S3");
  });
});

describe("a code for lost communication", () => {
  it("brings in the lines of the module that is missed, with a failure type behind it or without", () => {
    const harness = vehicleOf("brigg");
    const run: VehicleState = { ...REST_STATE, key: "run" };
    const suspected = (code: string): number => {
      const e = said(run, { kind: "code", code }, "active", { source: "scan" });
      return diagnose(ask(harness, ["FPU"], run, [e], { isRough: true })).oracle.space.hypotheses.length;
    };
    const [plain, typed, other] = ["U0100", "U0100-87", "P0999"].map(suspected);
    expect(plain).to.be.above(other!);
    expect(typed).to.equal(plain);
  });
});

describe("what can hardly be meant", () => {
  const can = provingCircuit("can-yard", []);
  const run = stateOf();
  it("lost communication with a module that this vehicle does not have, and silence of what is not a module, are questioned; codes left out of its list are not", () => {
    const evidence = [
      said(run, { kind: "code", code: "U0140-87" }, "active"),
      said(run, { kind: "answers", module: "RT1" }, "no"),
      said(run, { kind: "code", code: "U0101-87" }, "active"),
      said(run, { kind: "code", code: "P0999" }, "active"),
      said(run, { kind: "code", code: "U0141" }, "absent"),
    ];
    const { questioned } = answerCase(ask(can, [], run, evidence), "none");
    expect(questioned.map((x) => x.evidence)).to.deep.equal([evidence[0]!.id, evidence[1]!.id]);
    expect(questioned[1]!.words).to.match(/RT1 is not a module/);
  });
});

describe("how it is put", () => {
  it("a loose strap in a starter is tightened, not renewed; a ground is cleaned, a relay renewed", () => {
    const start = provingCircuit("cold-start");
    const mendOf = (id: string): string => catalogueOf(start).find((f) => f.id === id)!.mend;
    expect(mendOf("STA strap loose")).to.match(/tighten the strap/);
    expect(mendOf("G3 resistance")).to.match(/bright metal/);
    expect(mendOf("R1 contact worn")).to.equal("renew it");
    expect(mendOf("W5 short to ground")).to.match(/insulate/);
  });
  it("a strap that is proven is enough to mend, and no part is bought", () => {
    const start = provingCircuit("cold-start");
    const crank = stateOf({ key: "crank", engine: "cranking", on: ["CLS"] });
    const fault = catalogueOf(start)
      .find((f) => f.id === "STA strap loose")!
      .faultAt(0.1);
    const read = (red: string, black: string): Evidence => shown(start, crank, { kind: "volts", red, black }, [fault]);
    const evidence = [
      shown(start, crank, { kind: "part", part: "STA" }, [fault]),
      read("STA.30", "STA.31"),
      read("STA.30", "STA.45"),
      read("STA.45", "STA.31"),
      read("STA.50", "STA.31"),
      read("BAT.+", "BAT.-"),
    ];
    const { enoughToAct: e, suspects } = answerCase(ask(start, ["STA"], crank, evidence), "none");
    expect(suspects[0]!.element).to.equal("STA");
    if (suspects[0]!.mode === "strap loose") expect([e.act, e.ifWrong!.part]).to.deep.equal(["mend", false]);
  });
  it("a black lead on a ground that is itself suspect is named at once", () => {
    const fault = catalogueOf(rear)
      .find((f) => f.id === "G2 resistance")!
      .faultAt(3.6);
    const both = stateOf({ on: ["SW1", "SW2"] });
    const evidence = [
      shown(rear, both, { kind: "part", part: "BL1" }, [fault]),
      shown(rear, both, { kind: "part", part: "TL1" }, [fault]),
      shown(rear, both, { kind: "volts", red: "BL1.1", black: "G2" }, [fault]),
    ];
    const { references } = answerCase(ask(rear, ["BL1", "TL1"], both, evidence), "none");
    expect(references.map((r) => r.place)).to.deep.equal(["G2"]);
    const sound = [shown(rear, both, { kind: "volts", red: "BL1.1", black: "G2" }, [])];
    expect(answerCase(ask(rear, ["BL1"], both, sound), "none").references.map((r) => r.place)).to.not.include("BL1.2");
  });
});

describe("a part on the option sheet", () => {
  it("is unplugged with the others when a bus is held", () => {
    const yard = provingCircuit("can-yard", ["tow"]);
    const fault = catalogueOf(yard)
      .find((f) => f.id === "TOW H and L hold")!
      .faultAt(0);
    const run = stateOf();
    const evidence = [
      ...["AXL", "HYD", "DSP"].map((m) => shown(yard, run, { kind: "answers", module: m }, [fault])),
      shown(yard, run, { kind: "volts", red: "VCM.L", black: "BAT.-" }, [fault]),
    ];
    const { next } = answerCase(ask(yard, ["AXL", "HYD", "DSP"], run, evidence));
    expect(next.flatMap((n) => n.state.opened).join()).to.match(/TOW|C3/);
  });
});
