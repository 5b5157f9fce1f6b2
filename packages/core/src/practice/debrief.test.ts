import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import { findingsOf, type Evidence } from "../diagnosis/index.ts";
import { foundOnHeater as found, heater, heaterFault as truth, heaterOn, heaterPlayed as played, volts } from "../test/heater-played.ts";
import { endsFault, placesOfFault } from "./fault-places.ts";

const off = REST_STATE;

describe("a debrief", () => {
  it("of good work finds it proven, and has nothing to teach", () => {
    const evidence = [found(volts("BAT.+", "HTR.1")), found(volts("BAT.+", "SW3.2")), found(volts("C5.2a", "C5.2b"))];
    const made = played(evidence, [{ at: "C5.2", isReplaced: false, after: 3 }]);
    expect(made.isFound).to.equal(true);
    expect(made.acts.map((a) => [a.isRight, a.wasEnough])).to.deep.equal([[true, true]]);
    expect(made.provenAt).to.equal(3);
    // The belief in what is really wrong rises to the end, and each step tells what it ruled out.
    expect(made.steps.at(-1)!.truth).to.be.above(0.95);
    expect(made.start.truth).to.be.below(0.6);
    expect(made.steps.flatMap((s) => s.ruledOut)).to.include("G6");
    expect(made.lessons).to.deep.equal([]);
    expect(made.plan!.tests).to.be.within(1, 6);
  });
  it("of a part before the proof names the part, and what the evidence gave it", () => {
    const made = played(
      [found(volts("BAT.+"))],
      [
        { at: "HTR", isReplaced: true, after: 1 },
        { at: "C5.2", isReplaced: false, after: 1 },
      ],
    );
    expect(made.acts.map((a) => [a.at, a.isRight])).to.deep.equal([
      ["HTR", false],
      ["C5.2", true],
    ]);
    expect(made.lessons[0]).to.match(/^HTR was replaced without cure/);
    expect(made.lessons[1]).to.match(/^C5\.2 was right, but the evidence gave it \d+ %/);
    expect(made.provenAt).to.equal(undefined);
  });
  it("of readings without current says that they could tell nothing", () => {
    const idle = [found(volts("HTR.1"), off), found(volts("HTR.2"), off), found(volts("G6"), off)];
    const made = played(idle, []);
    expect(made.isFound).to.equal(false);
    expect(made.steps.filter((s) => s.couldTell < 0.02)).to.have.length.above(1);
    expect(made.steps[0]!.best?.words).to.be.a("string");
    expect(made.lessons.join()).to.match(/[23] of 3 tests could tell nothing in that state/);
  });
  it("tells what was all but sure from a guess, and a test that could only repeat from one in a state that proves nothing", () => {
    const across = played([found(volts("C5.2a", "C5.2b"))], [{ at: "C5.2", isReplaced: false, after: 1 }]);
    expect(across.acts[0]!.share).to.be.above(0.95);
    expect(across.acts[0]!.missing).to.match(/^rests on one reading/);
    expect(across.lessons[0]).to.match(/^C5\.2 was right and all but sure, yet not proven: rests on one reading/);
    const again = played([found(volts("G6")), found(volts("G6")), found(volts("G6"))], []);
    expect(again.lessons.join())
      .to.match(/tests could only show what was known by then/)
      .and.not.match(/in that state/);
  });
  it("tells how far it is, and takes no minutes for what was found while the clock stood", () => {
    const evidence = [found(volts("BAT.+", "HTR.1")), found(volts("BAT.+", "SW3.2"))];
    const [first] = findingsOf(evidence);
    const shares: number[] = [];
    const made = played(evidence, [], { untimed: new Set([first!.entry]), onProgress: (share) => shares.push(share) });
    expect(made.steps[0]!.minutes).to.equal(0);
    expect(made.steps[1]!.minutes).to.be.above(0);
    expect(made.mine.minutes).to.equal(made.steps[1]!.minutes);
    expect(shares).to.deep.equal([...shares].sort((a, b) => a - b));
    expect(shares).to.have.length.above(3);
    expect(Math.max(...shares)).to.be.below(1);
  });
  it("counts what followed after it was proven", () => {
    const more = [found(volts("HTR.1")), found(volts("HTR.2")), found(volts("F7.1"))];
    const made = played(
      [found(volts("BAT.+", "HTR.1")), found(volts("BAT.+", "SW3.2")), found(volts("C5.2a", "C5.2b")), ...more],
      [{ at: "C5.2", isReplaced: false, after: 6 }],
    );
    expect(made.lessons.join()).to.match(/It was proven after 3 tests; 3 more followed/);
  });
  it("takes a scan for one test, however many modules there are, and tells its codes", () => {
    const said = (id: string, observe: Evidence["observe"], word: "yes" | "no" | "active"): Evidence => ({
      id: `s ${id}`,
      state: heaterOn,
      observe,
      result: { kind: "word", word },
      source: "scan",
    });
    const scan = [
      said("0", { kind: "code", code: "B1234" }, "active"),
      ...["ECM", "BCM", "TCM"].map((module) => said(module, { kind: "answers", module }, module === "TCM" ? "no" : "yes")),
    ];
    expect(findingsOf([...scan, found(volts("HTR.1"))]).map((f) => [f.entry, f.evidence.length])).to.deep.include(["s", 4]);
    const made = played(scan, []);
    expect(made.steps.map((s) => [s.entry, s.words, s.result])).to.deep.equal([["s", "scan of all modules", "B1234; no response: TCM"]]);
    expect(made.mine.tests).to.equal(1);
    expect(made.mine.minutes).to.be.below(3);
  });
});

describe("what ends a fault", () => {
  it("is the thing itself, the plug around it, or a side of it", () => {
    expect(["C5.2", "c5.2a", "C5"].map((at) => endsFault(heater, truth[0]!, at))).to.deep.equal([true, true, true]);
    expect(["C5.21", "W3", ""].map((at) => endsFault(heater, truth[0]!, at))).to.deep.equal([false, false, false]);
  });
  it("is what touches, on either side", () => {
    expect(placesOfFault(heater, { kind: "short to ground", place: "C5.2a", ohms: 1 })).to.include.members(["C5.2", "W3"]);
  });
});
