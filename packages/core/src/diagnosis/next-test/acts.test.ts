import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { massesOf } from "../../harness/index.ts";
import { observe as observeParts, predictReading } from "../../instruments/index.ts";
import { circuitOf } from "../../test/circuits.ts";
import { ask, said, shown } from "../../test/evidence.ts";
import { lookAt } from "../effort/candidate-test.ts";
import { testKey } from "./rank.ts";
import { minutesOf, partsMadeAccessible } from "../effort/cost.ts";
import { diagnose, type Diagnosis } from "../answer/diagnose.ts";
import { mayTryFuse } from "../proof/enough.ts";
import type { Evidence } from "../evidence/evidence.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import { likelihood } from "../evidence/likelihood.ts";
import { vehicleOf } from "../../test/vehicles.ts";

const asked = (...question: Parameters<typeof ask>): Diagnosis => diagnose(ask(...question));
const volts = (red: string, black = "BAT.-"): Observable => ({ kind: "volts", red, black });

const gritter = vehicleOf("gritter");
const lamps = vehicleOf("rig-lamps");
const stop: VehicleState = { ...REST_STATE, on: ["SW2"] };

describe("a look", () => {
  it("costs the way to the looms that a wire runs through, not to where it ends", () => {
    // The lamp's wire runs from the cab (5 min) along the frame rail (zone of the battery tray, 4 min) to a plug at the engine (14 min).
    const wire = gritter.wires.find((w) => w.from.component === "L1")!;
    const look = { state: REST_STATE, observe: { kind: "look", at: wire.id } as const };
    expect(minutesOf(gritter, look, REST_STATE, new Set())).to.be.closeTo(5 + 4 + 2, 1e-9);
    // With both zones open a minute each.
    expect(minutesOf(gritter, look, REST_STATE, new Set(["L1", "BAT"]))).to.be.closeTo(2 + 2, 1e-9);
    expect(partsMadeAccessible(gritter, look)).to.include.members(["cab", "frame"]);
  });
  it("takes the vehicle as it stands, but with the engine stopped", () => {
    const cranking: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking", on: ["SW1"] };
    const standing: VehicleState = { ...cranking, opened: ["F5"] };
    expect(lookAt(gritter, "W3", cranking, standing).state).to.deep.equal({ ...standing, engine: "stopped", key: "run" });
    // A fuse is looked at as the complaint has it: one that was pulled has not blown.
    expect(lookAt(gritter, "F5", cranking, standing).state).to.deep.equal(cranking);
    // In another state it is the same look.
    const [one, two] = [cranking, standing].map((state) => testKey({ state, observe: { kind: "look", at: "W3" } }));
    expect(one).to.equal(two);
  });
  it("shows damage whether the trouble does or not", () => {
    const evidence = [
      said(stop, { kind: "part", part: "L2" }, "none"),
      said(stop, { kind: "look", at: "W10" }, "corroded", { present: false }),
    ];
    const { belief, oracle } = asked(lamps, ["L2"], stop, evidence, { presence: 0.3 });
    expect(oracle.space.repairs[belief.repairs.indexOf(Math.max(...belief.repairs))]!.element).to.equal("W10");
  });
});

describe("before it may be acted on", () => {
  it("what is stuck is unplugged and what showed the trouble is looked at again; that another place is still sound proves nothing", () => {
    const harness = circuitOf(`circuit "Stuck switch"
G1("frame")
BAT(12.6V)
G1 -- BK 16mm2 0.5m -- BAT
BAT -- RD 2.5mm2 0.5m -- F1(10A) -- RD 1mm2 1m -- SW1(switch) -- BU 1mm2 1m -- L1(lamp 21W) -- BN 1mm2 0.5m -- G1`);
    const stuck: Fault = { kind: "across", from: "SW1.1", to: "SW1.2", ohms: 0.005 };
    const before = [
      said(REST_STATE, { kind: "part", part: "L1" }, "full"),
      shown(harness, REST_STATE, volts("SW1.1", "SW1.2"), [stuck]),
      shown(harness, REST_STATE, volts("SW1.2"), [stuck]),
      shown(harness, REST_STATE, volts("F1.1"), [stuck]),
    ];
    const missing = (evidence: readonly Evidence[]): readonly string[] =>
      asked(harness, ["L1"], REST_STATE, evidence).enough!.missing.flatMap((m) => (m.what === "isolation" ? [m.words] : []));
    const wanted = asked(harness, ["L1"], REST_STATE, before).enough!.missing.find((m) => m.what === "isolation")!;
    expect(wanted.test!.observe).to.deep.equal(volts("SW1.2"));
    const out: VehicleState = { ...REST_STATE, opened: ["SW1"] };
    expect(missing([...before, shown(harness, out, volts("F1.1"), [stuck])])).to.have.length(1);
    expect(missing([...before, shown(harness, out, volts("SW1.2"), [stuck])])).to.deep.equal([]);
  });
  it("a ground and a fuse have leads on both of their sides", () => {
    for (const [link, near, far, across] of [
      ["G2", "G2", "BAT.+", volts("G2", massesOf(lamps)[0])],
      ["F1", "F1.2", "BAT.-", volts("F1.1", "F1.2")],
    ] as const) {
      const fault: Fault = { kind: "series", link, ohms: 3 };
      const one = [shown(lamps, stop, { kind: "part", part: "L2" }, [fault]), shown(lamps, stop, volts(near, far), [fault])];
      const { enough } = asked(lamps, ["L2"], stop, one);
      expect(enough!.yes, link).to.equal(false);
      const both = asked(lamps, ["L2"], stop, [...one, shown(lamps, stop, across, [fault])]).enough!;
      expect(both.element).to.equal(link);
      expect(both.missing.filter((m) => /one side/.test(m.words))).to.deep.equal([]);
    }
  });
  it("no other fuse is tried while a short behind it is what it looks like", () => {
    const lit: VehicleState = { ...REST_STATE, on: ["SW3"] };
    const out: VehicleState = { ...lit, opened: ["F5"] };
    const fitted: VehicleState = { ...out, lamps: [["F5.1", "F5.2", 21]] };
    const may = (truth: Fault): boolean => {
      const evidence = [
        shown(gritter, lit, { kind: "part", part: "L3" }, [truth]),
        shown(gritter, lit, volts("F5.1", "F5.2"), [truth]),
        shown(gritter, out, { kind: "lamp", red: "F5.1", black: "F5.2", watts: 21 }, [truth]),
        shown(gritter, fitted, volts("F5.2"), [truth]),
      ];
      const d = asked(gritter, ["L3"], lit, evidence);
      return mayTryFuse(d.oracle, d.belief, evidence, lit, "F5");
    };
    expect(may({ kind: "short to ground", place: "L3.1", ohms: 0.05 })).to.equal(false);
    expect(may({ kind: "open", link: "F5" })).to.equal(true);
  });
});

describe("a severity at the border of two that are solved", () => {
  it("is found: 1.73 and 5.5 Ω lie half-way between 1, 3 and 10", () => {
    for (const ohms of [Math.sqrt(3), Math.sqrt(30)]) {
      const truth: Fault = { kind: "series", link: "W10", ohms };
      const evidence = [shown(lamps, stop, { kind: "part", part: "L2" }, [truth]), shown(lamps, stop, volts("L2.1"), [truth])];
      const { belief } = asked(lamps, ["L2"], stop, evidence);
      const best = belief.alive
        .filter((c) => c.fault.id === "W10 resistance")
        .toSorted((p, q) => belief.posterior(q) - belief.posterior(p))[0]!;
      expect(belief.bestAt(best).severity, `${ohms}`).to.be.within(0.93 * ohms, 1.07 * ohms);
    }
  });
  it("is not dropped for a word: dark lies between full and dark", () => {
    const part: Observable = { kind: "part", part: "L" };
    const near = { value: 0.76, low: 0.38, high: 0.84 };
    expect(likelihood(part, { kind: "word", word: "none" }, near, "best")).to.be.above(1);
    expect(likelihood(part, { kind: "word", word: "none" }, near, "point")).to.be.below(0.1);
  });
});

describe("what chatters and what pulses", () => {
  it("a lamp at a millivolt does not flicker with what is far behind a resistance", () => {
    const ouse = vehicleOf("ouse");
    const seen = observeParts(ouse, REST_STATE, [{ kind: "series", link: "F13", ohms: 1e4 }]);
    if (!Array.isArray(seen)) throw new Error("no answer");
    const chattering = seen.flatMap((o) => (o.sight.kind === "chatters" ? [o.component] : []));
    expect(chattering).to.include("BCM");
    expect(chattering).not.to.include.members(["L5"]);
  });
  it("a clamp behind a fuse that blew shows nothing, in every phase of a running engine, as the full model does", () => {
    const ouse = vehicleOf("ouse");
    const running: VehicleState = { ...REST_STATE, key: "run", engine: "idling" };
    const { oracle } = asked(ouse, ["CPU"], running, []);
    const short = oracle.space.hypotheses.find((c) => c.fault.id === "W46 short to ground" && c.severity < 0.1)!;
    const told = oracle.predict({ state: running, observe: { kind: "amps", around: "W47" } }, short);
    const full = predictReading(ouse, running, [short.supposed], { quantity: "amps", around: "W47" });
    if (full.kind !== "value") throw new Error(full.kind);
    expect(full.value).to.be.closeTo(0, 0.02);
    expect(told.value).to.be.closeTo(full.value, 0.02);
  });
});
