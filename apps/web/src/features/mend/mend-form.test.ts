import { expect } from "chai";
import { numberProblem, typedNumber } from "../../job/typed-number.ts";
import { EMPTY_MEND, mendOf } from "./mend-form.ts";

describe("the form of a repair", () => {
  it("leaves out what nobody said and what does not go with the method", () => {
    const form = { ...EMPTY_MEND, at: " C21.4 ", found: "green", joint: "crimp and seal", groundTo: "G4", override: "x" };
    expect(mendOf(form)).to.deep.equal({ at: "C21.4", found: "green", cause: "", method: "contact cleaned", done: "Contact cleaned." });
  });
  it("keeps damage with its place, and the joint of a wire", () => {
    const form = {
      ...EMPTY_MEND,
      at: "W4",
      found: "bare",
      method: "wire joined" as const,
      damage: "chafed through",
      segment: "main",
      fromEnd: "0,35",
      remedy: "edge guarded",
      joint: "crimp and seal",
      area: "4",
      length: "0.1",
    };
    expect(mendOf(form)).to.deep.include({
      damage: { kind: "chafed through", segment: "main", fromEndM: 0.35, remedy: "edge guarded" },
      joint: { way: "find", why: "", method: "crimp and seal", areaMm2: 4, lengthM: 0.1 },
    });
    expect(mendOf({ ...form, method: "wire overlaid" }).joint?.way).to.equal("overlay");
    expect(mendOf({ ...EMPTY_MEND, method: "ground overlaid", groundTo: "G4" }).groundTo).to.equal("G4");
    expect(mendOf({ ...EMPTY_MEND, method: "part renewed", override: "customer insists" }).override).to.equal("customer insists");
  });
  it("keeps what was wrong, and ohms of a resistance alone", () => {
    const form = { ...EMPTY_MEND, at: "C5.2", found: "green", fault: "high resistance", ohms: "0,6" };
    expect(mendOf(form).fault).to.deep.equal({ type: "high resistance", ohms: 0.6 });
    expect(mendOf({ ...form, fault: "open circuit" }).fault).to.deep.equal({ type: "open circuit" });
    expect(mendOf({ ...form, fault: "" }).fault).to.equal(undefined);
  });
  it("keeps the rating of a fuse that was put in, with that method alone", () => {
    const form = { ...EMPTY_MEND, at: "F1", found: "blown", method: "fuse renewed" as const, putIn: "20" };
    expect(mendOf(form).fuseAmps).to.equal(20);
    expect(mendOf({ ...form, method: "other" }).fuseAmps).to.equal(undefined);
  });
  it("reads numbers with point or comma, and says what is wrong with others", () => {
    expect([typedNumber(""), typedNumber("0,5"), typedNumber("2.5")]).to.deep.equal([undefined, 0.5, 2.5]);
    expect(numberProblem("", 0, 10, "m")).to.equal(true);
    expect(numberProblem("0,5", 0, 10, "m")).to.equal(true);
    expect(numberProblem("x", 0, 10, "m")).to.match(/from 0 to 10 m/);
    expect(numberProblem("11", 0, 10, "m")).to.match(/from 0 to 10 m/);
  });
});
