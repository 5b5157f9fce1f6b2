import { expect } from "chai";
import { watchedSamples } from "./watched.ts";

describe("a channel that is watched", () => {
  it("keeps the shortest dip, at its ms, whatever is left out", () => {
    const samples = new Float32Array(1_000_000).fill(12.3);
    // 20 µs at 0.7 s of a second.
    samples.fill(3.1, 700_000, 700_020);
    const seen = watchedSamples(samples, 1e6, 500);
    expect(seen).to.have.length(500);
    expect(seen.filter(([, v]) => v < 12).map(([ms, v]) => [ms, Number(v.toFixed(2))])).to.deep.equal([[700, 3.1]]);
  });
  it("has no reading in a gap, and none of nothing", () => {
    const samples = Float32Array.from({ length: 100 }, (_, i) => (i >= 20 && i < 60 ? NaN : i));
    expect(watchedSamples(samples, 1000, 1000).map(([ms]) => ms)).to.deep.equal([
      ...Array(20).keys(),
      ...Array.from({ length: 40 }, (_, i) => 60 + i),
    ]);
    expect(watchedSamples(new Float32Array(5).fill(NaN), 1000, 10)).to.deep.equal([]);
  });
});
