import { expect } from "chai";
import { ask, said, shown } from "../../test/evidence.ts";
import { provingCircuit, stateOf } from "../../test/proving/cases.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import { standingOf } from "./standing.ts";

const rear = provingCircuit("rear-cluster");
const TAIL = stateOf({ on: ["SW1"] });
const v = (red: string): Observable => ({ kind: "volts", red, black: "BAT.-" });
const truth = [{ kind: "open", link: "C1.1" }] as const;
const dark = said(TAIL, { kind: "part", part: "TL1" }, "none");
const found = [dark, shown(rear, TAIL, v("C1.1a"), truth)];
const question = ask(rear, ["TL1"], TAIL, found);

describe("why something is, or is not, among the suspects", () => {
  it("a suspect is one by its cavity, whichever side was tapped", () => {
    for (const name of ["C1.1", "C1.1a", "C1.1b"]) expect(standingOf(question, name)).to.include({ element: "C1.1", standing: "suspect" });
  });
  it("what was ruled out was so by the reading that it would have made another", () => {
    const { standing, because, words } = standingOf(question, "F1");
    expect(standing).to.equal("ruled out");
    // Its resistance leaves the lamp lit where 12.5 V stand at the plug; an open one leaves no volts there.
    expect(because.length).to.be.above(0);
    for (const r of because) expect(r.predicted, r.words).not.to.equal(r.measured);
    expect(words).to.match(/F1 is ruled out/);
  });
  it("what no finding can see is said to be so, and is not a suspect", () => {
    // The pump's wire carries nothing that a tail lamp or its feed shows.
    for (const name of ["W28", "TP", "F3"]) expect(standingOf(question, name).standing, name).to.equal("not seen by any finding");
    expect(standingOf(question, "W28").words).to.match(/None of the 2 findings so far would be another if W28 were bad/);
  });
  it("what would change only a finding that is as it should be is ruled out by that", () => {
    const more = [...found, said(stateOf({ on: ["SW3"] }), { kind: "part", part: "TP" }, "full")];
    const { standing, because } = standingOf(ask(rear, ["TL1"], TAIL, more), "W28");
    expect(standing).to.equal("ruled out");
    expect(because.map((r) => [r.evidence, r.measured])).to.deep.equal([[more[2]!.id, "full"]]);
  });
  it("says what has no fault of its own, and what is not there", () => {
    expect(standingOf(question, "BAT.-").element).to.equal("BAT");
    expect(standingOf(question, "body")).to.include({ element: "body", standing: "cannot fail here" });
    expect(() => standingOf(question, "W99")).to.throw(RangeError, /nothing called W99/);
  });
  it("tells the same on a whole vehicle", () => {
    const van = vehicleOf("plover");
    const run = stateOf();
    const seen = [said(run, { kind: "part", part: "LVL" }, "none"), shown(van, run, v("F37.2"), [{ kind: "open", link: "C16.9" }])];
    const standingAs = (name: string): string => standingOf(ask(van, ["LVL"], run, seen), name).standing;
    expect(["C16.9", "F37", "C16.10", "ALT"].map(standingAs)).to.deep.equal([
      "suspect",
      "ruled out",
      "not seen by any finding",
      "not seen by any finding",
    ]);
  });
});
