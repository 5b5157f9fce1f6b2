import { expect } from "chai";
import { RESULT_WORDS, type Observable } from "./kinds/index.ts";
import { readWord } from "./typed-word.ts";

const part: Observable = { kind: "part", part: "LA" };
const lamp: Observable = { kind: "lamp", red: "F1.2", black: "BAT.-", watts: 5 };
const read = (o: Observable, typed: string): string => {
  const r = readWord(o, typed);
  return r.kind === "word" ? r.word : r.kind;
};

describe("a word typed as a reading", () => {
  it("is what the test may be answered with, as people type it", () => {
    expect(["lit", "Works", " dim ", "OUT", "click", "no  click", "dead", "comes and goes"].map((w) => read(part, w))).to.deep.equal(
      ["full", "full", "weak", "none", "full", "none", "none", "flickers"], // prettier-ignore
    );
    expect(["lit", "dim", "out", "glow"].map((w) => read(lamp, w))).to.deep.equal(["bright", "dim", "dark", "glowing"]);
    expect(read({ kind: "answers", module: "BCM" }, "silent")).to.equal("no");
  });
  it("is taken by its beginning only where one word begins so", () => {
    expect(read(part, "inter")).to.equal("flickers");
    expect(read(part, "too")).to.equal("too much");
    expect(read(part, "w")).to.equal("other");
    expect(read(part, "")).to.equal("other");
  });
  it("is refused with the list of words, and for what is measured", () => {
    const refused = readWord(lamp, "purple");
    expect(refused.kind === "other" ? refused.words : []).to.deep.equal(["bright", "dim", "glowing", "dark"]);
    expect(read({ kind: "volts", red: "F1.2", black: "BAT.-" }, "lit")).to.equal("measured");
  });
  it("knows every word of every kind by itself", () => {
    const kinds = Object.entries(RESULT_WORDS);
    expect(kinds.length).to.be.above(6);
    for (const [kind, words] of kinds)
      for (const w of words) expect(read({ kind } as unknown as Observable, w), `${kind} ${w}`).to.equal(w);
  });
});
