import { expect } from "chai";
import { buildCircuit, deltaOf, reduceCircuit, REST_STATE } from "../circuit/index.ts";
import { hypothesisSpaceOf, type Test } from "../diagnosis/index.ts";
import { catalogueOf, insulated, isShort } from "../faults/index.ts";
import { type Harness, partNameIn } from "../harness/index.ts";
import { createSolver, prepare } from "../solver/index.ts";
import { complaintOf } from "./complaint.ts";
import { practiseAll, truthsOf } from "./summary.ts";
import { comparePlans } from "./best-plan.ts";
import { peopleWhoErr } from "./people.ts";
import { practise, practiseUntilSound } from "./technician.ts";
import { chanceOf, resultOf } from "./truth.ts";
import { vehicleOf } from "../test/vehicles.ts";

const truth = (h: Harness, id: string, severity: number) => ({ fault: catalogueOf(h).find((f) => f.id === id)!, severity });

describe("practice", () => {
  for (const name of ["rig-horn", "rig-lamps", "rig-screen", "rig-lock", "rig-coil"])
    it(`${name}: finds what is wrong, and renews no part that is not`, () => {
      const h = vehicleOf(name);
      const all = practiseAll(h, truthsOf(h, 24, 3), 3, false);
      expect(all.cases).to.be.above(5);
      expect(all.rightFirst).to.be.at.least(0.9);
      expect(all.wrongPart).to.equal(0);
      expect(all.meanTests).to.be.below(8);
    });
  it("takes less time than halving the way or going in a fixed order", () => {
    const h = vehicleOf("rig-lamps");
    const all = practiseAll(h, truthsOf(h, 30, 5), 5);
    expect(all.meanMinutes).to.be.below(all.baselines.halfSplit.meanMinutes);
    expect(all.meanMinutes).to.be.below(0.6 * all.baselines.fixedOrder.meanMinutes);
    expect(Object.values(all.perFamily).reduce((s, f) => s + f.cases, 0)).to.equal(all.cases);
  });
  it("goes the same way for the same seed", () => {
    const h = vehicleOf("rig-horn");
    const run = (seed: number) => practise(h, [truth(h, "W9 resistance", 3)], { chance: chanceOf(seed) })!;
    expect(run(4).steps).to.deep.equal(run(4).steps);
    expect(run(4).steps.map((s) => s.result)).not.to.deep.equal(run(5).steps.map((s) => s.result));
  });
  it("does not fall for one grossly wrong reading", () => {
    const h = vehicleOf("rig-horn");
    const run = practise(h, [truth(h, "C1.1 resistance", 3)], { chance: chanceOf(8), grossAt: 1 })!;
    expect(run.right).to.equal(true);
  });
  it("is right though the trouble is there a third of the time, measured again when it is", () => {
    const h = vehicleOf("rig-lamps");
    const runs = truthsOf(h, 24, 6).flatMap((t, i) => practise(h, [t], { chance: chanceOf(70 + i), presence: 0.3 }) ?? []);
    expect(runs.length).to.be.at.least(10);
    expect(runs.filter((r) => r.right).length / runs.length).to.be.at.least(0.9);
    expect(runs.filter((r) => !r.right && r.enough?.yes === true)).to.deep.equal([]);
  });
  it("mends two faults one after the other, and goes astray after a thing mended in vain", () => {
    const h = vehicleOf("rig-lock");
    const pair = [truth(h, "W18 open", 0), truth(h, "F1 resistance", 3)];
    const ends = practiseUntilSound(h, pair, { chance: chanceOf(2) })!;
    expect(ends.sound).to.equal(true);
    expect(ends.runs.map((r) => r.element).sort()).to.deep.equal(["F1", "W18"]);
  });
  it("finds no plan worse than the one it follows, and the same one where there is no choice", () => {
    const h = vehicleOf("rig-horn");
    for (const severity of [0.2, 3]) {
      const complaint = complaintOf(h, [truth(h, "C1.1 resistance", severity).fault.faultAt(severity)]);
      if (complaint === undefined) continue;
      const plans = comparePlans(h, complaint, 3000);
      expect(plans.bestMinutes).to.be.within(0.1, plans.greedyMinutes);
      expect(plans.greedyMinutes / plans.bestMinutes).to.be.below(1.15);
      // A longer search never finds worse.
      expect(comparePlans(h, complaint, 6000).bestMinutes).to.be.at.most(plans.bestMinutes + 1e-9);
    }
  });
  it("hears no complaint where nobody would notice", () => {
    const h = vehicleOf("rig-horn");
    expect(complaintOf(h, [{ kind: "series", link: "W9", ohms: 0.05 }])).to.equal(undefined);
    expect(complaintOf(h, [{ kind: "open", link: "W9" }])!.focus).to.include("HRN");
  });
  it("shows the truth as the full model does, with the meter's error", () => {
    const h = vehicleOf("rig-horn");
    const test: Test = { state: { ...REST_STATE, on: ["SW1"] }, observe: { kind: "volts", red: "HRN.1", black: "BAT.-" } };
    // 12.6 V × 2.4 Ω/(2.4 + 3 + some wire) ≈ 5.5 V.
    const shown = resultOf(h, test, [truth(h, "W9 resistance", 3)], true, chanceOf(1), peopleWhoErr(1));
    expect(shown.kind === "value" && shown.value).to.be.closeTo(5.5, 0.1);
    const away = resultOf(h, test, [truth(h, "W9 resistance", 3)], false, chanceOf(1), peopleWhoErr(1));
    expect(away.kind === "value" && away.value).to.be.closeTo(12.4, 0.2);
  });
});

describe("reduceCircuit", () => {
  const cases = [
    ["gritter", ["SW3"], ["L3"]],
    ["gritter", ["SW4"], ["L7"]],
  ] as const;
  for (const [name, on, focus] of cases)
    it(`${name}, ${focus.join()}: what is kept stands as in the whole circuit, sound and with every small fault that throws nothing beyond`, () => {
      const h = vehicleOf(name);
      const state = { ...REST_STATE, on: [...on] };
      const whole = buildCircuit(h, state, [], { phase: 0 });
      const point = createSolver()(insulated(whole.netlist));
      if (point.kind !== "solved") throw new Error(point.kind);
      const space = hypothesisSpaceOf(h, focus, state);
      const parts = new Set([...space.core].map((id) => partNameIn(id)));
      const near = (id: string): boolean => space.core.has(id) || parts.has(partNameIn(id));
      const reduced = reduceCircuit(whole, point, near);
      expect(reduced.netlist.nodes.length).to.be.below(whole.netlist.nodes.length);
      const made = prepare(insulated(reduced.netlist));
      if (made.kind !== "prepared") throw new Error(made.kind);
      reduced.nodes.forEach((n, i) => expect(made.prepared.base.volts[i]!, whole.netlist.nodes[n]).to.be.closeTo(point.volts[n]!, 1e-5));
      let compared = 0;
      for (const c of space.hypotheses) {
        if (!near(c.fault.link) || c.supposed.kind !== "series" || c.severity > 0.1) continue;
        const delta = deltaOf(reduced, h, state, c.supposed, { phase: 0 });
        const changed = delta === undefined ? undefined : made.prepared.withDelta(delta);
        const full = createSolver()(insulated(buildCircuit(h, state, [c.supposed], { phase: 0 }).netlist));
        // A switch that is cut off stays as it was.
        const moved = full.kind === "solved" && whole.netlist.elements.some((e, i) => !near(e.id) && full.closed[i] !== point.closed[i]);
        if (changed === undefined || full.kind !== "solved" || moved) continue;
        compared++;
        reduced.nodes.forEach((n, i) =>
          expect(changed.volts[i]!, `${c.fault.id} ${c.severity}: ${whole.netlist.nodes[n]}`).to.be.closeTo(full.volts[n]!, 0.03),
        );
      }
      expect(compared).to.be.above(10);
    });
});

describe("prepare", () => {
  it("is right about shorts that blow a fuse on the way, also on a circuit of another order", () => {
    const h = vehicleOf("rig-lock");
    const state = { ...REST_STATE, on: ["SW1"] };
    const whole = buildCircuit(h, state, [], { phase: 0 });
    const point = createSolver()(insulated(whole.netlist));
    if (point.kind !== "solved") throw new Error(point.kind);
    for (const circuit of [whole, reduceCircuit(whole, point, (id) => id !== "W6")]) {
      const made = prepare(insulated(circuit.netlist));
      if (made.kind !== "prepared") throw new Error(made.kind);
      for (const f of catalogueOf(h).filter((x) => isShort(x.effect) && x.where === undefined)) {
        const fault = f.faultAt(0.05);
        const delta = deltaOf(circuit, h, state, fault, { phase: 0 })!;
        const changed = made.prepared.withDelta(delta);
        const elements = [...circuit.netlist.elements, ...(delta.added ?? [])];
        const full = createSolver()(insulated({ ...circuit.netlist, elements }));
        if (changed === undefined || full.kind !== "solved" || (delta.replaced?.size ?? 0) > 0) continue;
        full.volts.forEach((v, i) => expect(changed.volts[i]!, `${f.id} at ${circuit.netlist.nodes[i]}`).to.be.closeTo(v, 1e-3));
      }
    }
  });
});
