import { expect } from "chai";
import { isAnother, steadiness, type Sample } from "./steady.ts";

/** Ten readings a second. */
const course = (values: readonly number[]): Sample[] => values.map((value, i) => ({ atMs: 100 * i, value }));

describe("a meter's reading", () => {
  it("stands still after 0.7 s in which its last digits alone move", () => {
    // 6,000 counts: 10 mV at 12 V, so that 30 mV are three counts.
    expect(steadiness(course([12.61, 12.6, 12.62, 12.63, 12.61, 12.61, 12.6, 12.62]), "volts")).to.deep.equal({
      kind: "steady",
      value: 12.61,
    });
    expect(steadiness(course([12.61, 12.6, 12.62]), "volts")).to.deep.equal({ kind: "waiting" });
    expect(steadiness([], "volts")).to.deep.equal({ kind: "waiting" });
    expect(steadiness(course(Array.from({ length: 9 }, () => Infinity)), "ohms")).to.deep.equal({ kind: "steady", value: Infinity });
  });
  it("is unsteady by numbers where it goes up and down, or comes and goes", () => {
    expect(steadiness(course([0.4, 3.2, 0.6, 12, 0.5, 7, 1, 0.4, 9]), "ohms")).to.deep.equal({ kind: "unsteady", low: 0.4, high: 12 });
    expect(steadiness(course([0.4, 0.4, Infinity, 0.4, 0.4, 0.4, 0.4, 0.4]), "ohms")).to.deep.equal({
      kind: "unsteady",
      low: 0.4,
      high: Infinity,
    });
  });
  it("looks at the last moments alone", () => {
    expect(steadiness(course([0, 0, 0, 5, ...Array.from({ length: 9 }, () => 12)]), "volts")).to.deep.equal({ kind: "steady", value: 12 });
  });
  it("is another one when it differs by more than its digits do", () => {
    expect(isAnother(12.61, 12.63, "volts")).to.equal(false);
    expect(isAnother(12.61, 12.1, "volts")).to.equal(true);
    expect(isAnother(Infinity, Infinity, "ohms")).to.equal(false);
    expect(isAnother(3, Infinity, "ohms")).to.equal(true);
  });
});
