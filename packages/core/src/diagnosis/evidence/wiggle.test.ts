import { expect } from "chai";
import { judgeWiggle, type Mark, type Sample } from "./wiggle.ts";

/** Ten readings a second, V. */
const course = (values: readonly number[]): Sample[] => values.map((value, i) => ({ atS: i / 10, value }));
const calm = (n: number): number[] => Array.from({ length: n }, (_, i) => 12 + (i % 2 === 0 ? 0.01 : -0.01));

describe("judgeWiggle", () => {
  const marks: Mark[] = [
    { atS: 0, at: "" },
    { atS: 3, at: "C1" },
    { atS: 6, at: "door" },
  ];
  it("names the spot that the reading leaves its band with, and how often and how far", () => {
    const values = calm(90);
    for (const i of [65, 66, 67, 75]) values[i] = 9.5;
    const judged = judgeWiggle(course(values), marks)!;
    expect(judged.calm).to.be.closeTo(12, 0.011);
    const door = judged.spots.find((s) => s.at === "door")!;
    expect([door.word, door.excursions]).to.deep.equal(["moves", 2]);
    expect(door.farthest).to.be.closeTo(-2.5, 0.02);
    expect(judged.spots.find((s) => s.at === "C1")!.word).to.equal("steady");
    // 26 of 30 readings at 12 V and four at 9.5 V.
    expect(door.span).to.include({ low: 9.5, high: 12.01 });
    expect(door.span!.mean).to.be.closeTo((26 * 12 + 4 * 9.5) / 30, 0.01);
    expect(judged.still!.high - judged.still!.low).to.be.closeTo(0.02, 1e-9);
    expect(judged.unmoved).to.equal(0);
  });
  it("blames the spot at which an excursion began, though the hands went on meanwhile", () => {
    const values = calm(90);
    for (let i = 58; i < 63; i++) values[i] = 10;
    const judged = judgeWiggle(course(values), marks)!;
    expect(judged.spots.map((s) => [s.at, s.word])).to.deep.equal([
      ["C1", "moves"],
      ["door", "steady"],
    ]);
  });
  it("keeps its band narrow though the quiet part has jumps of its own, and tells of them", () => {
    const values = calm(90);
    values[12] = 8;
    const judged = judgeWiggle(course(values), marks)!;
    expect(judged.band).to.be.below(0.5);
    expect(judged.unmoved).to.equal(1);
  });
  it("says nothing of a spot that was touched for a moment, nor of two readings", () => {
    const short = judgeWiggle(course(calm(70)), [...marks.slice(0, 2), { atS: 4, at: "" }])!;
    const [touched, ...others] = short.spots;
    expect(others).to.deep.equal([]);
    expect(touched).to.deep.include({ at: "C1", seconds: 1, excursions: 0, farthest: 0, word: undefined });
    expect(judgeWiggle(course([12, 12]), marks)).to.equal(undefined);
  });
});
