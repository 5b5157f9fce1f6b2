import { expect } from "chai";
import { readVin } from "./vin.ts";

describe("readVin", () => {
  it("computes the check digit: 1 in all places but the ninth weighs 8+7+6+5+4+3+2+10+9+8+7+6+5+4+3+2 = 89 = 8 × 11 + 1", () => {
    expect(readVin("11111111111111111")).to.deep.equal({ kind: "ok", checked: true });
    const odd = readVin("11111111211111111");
    expect(odd.kind === "odd" && [odd.at, odd.words.includes("should be 1")]).to.deep.equal([8, true]);
  });
  it("warns of letters that are not used and of a wrong length, with the place", () => {
    const at = (vin: string) => {
      const read = readVin(vin);
      return read.kind === "odd" ? read.at : undefined;
    };
    expect([at("1111O111111111111"), at("1111111111111111"), at("")]).to.deep.equal([4, 16, undefined]);
  });
  it("says nothing of check digits where makers do not use them", () => {
    expect(readVin("VVVZZZ9VZ1V111111")).to.deep.equal({ kind: "ok", checked: false });
  });
});
