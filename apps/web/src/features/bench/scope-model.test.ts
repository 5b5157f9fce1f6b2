import { expect } from "chai";
import { cursorMoved, panned, scaled, wholeOf, windowOf, withCursor, zoomed } from "./scope-model.ts";

describe("the sight of a trace", () => {
  const whole = wholeOf(1000);
  it("zooms around a point, which stays where it is, and never leaves the trace", () => {
    const half = zoomed(whole, 1000, 0.5, 0.2);
    // The sample at a fifth of the width is the same: 200.
    expect(half.from + 0.2 * (half.to - half.from)).to.be.closeTo(200, 1);
    expect(zoomed(whole, 1000, 2, 0.5)).to.deep.include({ from: 0, to: 1000 });
    expect(zoomed(half, 1000, 1e-9, 0.5).to - zoomed(half, 1000, 1e-9, 0.5).from).to.equal(8);
    expect(panned(half, 1000, -9)).to.deep.include({ from: 0, to: 500 });
    expect(panned(half, 1000, 9)).to.deep.include({ from: 500, to: 1000 });
  });
  it("cursors stay on samples, move by one at least, and always hold a window", () => {
    expect(withCursor(whole, 1000, "a", 1e9).a).to.equal(999);
    const close = { ...whole, from: 0, to: 8 };
    expect(cursorMoved(close, 1000, "b", 1).b).to.equal(whole.b + 1);
    expect(cursorMoved(whole, 1000, "a", -1).a).to.equal(whole.a - 10);
    expect(windowOf({ ...whole, a: 700, b: 300 }, 1000)).to.deep.equal([300, 701]);
    expect(windowOf({ ...whole, a: 999, b: 999 }, 1000)).to.deep.equal([998, 1000]);
  });
  it("writes numbers with the prefix that suits", () => {
    expect([scaled(0.00052, "s"), scaled(1234567, "Hz"), scaled(12.3456, "V"), scaled(0, "V"), scaled(-0.0021, "V", 2)]).to.deep.equal([
      "520 µs",
      "1.235 MHz",
      "12.35 V",
      "0 V",
      "-2.1 mV",
    ]);
  });
});
