import { expect } from "chai";
import { measure } from "./measure.ts";

const RATE = 1e6;
/** A signal of a function of time. */
const of = (seconds: number, f: (t: number) => number, rate = RATE): Float32Array =>
  Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => f(i / rate));
/** Between low and high with straight edges of `edgeS` from end to end; high for `duty` of a period between the middles of its edges. */
const trapezoid =
  (periodS: number, duty: number, edgeS: number, low: number, high: number) =>
  (t: number): number => {
    const at = (t / periodS - Math.floor(t / periodS)) * periodS;
    const up = (at - periodS / 4) / edgeS + 0.5;
    const down = (at - periodS / 4 - duty * periodS) / edgeS + 0.5;
    const clamp = (x: number): number => Math.min(1, Math.max(0, x));
    return low + (high - low) * (clamp(up) - clamp(down));
  };
/** Evenly spread, the same every time. */
function noise(amplitude: number): () => number {
  let seed = 1;
  return () => ((seed = (seed * 48271) % 2147483647) / 2147483647 - 0.5) * 2 * amplitude;
}

describe("measures of a trace", () => {
  it("a sine: mean, rms, frequency and period by their closed forms", () => {
    // 20 periods of 2 kHz, 3 V around 5 V: rms² = 5² + 3²/2.
    const m = measure(
      of(0.01, (t) => 5 + 3 * Math.sin(2 * Math.PI * 2000 * t)),
      RATE,
    );
    expect(m.mean).to.be.closeTo(5, 1e-4);
    expect(m.rms).to.be.closeTo(Math.sqrt(25 + 4.5), 1e-4);
    expect(m.frequencyHz).to.be.closeTo(2000, 0.01);
    expect(m.periodS).to.be.closeTo(5e-4, 1e-9);
    expect(m.peakToPeak).to.be.closeTo(6, 1e-3);
    expect(m.duty).to.be.closeTo(0.5, 1e-3);
  });

  it("a trapezoid: levels, duty, pulse width and edges; a rise from 10 to 90 % is 0.8 of the whole edge", () => {
    const m = measure(of(0.05, trapezoid(1e-3, 0.3, 20e-6, 0.4, 13.2)), RATE);
    expect(m.low).to.be.closeTo(0.4, 1e-3);
    expect(m.high).to.be.closeTo(13.2, 1e-3);
    expect(m.duty).to.be.closeTo(0.3, 1e-4);
    expect(m.pulseS).to.be.closeTo(3e-4, 1e-8);
    expect(m.riseS).to.be.closeTo(16e-6, 1e-8);
    expect(m.fallS).to.be.closeTo(16e-6, 1e-8);
    expect(m.edges).to.equal(100);
    expect(m.jitterS).to.be.below(1e-9);
    // Of a square wave between 0.4 and 13.2 V the mean tells the duty too.
    expect((m.mean - 0.4) / 12.8).to.be.closeTo(0.3, 1e-3);
  });

  it("finds edges between samples: a period that is no whole number of samples comes out ten times finer than the sampling", () => {
    const period = 1 / 1237.5;
    const m = measure(of(0.1, trapezoid(period, 0.5, 60e-6, 0, 5), 1e5), 1e5);
    expect(m.periodS).to.be.closeTo(period, 1e-6 / 10);
  });

  it("counts no noise as edges, and takes levels by histogram, not by spikes", () => {
    const n = noise(0.6);
    const clean = trapezoid(1e-3, 0.4, 50e-6, 0, 12);
    const noisy = of(0.02, (t) => Math.round((clean(t) + n()) / 0.05) * 0.05);
    noisy[333] = 40;
    noisy[7777] = -30;
    const m = measure(noisy, RATE);
    // The swing of the histogram is that of the spikes; the levels are the signal's own.
    expect(m.low).to.be.closeTo(0, 0.7);
    expect(m.high).to.be.closeTo(12, 0.7);
    expect(m.periodS).to.be.closeTo(1e-3, 5e-6);
    expect(m.duty).to.be.closeTo(0.4, 0.01);
    expect([m.min, m.max]).to.deep.equal([-30, 40]);
  });

  it("jitter is the deviation of the periods", () => {
    // Periods of 1 ms ± 10 µs by turns: their deviation is 10 µs (n − 1 in the divisor).
    const edges: number[] = [0];
    for (let i = 0; i < 60; i++) edges.push(edges.at(-1)! + 1e-3 + (i % 2 === 0 ? 10e-6 : -10e-6));
    let k = 0;
    const square = of(0.058, (t) => {
      while (k + 1 < edges.length && t >= edges[k + 1]! - 5e-7) k++;
      return t - edges[k]! < 5e-4 ? 5 : 0;
    });
    expect(measure(square, RATE).jitterS).to.be.closeTo(10e-6, 0.4e-6);
  });

  it("says nothing of what the window does not show, and measures around gaps", () => {
    const flat = measure(
      of(0.01, () => 12.4),
      RATE,
    );
    expect(flat.mean).to.be.closeTo(12.4, 1e-5);
    expect([flat.frequencyHz, flat.duty, flat.riseS, flat.jitterS, flat.edges]).to.deep.equal([
      undefined,
      undefined,
      undefined,
      undefined,
      0,
    ]);
    const gap = of(0.01, trapezoid(1e-3, 0.5, 20e-6, 0, 5));
    // The gap takes the upward edge of the third period out, and with it what was counted over it.
    gap.fill(NaN, 2200, 2300);
    const m = measure(gap, RATE);
    expect(m.samples).to.equal(gap.length - 100);
    expect(m.edges).to.equal(19);
    expect(() => measure(new Float32Array(5).fill(NaN), RATE)).to.throw(RangeError);
  });

  it("takes a kick for no level where its share of the time is trimmed, and leaves extremes as they are", () => {
    // 12 V and 0.2 V at 20 Hz, 5 % low; each time it lets go it kicks to 380 V for 0.3 ms and burns at 40 V for 0.8 ms.
    const samples = Float32Array.from({ length: 50_000 }, (_, i) => {
      const t = (i / 1e5) % 0.05;
      return t < 0.0025 ? 0.2 : t < 0.0028 ? 380 : t < 0.0036 ? 40 : 12;
    });
    const m = measure(samples, 1e5, 0, samples.length, 0.025);
    expect(m.max).to.be.closeTo(380, 1e-3);
    expect([m.low, m.high].map((v) => Number(v.toFixed(2)))).to.deep.equal([0.2, 12]);
    expect(m.duty).to.be.closeTo(0.95, 1e-3);
    expect(m.frequencyHz).to.be.closeTo(20, 1e-3);
  });

  it("counts no period and no pulse over a gap", () => {
    // 100 Hz, 30 % high; 25 ms are missing.
    const samples = Float32Array.from({ length: 50_000 }, (_, i) => (i > 20_100 && i < 22_600 ? NaN : i % 1000 < 300 ? 12 : 0));
    const m = measure(samples, 1e5);
    expect(m.frequencyHz).to.be.closeTo(100, 1e-6);
    expect(m.duty).to.be.closeTo(0.3, 1e-6);
    expect(m.jitterS).to.be.closeTo(0, 1e-9);
  });
});
