import { expect } from "chai";
import { REST_STATE, type VehicleState } from "../../circuit/index.ts";
import { ask, said, shown } from "../../test/evidence.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { textOf, vehicleOf } from "../../test/vehicles.ts";
import { resolveVariant, type Harness } from "../../harness/index.ts";
import { parseNotation } from "../../notation/index.ts";
import { answerCase, answerFrom } from "./case-file.ts";
import { diagnose, type Question } from "./diagnose.ts";
import { firstMeasured, foreseen } from "./foresee.ts";

const van = vehicleOf("plover");
const BRAKING: VehicleState = { ...REST_STATE, on: ["SW13"] };
const dark: Evidence = { ...said(BRAKING, { kind: "part", part: "L13" }, "none"), source: "customer" };
const feed = { kind: "volts", red: "BAT.+", black: "L13.1" } as const;

describe("an answer at once", () => {
  it("does not look further than near the complaint, says so where that explains too little, and the whole answer does", () => {
    // Nothing is wrong with the vehicle as measured, although the lamp is said to be dark.
    const q = ask(van, ["L13"], BRAKING, [dark, shown(van, BRAKING, feed, [])]);
    const near = diagnose({ ...q, isNear: true });
    expect(near.isNarrow).to.equal(true);
    const answer = answerFrom(near, q, "none");
    expect(answer.misfit).to.match(/looked through/);
    expect(answer.enoughToAct).to.deep.include({ yes: false, element: null });
    const whole = diagnose(q);
    expect(whole.isNarrow).to.equal(false);
    expect(whole.oracle.space.hypotheses.length).to.be.above(near.oracle.space.hypotheses.length);
    expect(answerFrom(whole, q, "none").misfit ?? "").not.to.match(/looked through/);
  });

  it("is the whole answer where what is near explains all", () => {
    const q = ask(van, ["L13"], BRAKING, [dark, shown(van, BRAKING, feed, [{ kind: "open", link: "W228" }])]);
    const near = diagnose({ ...q, isNear: true });
    expect(near.isNarrow).to.equal(false);
    expect(answerFrom(near, q, "none")).to.deep.equal(answerCase(q, "none"));
  });
});

describe("what is thought through ahead", () => {
  /** A truck of its own, for which nothing was computed yet. */
  const truck = (): Harness => resolveVariant(parseNotation(textOf("gritter")).harness!, []);
  const on: VehicleState = { ...REST_STATE, key: "run", on: ["SW2"] };
  const out = said(on, { kind: "part", part: "L4" }, "none");
  const question = (harness: Harness): Question => ask(harness, ["L4"], on, [out]);

  it("changes no answer", () => {
    const [cold, warm] = [truck(), truck()];
    const q = question(warm);
    const d = diagnose(q);
    for (const next of [firstMeasured(q, d)!, ...foreseen(q, d)]) answerCase(next, "at hand");
    const found = shown(cold, on, { kind: "volts", red: "L4.2", black: "BAT.-" }, [{ kind: "open", link: "W31" }]);
    const after = (harness: Harness): unknown => answerCase({ ...question(harness), evidence: [...question(harness).evidence, found] });
    expect(after(warm)).to.deep.equal(after(cold));
  });

  it("is the test for which the leads were put on, where one is given", () => {
    const q = question(truck());
    const test = { state: on, observe: { kind: "volts", red: "L4.1", black: "BAT.-" } } as const;
    const ahead = foreseen(q, diagnose(q), test);
    expect(ahead).not.to.deep.equal([]);
    for (const a of ahead) expect(a.evidence.at(-1)).to.deep.include(test);
  });

  it("begins with a good battery only as long as nothing was measured", () => {
    const harness = truck();
    const q = question(harness);
    const first = firstMeasured(q, diagnose(q))!;
    expect(first.evidence.at(-1)!.result).to.have.property("value").that.is.within(24, 26);
    const measured = { ...q, evidence: [...q.evidence, shown(harness, on, { kind: "volts", red: "L4.1", black: "BAT.-" }, [])] };
    expect(firstMeasured(measured, diagnose(measured))).to.equal(undefined);
  });
});
