import { expect } from "chai";
import fc from "fast-check";
import { buildCircuit, deltaOfAll, REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { catalogueOf, insulated } from "../../faults/index.ts";
import { predictReading } from "../../instruments/index.ts";
import { createSolver, prepare } from "../../solver/index.ts";
import { believe } from "../belief/belief.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { createOracle } from "../predict/oracle.ts";
import { hypothesisSpaceOf, singlesOf } from "./space.ts";
import { judgeWiggle } from "../evidence/wiggle.ts";
import { vehicleOf } from "../../test/vehicles.ts";

describe("the hypotheses", () => {
  it("holds shorts on wires that share the return, which no way of the complaint's own current leads over", () => {
    const h = vehicleOf("rig-lamps");
    const space = hypothesisSpaceOf(h, ["L1"], { ...REST_STATE, on: ["SW1"] });
    // W11 is the stop lamp's ground wire; it ends at the same splice as the tail lamp's.
    expect(space.hypotheses.some((c) => c.fault.id === "W11 short to feed")).to.equal(true);
    expect(
      space.hypotheses.some((c) => c.fault.id === "W11 resistance"),
      "resistance there is nothing to the tail lamp",
    ).to.equal(false);
  });
  it("holds shorts without a fuse between, wherever they are: everything gets less then", () => {
    const space = hypothesisSpaceOf(vehicleOf("gritter"), ["L1"], { ...REST_STATE, key: "run" });
    expect(space.hypotheses.some((c) => c.fault.id === "W38 short to feed")).to.equal(true);
  });
  it("keeps what was tried for it, and asks it no more", () => {
    const h = vehicleOf("gritter");
    const state: VehicleState = { ...REST_STATE, on: ["SW3"] };
    const space = hypothesisSpaceOf(h, ["L5"], state);
    const oracle = createOracle(space);
    expect(oracle.view(state)).to.equal(space.firstRows!.view);
    const tried = space.hypotheses.filter((c) => space.firstRows!.rowOf(c.fault, c.severity) !== undefined);
    expect(tried.length).to.be.above(20);
    for (const c of tried.slice(0, 20)) expect(oracle.row(state, c)).to.equal(space.firstRows!.rowOf(c.fault, c.severity));
  });
});

describe("a severity between those of the catalogue", () => {
  it("never leaves what a setting can be, on any fault of a whole vehicle", () => {
    const h = vehicleOf("brigg");
    const state: VehicleState = { ...REST_STATE, key: "run", engine: "idling" };
    const space = hypothesisSpaceOf(h, ["ALT"], state);
    const oracle = createOracle(space);
    const settings = space.hypotheses.filter((c) => c.supposed.kind === "settings");
    expect(settings.length).to.be.above(3);
    for (const c of settings)
      for (const times of [0.01, 0.7, 1.4, 100]) {
        const { supposed } = oracle.at(c, c.severity * times);
        expect(() => buildCircuit(h, state, [supposed]), `${c.fault.id} ${c.severity * times}`).not.to.throw();
      }
  });
});

describe("two faults at once", () => {
  it("as one change of the circuit are what they are built in together", () => {
    const h = vehicleOf("rig-screen");
    const state: VehicleState = { ...REST_STATE, key: "run", on: ["SW1"] };
    const sound = buildCircuit(h, state, []);
    const base = prepare(insulated(sound.netlist));
    if (base.kind !== "prepared") throw new Error(base.kind);
    const all = catalogueOf(h).filter((f) => f.where === undefined);
    let compared = 0;
    for (let i = 0; i < 60; i++) {
      const [p, q] = [all[(i * 7) % all.length]!, all[(i * 11 + 3) % all.length]!];
      const faults: Fault[] = [p.faultAt(p.severities[0]!), q.faultAt(q.severities.at(-1)!)];
      const delta = deltaOfAll(sound, h, state, faults);
      const quick = delta === undefined ? undefined : base.prepared.withDelta(delta);
      if (quick === undefined) continue;
      const circuit = buildCircuit(h, state, faults);
      const full = createSolver()(insulated(circuit.netlist));
      if (full.kind !== "solved") continue;
      for (const place of ["F1.2", "R1.87", "HS1.1", "HS2.2"] as const) {
        const [a, b] = [sound.nodeOf.get(place as never), circuit.nodeOf.get(place as never)];
        if (a === undefined || b === undefined || full.floating[b] === 1) continue;
        expect(quick.volts[a]!, `${p.id} + ${q.id} at ${place}`).to.be.closeTo(full.volts[b]!, 2e-3);
        compared++;
      }
    }
    expect(compared).to.be.above(60);
  });
  it("of the same element are no such change", () => {
    const h = vehicleOf("rig-horn");
    const sound = buildCircuit(h, REST_STATE, []);
    const both: Fault[] = [
      { kind: "series", link: "W9", ohms: 1 },
      { kind: "open", link: "W9" },
    ];
    expect(deltaOfAll(sound, h, REST_STATE, both)).to.equal(undefined);
  });
  it("are told apart again: a pair is its two, each with its own repair", () => {
    const h = vehicleOf("rig-horn");
    const space = hypothesisSpaceOf(h, ["HRN"], { ...REST_STATE, on: ["SW1"] });
    const oracle = createOracle(space);
    const [p, q] = [space.hypotheses[0]!, space.hypotheses.find((c) => c.repair !== space.hypotheses[0]!.repair)!];
    const pair = oracle.pairOf(p, q);
    expect(singlesOf(pair)).to.deep.equal([p, q]);
    expect(space.repairsOf(pair)).to.have.members([...space.repairsOf(p), ...space.repairsOf(q)]);
    expect(oracle.pairOf(p, q), "made once").to.equal(pair);
  });
});

describe("a short inside a part", () => {
  it("goes when the part is unplugged, and stays when its neighbour is", () => {
    const h = vehicleOf("rig-lamps");
    const fault: Fault = { kind: "across", from: "L1.1", to: "L1.2", ohms: 0.5 };
    const at = (opened: string[]): number => {
      const reading = predictReading(h, { ...REST_STATE, on: ["SW1"], opened }, [fault], {
        quantity: "volts",
        red: "BAT.+",
        black: "L1.1",
      });
      return reading.kind === "value" ? reading.value : NaN;
    };
    // 0.5 Ω across 12.5 V blows the 10 A fuse: nothing is left at the lamp. Unplugged, the wire stands at the battery's voltage.
    expect(at([])).to.be.above(12);
    expect(at(["L1"])).to.be.below(0.01);
    expect(at(["L2"])).to.be.above(12);
  });
});

describe("belief", () => {
  it("sums to 1 and stays finite for any readings, however wild", () => {
    const h = vehicleOf("rig-horn");
    const state: VehicleState = { ...REST_STATE, on: ["SW1"] };
    const oracle = createOracle(hypothesisSpaceOf(h, ["HRN"], state));
    const places = ["R1.30", "R1.87", "C1.1a", "C1.1b", "HRN.1", "HRN.2"];
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 5 }), fc.double({ min: -15, max: 15, noNaN: true })), { maxLength: 6 }),
        (list) => {
          const found = list.map(([p, value], i): Evidence => ({
            id: `${i}`,
            state,
            observe: { kind: "volts", red: places[p]!, black: "BAT.-" },
            result: { kind: "value", value },
            source: "technician",
          }));
          const belief = believe(oracle, found);
          const sum = belief.unlisted + belief.alive.reduce((s, c) => s + belief.posterior(c), 0);
          expect(sum).to.be.closeTo(1, 1e-4);
          expect(belief.doubt.every((d) => d >= 0 && d <= 1.000001)).to.equal(true);
        },
      ),
      { numRuns: 40, seed: 5 },
    );
  });
});

describe("judgeWiggle on anything", () => {
  it("never counts more excursions than readings, and never gives a number that is none", () => {
    const sample = fc.tuple(fc.double({ min: 0, max: 60, noNaN: true }), fc.double({ min: -20, max: 20, noNaN: true }));
    const mark = fc.tuple(fc.double({ min: 0, max: 60, noNaN: true }), fc.constantFrom("", "C1", "G1"));
    fc.assert(
      fc.property(fc.array(sample, { maxLength: 80 }), fc.array(mark, { maxLength: 8 }), (samples, marks) => {
        const judged = judgeWiggle(
          samples.map(([atS, value]) => ({ atS, value })).sort((p, q) => p.atS - q.atS),
          marks.map(([atS, at]) => ({ atS, at })).sort((p, q) => p.atS - q.atS),
        );
        if (samples.length < 3) return judged === undefined;
        const all = judged!.spots.reduce((s, x) => s + x.excursions, judged!.unmoved);
        return (
          all <= samples.length &&
          Number.isFinite(judged!.calm) &&
          judged!.band > 0 &&
          judged!.spots.every((s) => s.seconds >= 0 && Number.isFinite(s.farthest))
        );
      }),
      { seed: 9 },
    );
  });
});
