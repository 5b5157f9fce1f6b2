import { expect } from "chai";
import { decodePwm, type PwmStretch } from "./pwm.ts";

const RATE = 100_000;
/** Pulses one after the other: [duty, Hz, how many], or a level and how long. */
type Part = readonly [duty: number, hertz: number, pulses: number] | readonly [level: 0 | 1, seconds: number];
const line = (...parts: readonly Part[]): Float32Array =>
  Float32Array.from(
    parts.flatMap((p) => {
      if (p.length === 2) return Array.from({ length: Math.round(p[1] * RATE) }, () => 12 * p[0]);
      const period = Math.round(RATE / p[1]);
      return Array.from({ length: p[2] * period }, (_, i) => ((i % period) / period < p[0] ? 12 : 0.2));
    }),
  );
const said = (samples: Float32Array): readonly string[] => decodePwm(samples, RATE, 1).stretches.map(words);
const words = (s: PwmStretch): string =>
  s.kind === "stands"
    ? `${s.isHigh ? "high" : "low"} for ${((s.endS - s.startS) * 1e3).toFixed(0)} ms`
    : `${(100 * s.duty).toFixed(0)} % ${s.hertz.toFixed(0)} Hz ×${s.pulses}`;

describe("a line of pulses", () => {
  it("is read as duty and rate, and each change of either", () => {
    expect(said(line([0, 0.01], [0.69, 100, 10], [0.3, 100, 5], [0.3, 200, 8], [0, 0.001]))).to.deep.equal([
      "69 % 100 Hz ×10",
      "30 % 100 Hz ×5",
      "30 % 200 Hz ×7",
    ]);
  });
  it("stands where it should pulse, at either level", () => {
    expect(said(line([0, 0.005], [0.5, 100, 6], [0, 0.2], [0.5, 100, 6]))).to.deep.equal([
      "50 % 100 Hz ×5",
      "low for 205 ms",
      "50 % 100 Hz ×5",
    ]);
    expect(said(line([0, 0.005], [0.5, 100, 6], [1, 0.1], [0, 0.005], [0.5, 100, 6]))[1]).to.match(/^high for 10\d ms$/);
  });
  it("is none where it stands still, or barely moves", () => {
    expect(said(line([1, 0.1]))).to.deep.equal([]);
    expect(
      decodePwm(
        line([0.5, 100, 6]).map((v) => v / 100),
        RATE,
        1,
      ).stretches,
    ).to.deep.equal([]);
  });
  it("holds to 0.2 % of duty with noise of a tenth of its swing", () => {
    let seed = 7;
    const noise = (): number => ((seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647 - 0.5) * 1.2;
    const read = decodePwm(
      line([0, 0.003], [0.371, 50, 20]).map((v) => v + noise()),
      RATE,
      1,
    ).stretches;
    expect(read).to.have.length(1);
    expect((read[0] as Extract<PwmStretch, { kind: "pulses" }>).duty).to.be.closeTo(0.371, 0.002);
  });
});
