import { expect } from "chai";
import { AS_IT_IS, lowPass, nextEdge, shownSamples } from "./shown.ts";

const RATE = 1e5;
const sine = (hz: number, count = 100_000): Float32Array =>
  Float32Array.from({ length: count }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE));
/** Largest in the middle, where beginning and end are forgotten. */
const amplitude = (samples: Float32Array): number => Math.max(...samples.subarray(40_000, 60_000));

describe("a channel as it is shown", () => {
  it("is the same array where nothing is changed, turned over and with another zero where that is asked", () => {
    const samples = Float32Array.from([1, 2, NaN, 4]);
    expect(shownSamples(samples, RATE, AS_IT_IS)).to.equal(samples);
    expect([...shownSamples(samples, RATE, { isInverted: true, zero: 0.5, lowPassHz: undefined })]).to.deep.equal([-1.5, -2.5, NaN, -4.5]);
    expect([...samples], "what is kept stays").to.deep.equal([1, 2, NaN, 4]);
  });
  it("has half the amplitude at the corner of its low-pass, and by theory elsewhere", () => {
    // |H|² of one pole, twice through: 1 / (1 + (f/fc)²).
    for (const [hz, factor] of [
      [10, 1 / 1.0001],
      [100, 1 / 1.01],
      [1000, 0.5],
      [5000, 1 / 26],
    ] as const)
      expect(amplitude(lowPass(sine(hz), RATE, 1000)), `${hz} Hz`).to.be.closeTo(factor, 0.02 * factor + 0.002);
  });
  it("delays nothing: a pulse stays symmetric about its middle", () => {
    const pulse = new Float32Array(2001);
    pulse.fill(1, 900, 1101);
    const smooth = lowPass(pulse, RATE, 500);
    for (const k of [10, 100, 150, 400]) expect(smooth[1000 + k]).to.be.closeTo(smooth[1000 - k]!, 1e-4);
    expect(() => lowPass(pulse, RATE, 0)).to.throw(RangeError);
  });
  it("keeps its gaps, and begins anew behind them", () => {
    const samples = Float32Array.from({ length: 100 }, (_, i) => (i === 50 ? NaN : i < 50 ? 0 : 10));
    const smooth = lowPass(samples, RATE, 1000);
    expect(Number.isNaN(smooth[50]!)).to.equal(true);
    expect(smooth[49]).to.equal(0);
    expect(smooth[51]).to.equal(10);
  });
});

describe("the next edge", () => {
  const square = Float32Array.from({ length: 100 }, (_, i) => (Math.floor(i / 10) % 2 === 0 ? 0 : 12));
  it("is found forwards and backwards, and noise at the middle is none", () => {
    expect(nextEdge(square, 3, 1, 0, 12)).to.equal(10);
    expect(nextEdge(square, 10, 1, 0, 12)).to.equal(20);
    expect(nextEdge(square, 25, -1, 0, 12)).to.equal(20);
    expect(nextEdge(square, 20, -1, 0, 12), "from edge to edge and back").to.equal(10);
    expect(nextEdge(square, 10, -1, 0, 12)).to.equal(undefined);
    const noisy = square.map((v, i) => (i > 40 && i < 50 ? 6 + (i % 2) * 0.5 : v));
    expect(nextEdge(noisy, 35, 1, 0, 12)).to.be.within(40, 50);
    expect(nextEdge(Float32Array.from([0, 12, NaN, 12, 0]), 1, 1, 0, 12)).to.equal(4);
  });
  it("is nowhere on a flat line", () => {
    expect(nextEdge(new Float32Array(50), 0, 1, 0, 0)).to.equal(undefined);
    expect(nextEdge(square, 92, 1, 0, 12)).to.equal(undefined);
  });
});
