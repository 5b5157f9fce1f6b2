import { expect } from "chai";
import { casesAsCircumstances, caseSearchWords, caseTokens, LEAST_SCORE, likeness, type CaseFeatures } from "./similar.ts";

const OPEN: CaseFeatures = {
  vehicle: "Selwick Plover 2.0 D",
  registration: "SKV 12",
  words: "The low beam on the left is dim in rain.",
  wiring: { id: "plover", options: [] },
  parts: ["LA3"],
  codes: ["P0301"],
};
const scoreOf = (other: Partial<CaseFeatures>): number => likeness(OPEN, { ...OPEN, parts: [], codes: [], words: "", ...other }).score;

describe("similar cases", () => {
  it("a part on the same wiring, or a code, is enough; the vehicle alone is nothing", () => {
    expect(scoreOf({})).to.equal(0);
    expect(scoreOf({ parts: ["LA3"] })).to.be.at.least(LEAST_SCORE);
    expect(scoreOf({ codes: ["P0301"], wiring: null, vehicle: "other" })).to.be.at.least(LEAST_SCORE);
    // LA3 of another vehicle is another lamp.
    expect(scoreOf({ parts: ["LA3"], wiring: { id: "brigg", options: [] } })).to.equal(0);
    expect(scoreOf({ parts: ["LA9"], codes: ["P0302"] })).to.equal(0);
  });

  it("words count by what they say, whatever their endings, and never alone on another vehicle", () => {
    const told = likeness(OPEN, { ...OPEN, registration: "", parts: [], codes: [], words: "Left low beams dimmed when it rains" });
    expect(told.common).to.deep.equal(["same type of vehicle", "words: low, beam, left, dim, rain"]);
    expect(told.score).to.be.at.least(LEAST_SCORE);
    expect(scoreOf({ words: "The left and the right of it is what they have in the", wiring: null, vehicle: "" })).to.equal(0);
    expect(scoreOf({ words: OPEN.words, wiring: { id: "brigg", options: [] }, vehicle: "Brigg" })).to.be.below(LEAST_SCORE);
  });

  it("names what is in common, the weightiest first", () => {
    expect(likeness(OPEN, { ...OPEN, registration: "skv12", words: "no words" }).common).to.deep.equal([
      "part LA3",
      "code P0301",
      "this very vehicle",
    ]);
  });

  it("raises each place once a case, and only where the wiring is the same", () => {
    const cases = [
      { places: ["C21.4", "C21.4", "G7"], isSameWiring: true },
      { places: ["C21.4"], isSameWiring: true },
      { places: ["C9.1"], isSameWiring: false },
    ];
    expect(casesAsCircumstances(cases)).to.deep.equal([
      { kind: "similar", at: "C21.4", cases: 2 },
      { kind: "similar", at: "G7", cases: 1 },
    ]);
  });

  it("searches by nothing but letters and digits, whatever somebody has said", () => {
    const hostile: CaseFeatures = {
      ...OPEN,
      words: "lamp' | !(dead:*) & <-> \\ ' drop table jobs",
      parts: ["LA'1 & x"],
      codes: ["P0|301"],
    };
    for (const word of [...caseTokens(hostile), ...caseSearchWords(hostile)]) expect(word).to.match(/^[a-z0-9]+$/);
    expect(caseTokens(OPEN)).to.have.length(2);
    expect(caseTokens(OPEN)[0]).to.not.equal(caseTokens({ ...OPEN, wiring: null })[0]);
  });
});
