import { expect } from "chai";
import { amplitudeAt, longestPause } from "./look.ts";

const RATE = 10_000;
const made = (seconds: number, at: (t: number) => number): Float32Array =>
  Float32Array.from({ length: seconds * RATE }, (_, i) => at(i / RATE));
const square = (t: number): number => (t % 0.01 < 0.003 ? 12 : 0);

describe("the longest pause", () => {
  it("is the long half of a pulse that never fails, and the failure where it does", () => {
    expect(longestPause(made(1, square), RATE, { low: 0, high: 12 })!.seconds).to.be.closeTo(0.007, 2e-4);
    const failing = made(2, (t) => (t > 1.2 && t < 1.6 ? 12 : square(t)));
    const pause = longestPause(failing, RATE, { low: 0, high: 12 })!;
    // From the pulse that does not end to the one that does.
    expect(pause.at / RATE).to.be.closeTo(1.2, 0.008);
    expect(pause.seconds).to.be.closeTo(0.4, 0.008);
  });
  it("is none of a level that stands, and a gap is no pause", () => {
    expect(
      longestPause(
        made(1, () => 12),
        RATE,
        { low: 0, high: 12 },
      ),
    ).to.equal(undefined);
    const gap = made(1, (t) => (t > 0.3 && t < 0.8 ? NaN : square(t)));
    expect(longestPause(gap, RATE, { low: 0, high: 12 })!.seconds).to.be.below(0.008);
  });
  it("does not take noise on a slow edge for a crossing", () => {
    const slow = made(1, (t) => 6 + 6 * Math.sin(2 * Math.PI * 2 * t) + 0.5 * Math.sin(2 * Math.PI * 1700 * t));
    expect(longestPause(slow, RATE, { low: 0, high: 12 })!.seconds).to.be.closeTo(0.25, 0.02);
  });
});

describe("the amplitude of a frequency", () => {
  it("is that of the sine in it, whatever the mean and the others", () => {
    const mixed = made(0.5, (t) => 13.8 + 0.4 * Math.sin(2 * Math.PI * 224 * t + 1) + 0.1 * Math.cos(2 * Math.PI * 1344 * t));
    expect(amplitudeAt(mixed, RATE, 224)).to.be.closeTo(0.4, 0.01);
    expect(amplitudeAt(mixed, RATE, 1344)).to.be.closeTo(0.1, 0.01);
    expect(amplitudeAt(mixed, RATE, 700)).to.be.below(0.01);
  });
  it("of a square wave is 4/π of half its swing, and nothing is told of less than a period", () => {
    expect(
      amplitudeAt(
        made(1, (t) => (t % 0.01 < 0.005 ? 2 : 0)),
        RATE,
        100,
      ),
    ).to.be.closeTo(4 / Math.PI, 0.01);
    expect(amplitudeAt(made(0.004, square), RATE, 100)).to.equal(0);
  });
});
