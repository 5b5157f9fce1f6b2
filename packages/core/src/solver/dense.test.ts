import { expect } from "chai";
import { invert, solveDense } from "./dense.ts";

describe("small dense systems", () => {
  it("are inverted with their rows exchanged where a pivot is 0", () => {
    // Rows exchanged by hand: [0 2 0; 1 0 0; 0 1 4]⁻¹ = [0 1 0; ½ 0 0; −⅛ 0 ¼].
    const m = Float64Array.of(0, 2, 0, 1, 0, 0, 0, 1, 4);
    expect(invert(3, m)).to.be.above(0);
    expect([...m].map((v) => v + 0)).to.deep.equal([0, 1, 0, 0.5, 0, 0, -0.125, 0, 0.25]);
  });
  it("have the inverse that their solutions tell, column by column, whatever their figures", () => {
    const size = 7;
    const a = Float64Array.from(
      { length: size * size },
      (_, i) => Math.sin(3 * i + 1) * 10 ** ((i % 5) - 2) + (i % (size + 1) === 0 ? 1 : 0),
    );
    const inverse = Float64Array.from(a);
    expect(invert(size, inverse)).to.be.above(0);
    for (let c = 0; c < size; c++) {
      const column = Float64Array.from({ length: size }, (_, i) => (i === c ? 1 : 0));
      solveDense(size, Float64Array.from(a), column);
      for (let i = 0; i < size; i++) expect(inverse[i * size + c]).to.be.closeTo(column[i]!, 1e-9 * Math.max(1, Math.abs(column[i]!)));
    }
  });
  it("without an inverse say so", () => {
    expect(invert(2, Float64Array.of(1, 2, 2, 4))).to.equal(0);
  });
});
