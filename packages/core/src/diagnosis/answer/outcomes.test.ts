import { expect } from "chai";
import { ask, said, shown } from "../../test/evidence.ts";
import { provingCircuit, stateOf } from "../../test/proving/cases.ts";
import { symptomState } from "../../job/index.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import { diagnose } from "./diagnose.ts";
import { outcomesOfTest } from "./outcomes.ts";

const rear = provingCircuit("rear-cluster");
const TAIL = stateOf({ on: ["SW1"] });
const question = ask(rear, ["TL1"], TAIL, [said(TAIL, { kind: "part", part: "TL1" }, "none")]);
const outcomesAt = (observe: Observable) => outcomesOfTest(question, { state: TAIL, observe });

describe("what would be left after each outcome of a test", () => {
  it("volts at the lamp split the feed from the lamp and its ground, and what is left adds up to the belief there is now", () => {
    const outcomes = outcomesAt({ kind: "volts", red: "TL1.1", black: "BAT.-" });
    const full = outcomes.find((o) => Number.parseFloat(o.shows) > 11)!;
    const nothing = outcomes.find((o) => Math.abs(Number.parseFloat(o.shows)) < 0.5)!;
    expect(nothing.left.map((l) => l.element)).not.to.include("TL1");
    expect(full.left.map((l) => l.element)).to.include("TL1");
    // The chances are those of the suspects that lead there.
    const { belief, oracle } = diagnose(question);
    const lamp = belief.repairs[oracle.space.repairs.find((r) => r.element === "TL1")!.index]!;
    const inFull = full.left.find((l) => l.element === "TL1")!.share * full.chance;
    expect(inFull).to.be.closeTo(lamp, 0.03);
    expect(outcomes.reduce((sum, o) => sum + o.chance, 0)).to.be.within(0.9, 1.0001);
  });
  it("an answer in words is called by its word", () => {
    const outcomes = outcomesAt({ kind: "part", part: "TL2" });
    expect(outcomes.map((o) => o.shows)).to.include.members(["none", "full"]);
    for (const o of outcomes) for (const l of o.left) expect(l.share).to.be.within(0, 1);
  });
  it("a look along a loom names what would be found", () => {
    const truck = vehicleOf("gritter");
    const on = symptomState(truck, { part: "L4", word: "none", wrong: true });
    const dark = said(on, { kind: "part", part: "L4" }, "none");
    const noVolts = shown(truck, on, { kind: "volts", red: "L4.2", black: "BAT.-" }, [{ kind: "open", link: "W31" }]);
    const loom = truck.wires.find((w) => w.id === "W31")!.segments![0]!;
    const [nothing, damage] = outcomesOfTest(ask(truck, ["L4"], on, [dark, noVolts]), { state: on, observe: { kind: "look", at: loom } });
    expect([nothing!.shows, damage!.shows]).to.deep.equal(["no damage seen", "damage at W31"]);
    expect(damage!.left[0]).to.include({ element: "W31", share: 1 });
  });
});
