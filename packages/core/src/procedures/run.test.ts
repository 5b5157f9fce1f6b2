import { expect } from "chai";
import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import type { Evidence, Result } from "../diagnosis/index.ts";
import { busiestState, plugsBehind, workingState } from "./finding.ts";
import { see, volts, word, type Good, type Procedure, type Rule, type Setting, type Step } from "./procedure.ts";
import { runProcedure } from "./run.ts";
import { vehicleOf } from "../test/vehicles.ts";

const horn = vehicleOf("rig-horn");
const gritter = vehicleOf("gritter");
const pressed: VehicleState = { ...REST_STATE, on: ["SW1"] };
const setting: Setting = { harness: horn, target: "HRN", chosen: {}, rules: "usual", state: REST_STATE };

const made = (steps: readonly Step[], rules: readonly Rule[] = []): Procedure => ({
  id: "made",
  name: "made up",
  asks: "",
  cautions: [],
  choices: [],
  targetsOf: () => [],
  plan: () => ({ steps, rules }),
});
const say = (step: Step, result: Result): Evidence => ({ id: step.id, ...step.test, result, source: "technician" });
const shows = (value: number): Result => ({ kind: "value", value });
/** The grade of one step for what was found. */
const grade = (step: Step, result: Result): string | undefined => runProcedure(made([step]), setting, [say(step, result)]).steps[0]!.grade;

describe("grading a step", () => {
  const at = (good: Good): Step => volts("x", "", pressed, "HRN.1", "BAT.-", good);
  it("holds a reading against the sound circuit within three standard deviations", () => {
    // Sound: 12.6 V less what 5 A lose in copper, contacts and fuse, about 12.3 V; σ there is about 0.17 V.
    const step = at({ kind: "as sound" });
    expect([12.3, 12.0, 11.2, 13.4].map((v) => grade(step, shows(v)))).to.deep.equal(["good", "good", "bad", "bad"]);
    expect(grade(step, { kind: "swings", low: 3, high: 12 })).to.equal("bad");
    expect(grade(step, { kind: "over" })).to.equal("bad");
  });
  it("lets more than sound pass where only too little is wrong", () => {
    const step = at({ kind: "at least sound" });
    expect([12.6, 12.3, 11.0].map((v) => grade(step, shows(v)))).to.deep.equal(["good", "good", "bad"]);
  });
  it("takes the larger of the shop's limit and one and a half times what sound copper drops", () => {
    // A joint may drop 0.1 V by “usual”; the plug drops millivolts when sound.
    const joint = volts("x", "", pressed, "C1.1a", "C1.1b", { kind: "drop", path: "joint" });
    expect([0.09, 0.11, -0.11].map((v) => grade(joint, shows(v)))).to.deep.equal(["good", "bad", "bad"]);
    // From the post to the horn a sound way drops about 0.165 V (5 A through 33 mΩ): 0.23 V is no fault though “wire” allows 0.2 V.
    const way = volts("x", "", pressed, "BAT.+", "HRN.1", { kind: "drop", path: "wire" });
    expect([0.23, 0.3].map((v) => grade(way, shows(v)))).to.deep.equal(["good", "bad"]);
  });
  it("knows limits of its own, and words", () => {
    expect([9.5, 9.7].map((v) => grade(at({ kind: "at least", value: 9.6 }), shows(v)))).to.deep.equal(["bad", "good"]);
    expect([9.5, 9.7].map((v) => grade(at({ kind: "at most", value: 9.6 }), shows(v)))).to.deep.equal(["good", "bad"]);
    expect([13.3, 14.2, 15.3].map((v) => grade(at({ kind: "between", low: 13.4, high: 15.2 }), shows(v)))).to.deep.equal([
      "bad",
      "good",
      "bad",
    ]);
    const horns = see("x", "", pressed, { kind: "part", part: "HRN" }, word("full"));
    expect(["full", "weak", "none"].map((w) => grade(horns, { kind: "word", word: w as never }))).to.deep.equal(["good", "bad", "bad"]);
  });
  it("compares ohms by their ratio, and infinity with infinity", () => {
    // F1 pulled and the horn unplugged: from the fuse to the plug a sound wire has tenths of an ohm at most.
    const dead: VehicleState = { ...REST_STATE, opened: ["F1", "HRN", "R1"] };
    const wire = see("x", "", dead, { kind: "ohms", red: "F1.2", black: "R1.30" }, { kind: "as sound" });
    expect([0.3, 3].map((v) => grade(wire, shows(v)))).to.deep.equal(["good", "bad"]);
    const apart = see("x", "", dead, { kind: "ohms", red: "F1.2", black: "HRN.1" }, { kind: "as sound" });
    expect(grade(apart, { kind: "over" })).to.equal("good");
    expect(grade(apart, shows(5))).to.equal("bad");
  });
  it("compares two steps with each other once both are there", () => {
    const one = volts("one", "", pressed, "C1.1a", "BAT.-", { kind: "as sound" });
    const two = volts("two", "", pressed, "C1.1b", "BAT.-", { kind: "same as", step: "one", within: 0.1 });
    const run = (found: readonly Evidence[]) => runProcedure(made([one, two]), setting, found).steps[1]!.grade;
    expect(run([say(two, shows(12.3))])).to.equal(undefined);
    expect(run([say(one, shows(12.3)), say(two, shows(12.25))])).to.equal("good");
    expect(run([say(one, shows(12.3)), say(two, shows(9.8))])).to.equal("bad");
  });
});

describe("the order of steps and rules", () => {
  const a = volts("a", "", pressed, "HRN.1", "BAT.-", { kind: "at least", value: 10 });
  const b = volts("b", "", pressed, "R1.87", "BAT.-", { kind: "at least", value: 10 }, { only: { a: "bad" } });
  const c = volts("c", "", pressed, "R1.30", "BAT.-", { kind: "at least", value: 10 }, { only: { b: "bad" } });
  const rules: Rule[] = [
    { when: { c: "bad" }, words: "before the relay", points: ["F1"] },
    { when: { a: "bad", b: "good" }, words: "behind the relay", points: ["W9"] },
    { when: { a: "bad" }, words: "somewhere", points: [] },
    { when: {}, words: "sound", points: [], sound: true },
  ];
  const run = (...found: readonly Evidence[]) => runProcedure(made([a, b, c], rules), setting, found);
  it("waits with a verdict while a rule before it may still fit", () => {
    expect(run(say(a, shows(3))).verdict).to.equal(undefined);
    expect(run(say(a, shows(3)), say(b, shows(12))).verdict!.words).to.equal("behind the relay");
    expect(run(say(a, shows(3)), say(b, shows(3))).verdict).to.equal(undefined);
    expect(run(say(a, shows(3)), say(b, shows(3)), say(c, shows(2))).verdict!.words).to.equal("before the relay");
    expect(run(say(a, shows(3)), say(b, shows(3)), say(c, shows(12))).verdict!.words).to.equal("somewhere");
  });
  it("leaves out what hangs on a step that came out otherwise, and what hangs on that", () => {
    const view = run(say(a, shows(12)));
    expect(view.steps.map((s) => s.status)).to.deep.equal(["done", "left out", "left out"]);
    expect(view.verdict).to.deep.include({ words: "sound", sound: true });
  });
  it("shows one step at a time as next, the others later", () => {
    expect(run().steps.map((s) => s.status)).to.deep.equal(["next", "later", "later"]);
    expect(run(say(a, shows(3))).steps.map((s) => s.status)).to.deep.equal(["done", "next", "later"]);
  });
  it("takes the latest of two findings for a step", () => {
    expect(run(say(a, shows(3)), say(a, shows(12))).verdict!.sound).to.equal(true);
  });
  it("refuses a jumper across the supply for the sake of people, whatever the step says", () => {
    const short = see("x", "", { ...pressed, bridged: [["F1.1", "BAT.-"]] }, { kind: "part", part: "HRN" }, word("full"), {
      knowingly: true,
    });
    const view = runProcedure(made([short], [{ when: {}, words: "sound", points: [], sound: true }]), setting, []);
    expect(view.steps[0]).to.deep.include({ status: "refused" });
    expect(view.steps[0]!.refusals.some((r) => r.rule === "short across supply")).to.equal(true);
  });
});

describe("what a test is done on", () => {
  it("finds the switches that a part needs together", () => {
    // The valve behind the spreader's relay: main switch for the relay, its own for itself.
    const state = workingState(gritter, "V1", REST_STATE);
    expect(state.on).to.deep.equal(["SW10", "SW11"]);
    expect(state.key).to.equal("run");
    expect(workingState(gritter, "HRN", REST_STATE).on).to.deep.equal(["SW9"]);
  });
  it("finds the use in which most current comes back through a ground", () => {
    // Side and tail lamps take 30 W together at 24 V, stop lamps 42 W: G8 has both, and the stop lamps alone are more than the tail lamps.
    const { state, amps } = busiestState(gritter, "G8", REST_STATE);
    expect(state.on).to.deep.equal(["SW4"]);
    // 42 W at some 25 V: 1.7 A, filaments a little above their rating.
    expect(amps).to.be.within(1.5, 2);
  });
  it("orders the plugs behind a fuse so that the first takes off about half", () => {
    const plugs = plugsBehind(gritter, "F6.2");
    expect(plugs).to.have.members(["L7", "L8"]);
    expect(plugsBehind(horn, "F1.2").length).to.be.above(0);
  });
});
