import { expect } from "chai";
import { compareTraces, differenceTrace, onClock } from "./compare.ts";

const RATE = 1e6;
interface Pulse {
  readonly low?: number;
  readonly high?: number;
  readonly duty?: number;
  readonly laterS?: number;
  /** Time from the low to the high level, s. */
  readonly riseS?: number;
}
/** 500 Hz for 40 ms. */
const pulse = ({ low = 0.4, high = 13.6, duty = 0.3, laterS = 0, riseS = 1e-6 }: Pulse = {}): Float32Array =>
  Float32Array.from({ length: 40_000 }, (_, i) => {
    const t = (((i / RATE - laterS) % 0.002) + 0.002) % 0.002;
    const share = t < riseS ? t / riseS : t < duty * 0.002 ? 1 : 0;
    return low + (high - low) * share;
  });
const words = (p: Pulse): string => compareTraces(pulse(), pulse(p), RATE).words.join(", ").replace(/\s/g, " ");

describe("two recordings laid over each other", () => {
  it("that are the same have no difference and no words", () => {
    expect(compareTraces(pulse(), pulse(), RATE)).to.deep.equal({ delayS: 0, difference: 0, words: [] });
  });
  it("are told apart by levels, amplitude, duty, edges and delay", () => {
    expect(words({ low: 2.3 })).to.equal("low level 1.90 V higher, amplitude 86 %");
    expect(words({ high: 9.1 })).to.equal("high level 4.50 V lower, amplitude 66 %");
    expect(words({ duty: 0.42 })).to.equal("high for 42 % of the time in place of 30 %");
    // 10 to 90 % of 60 µs are 48 µs.
    expect(words({ riseS: 60e-6 })).to.match(/^rises 4[78] µs slower/);
    expect(words({ laterS: 50e-6 })).to.equal("50 µs later");
    expect(words({ laterS: -50e-6 })).to.equal("50 µs earlier");
    expect(words({ low: 0.4, high: 0.4 })).to.equal("no pulses");
  });
  it("are compared after the delay is taken out", () => {
    const { delayS, difference } = compareTraces(pulse(), pulse({ laterS: 120e-6 }), RATE);
    expect(delayS).to.be.closeTo(120e-6, 1e-6);
    // The edges lie between two samples.
    expect(difference).to.be.below(0.02);
    // A third of the time it is 4.5 V of 13.2 V away.
    expect(compareTraces(pulse(), pulse({ high: 9.1 }), RATE).difference).to.be.closeTo((4.5 / 13.2) * Math.sqrt(0.3), 0.01);
  });
  it("that stand still are compared by their level, and gaps count for nothing", () => {
    const flat = (v: number): Float32Array => new Float32Array(1000).fill(v);
    expect(compareTraces(flat(12.1), flat(9.8), RATE).words.join().replace(/\s/g, " ")).to.equal("level 2.30 V lower");
    const holed = pulse().map((v, i) => (i > 9000 && i < 11_000 ? NaN : v));
    expect(compareTraces(pulse(), holed, RATE).words).to.deep.equal([]);
    expect(compareTraces(pulse(), holed, RATE).difference).to.equal(0);
  });
  it("without edges are laid shape on shape", () => {
    // A dip of 2 V and 30 ms that is 17.3 ms later: cranking begins at other moments, and nothing pulses.
    const dip = (atS: number, depth: number): Float32Array =>
      Float32Array.from({ length: 100_000 }, (_, i) => 12.6 - depth * Math.exp(-(((i / RATE - atS) / 0.015) ** 2)));
    const shape = { align: "shape", isScaled: false } as const;
    expect(compareTraces(dip(0.03, 2), dip(0.0473, 2), RATE, "V", shape).delayS).to.be.closeTo(0.0173, 2e-6);
    expect(compareTraces(dip(0.0473, 2), dip(0.03, 2), RATE, "V", shape).delayS).to.be.closeTo(-0.0173, 2e-6);
    expect(compareTraces(dip(0.03, 2), dip(0.0473, 2), RATE, "V", shape).difference).to.be.below(1e-3);
    // Of a signal that repeats itself the nearest place is meant, and of one that stands still none.
    expect(compareTraces(pulse(), pulse({ laterS: 300e-6 }), RATE, "V", shape).delayS).to.be.closeTo(300e-6, 2e-6);
    expect(compareTraces(new Float32Array(100).fill(3), pulse().subarray(0, 100), RATE, "V", shape).delayS).to.equal(0);
    expect(compareTraces(dip(0.03, 2), dip(0.0473, 2), RATE, "V", { align: "time", isScaled: false }).delayS).to.equal(0);
  });
  it("at the same levels differ by shape and time alone", () => {
    const scaled = { align: "edges", isScaled: true } as const;
    expect(compareTraces(pulse(), pulse({ low: 0.1, high: 1.8 }), RATE, "V", scaled)).to.deep.include({ words: [] });
    expect(compareTraces(pulse(), pulse({ low: 0.1, high: 1.8, duty: 0.42 }), RATE, "V", scaled).words.join()).to.match(/^high for 42 %/);
    expect(compareTraces(pulse({ high: 1.8 }), pulse(), RATE).words.join()).to.contain("amplitude 9.4 times as large");
  });
  it("leave a difference that is drawn on the first one's clock", () => {
    const by = differenceTrace(pulse(), pulse({ high: 9.1, laterS: 100e-6 }), RATE);
    // 9.1 − 13.6 V while both are high, nothing while both are low, and a gap where the later one has ended.
    expect(by[1000 + 100]).to.be.closeTo(0, 1e-4);
    expect(by[300]).to.be.closeTo(-4.5, 1e-4);
    expect(Number.isNaN(by.at(-1)!)).to.equal(true);
  });
  it("of different rates are put on one clock", () => {
    const slow = Float32Array.from({ length: 101 }, (_, i) => i);
    const fine = onClock(slow, 100, 1000, 1200);
    expect(fine[5]).to.be.closeTo(0.5, 1e-6);
    expect(fine[1000]).to.equal(100);
    expect(Number.isNaN(fine[1011]!)).to.equal(true);
  });
});
