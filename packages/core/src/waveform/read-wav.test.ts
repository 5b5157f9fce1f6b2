import { expect } from "chai";
import { envelopeOf, pyramidOf, visibleOf } from "./decimate.ts";
import { readWav } from "./read-wav.ts";

const u16 = (n: number): number[] => [n & 255, (n >> 8) & 255];
const u32 = (n: number): number[] => [...u16(n & 0xffff), ...u16(n >>> 16)];
const ascii = (t: string): number[] => [...t].map((c) => c.charCodeAt(0));
/** A file by the published layout, chunk by chunk. */
function wav(code: number, bits: number, channels: number, data: readonly number[], extra: readonly number[] = []): Uint8Array {
  const form = [
    ...u16(code),
    ...u16(channels),
    ...u32(8000),
    ...u32((8000 * channels * bits) / 8),
    ...u16((channels * bits) / 8),
    ...u16(bits),
  ];
  const body = [...ascii("WAVE"), ...extra, ...ascii("fmt "), ...u32(form.length), ...form, ...ascii("data"), ...u32(data.length), ...data];
  return Uint8Array.from([...ascii("RIFF"), ...u32(body.length), ...body]);
}
const samplesOf = (bytes: Uint8Array): number[][] => {
  const r = readWav(bytes);
  if (r.kind === "bad") throw new Error(r.why);
  return r.trace.channels.map((c) => [...c.samples]);
};

describe("a WAV file", () => {
  it("gives its samples as shares of full scale, whatever their width", () => {
    expect(samplesOf(wav(1, 8, 1, [128, 192, 0]))).to.deep.equal([[0, 0.5, -1]]);
    expect(samplesOf(wav(1, 16, 2, [...u16(0x4000), ...u16(0x8000), ...u16(0), ...u16(0x2000)]))).to.deep.equal([
      [0.5, 0],
      [-1, 0.25],
    ]);
    expect(samplesOf(wav(1, 24, 1, [0, 0, 0x40, 0, 0, 0xc0]))).to.deep.equal([[0.5, -0.5]]);
    const float = new Uint8Array(new Float32Array([0.25, -2]).buffer);
    expect(samplesOf(wav(3, 32, 1, [...float]))).to.deep.equal([[0.25, -2]]);
    // Chunks that nobody asked for are passed over, of odd length too.
    expect(samplesOf(wav(1, 8, 1, [128, 255], [...ascii("LIST"), ...u32(3), 1, 2, 3, 0]))[0]![1]).to.be.closeTo(0.992, 0.001);
  });

  it("is refused with what is wrong, at every length that it can be cut to", () => {
    const whole = wav(1, 16, 1, [...u16(1), ...u16(2), ...u16(3)]);
    for (let cut = 0; cut < whole.length; cut++) {
      const r = readWav(whole.subarray(0, cut));
      if (r.kind === "read") expect(r.trace.count, String(cut)).to.be.within(2, 3);
      else expect(r.why).to.not.equal("");
    }
    expect(readWav(wav(85, 16, 1, [0, 0, 0, 0]))).to.deep.equal({
      kind: "bad",
      why: "its samples are in a form that is not read (85, 16 bits)",
    });
  });
});

describe("the visible part of a trace", () => {
  it("loses no spike: every column lies between the least and the most of its samples", () => {
    const samples = Float32Array.from({ length: 100_000 }, (_, i) => Math.sin(i / 500));
    samples[54_321] = 9;
    samples[77_777] = -9;
    const pyramid = pyramidOf(samples);
    for (const [from, to, columns] of [
      [0, 100_000, 300],
      [50_000, 60_000, 777],
      [54_300, 54_340, 20],
      [0, 100_000, 7],
    ] as const) {
      const seen = visibleOf(pyramid, from, to, columns);
      const exact = envelopeOf(samples, from, to, columns);
      expect(seen).to.have.length(2 * columns);
      expect(Math.max(...seen), `${from}`).to.equal(Math.max(...exact));
      expect(Math.min(...seen)).to.equal(Math.min(...exact));
    }
    const gap = envelopeOf(Float32Array.from([1, NaN, NaN, 4]), 0, 4, 4);
    expect([...gap]).to.deep.equal([1, 1, NaN, NaN, NaN, NaN, 4, 4]);
  });
});
