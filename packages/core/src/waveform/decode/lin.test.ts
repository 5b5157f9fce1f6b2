import { expect } from "chai";
import { linByte, linHeader, linLine, linResponse, linSum, PROTECTED, type Piece } from "../../test/bus-lines.ts";
import { decodeLin, protectedId } from "./index.ts";

const IDLE: Piece = [1, 30];
const frames: readonly Piece[] = [
  IDLE,
  ...linHeader(PROTECTED[0x10]!),
  ...linResponse([0x11, 0xff, 0x00, 0x80], PROTECTED[0x10]),
  IDLE,
  ...linHeader(PROTECTED[0x3c]!),
  ...linResponse([1, 2, 3, 4, 5, 6, 7, 8]),
  IDLE,
  ...linHeader(PROTECTED[0x23]!),
  [1, 90],
  ...linHeader(PROTECTED[0]!),
  ...linResponse([0x42]),
  IDLE,
];
const told = (samples: Float32Array, rateHz = 1e6): unknown[] =>
  decodeLin(samples, rateHz, 13.6).frames.map((f) => [f.id, f.data, f.checksum, f.problems]);
const GOOD = [
  [0x10, [0x11, 0xff, 0x00, 0x80], "enhanced", []],
  [0x3c, [1, 2, 3, 4, 5, 6, 7, 8], "classic", []],
  [0x23, [], undefined, ["header without a response"]],
  [0, [0x42], "classic", []],
];

describe("a LIN line", () => {
  it("is read with both kinds of checksum, and a header that nobody answers", () => {
    expect(told(linLine(frames))).to.deep.equal(GOOD);
    expect(decodeLin(linLine(frames), 1e6, 13.6).baud! / 19_200).to.be.closeTo(1, 0.002);
  });
  it("is read at other rates, from few samples a bit, with a rounded edge and a poor low level", () => {
    expect(told(linLine(frames, { baud: 9600, rateHz: 1e5 }), 1e5)).to.deep.equal(GOOD);
    expect(told(linLine(frames, { slow: 0.2, low: 4.1 }))).to.deep.equal(GOOD);
  });
  it("whose low level does not reach 40 % of the supply says nothing, as to a receiver", () => {
    expect(decodeLin(linLine(frames, { low: 6 }), 1e6, 13.6)).to.deep.equal({ baud: undefined, frames: [] });
  });
  it("has the identifiers' parity of the standard's table", () => {
    for (const [id, pid] of Object.entries(PROTECTED)) expect(protectedId(Number(id)), id).to.equal(pid);
  });
  it("with any one bit turned is told what is wrong, or read as what it has become", () => {
    const data = [0x3a, 0x07];
    const bits = [
      ...linByte(0x55),
      ...linByte(PROTECTED[0x10]!),
      [1, 2] as Piece,
      ...data.flatMap((b) => linByte(b)),
      ...linByte(linSum([PROTECTED[0x10]!, ...data])),
    ];
    for (const [i, [level, length]] of bits.entries()) {
      if (length !== 1) continue;
      const turned = bits.map((p, k): Piece => (k === i ? [level === 1 ? 0 : 1, 1] : p));
      const { frames: read } = decodeLin(
        linLine([IDLE, ...linHeader(PROTECTED[1]!), ...linResponse([1]), IDLE, [0, 13], [1, 1], ...turned, IDLE]),
        1e6,
        13.6,
      );
      expect(read[0]!.id, `bit ${i}`).to.equal(1);
      const silent = read.slice(1).filter((f) => f.problems.length === 0);
      // One turned bit changes an inverted sum with carry always.
      expect(silent, `bit ${i}`).to.deep.equal([]);
      expect(read.length, `bit ${i}`).to.be.above(1);
    }
  });
  it("that is cut off anywhere is read without an error", () => {
    const samples = linLine(frames, { rateHz: 2e5 });
    for (let n = 0; n < samples.length; n += 101) expect(() => decodeLin(samples.subarray(n % 17, n), 2e5, 13.6)).not.to.throw();
  });
});
