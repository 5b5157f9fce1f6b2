import { expect } from "chai";
import {
  canBits,
  canDifference,
  linHeader,
  linLine,
  linResponse,
  PROTECTED,
  type Piece,
} from "../../../../../packages/core/src/test/bus-lines.ts";
import { decoded } from "./decode.ts";

const traceOf = (rateHz: number, ...samples: Float32Array[]) => ({
  startS: 5,
  rateHz,
  count: samples[0]!.length,
  channels: samples.map((s, i) => ({ name: `CH${i + 1}`, unit: "V", samples: s })),
});

describe("frames as rows", () => {
  it("of a LIN line through a probe of ten, each at its place", () => {
    const idle: Piece = [1, 40];
    const line = linLine([
      idle,
      ...linHeader(PROTECTED[0x10]!),
      ...linResponse([0x0a, 0xff], PROTECTED[0x10]),
      idle,
      ...linHeader(PROTECTED[1]!),
      [1, 90],
    ]);
    const read = decoded(
      traceOf(
        1e6,
        line.map((v) => v / 10),
      ),
      { kind: "lin", channel: 0 },
      [10],
    );
    expect(read).to.deep.include({ frames: 2, bad: 1 });
    expect(read.baud! / 19_200).to.be.closeTo(1, 0.01);
    expect(read.rows.map((r) => [r.name, r.data, r.wrong, r.note])).to.deep.equal([
      ["0x10", "0A FF", "", "enhanced"],
      ["0x01", "", "header without a response", ""],
    ]);
    // Forty bits of 52 µs before it, on a clock that begins at 5 s.
    expect(read.rows[0]!.startS).to.be.closeTo(5 + 40 / 19_200, 1e-4);
    expect(read.remarks[0]).to.match(/^Levels 0\.9 and 13\.6 V/);
  });
  it("of a LIN line whose levels no receiver takes, with what it has and what is wanted", () => {
    const line = linLine([[1, 40], ...linHeader(PROTECTED[1]!), [1, 60]], { low: 6 });
    expect(decoded(traceOf(1e6, line), { kind: "lin", channel: 0 }, [1]).remarks[0]).to.match(/from 6\.0 to 13\.6 V.*less than 40 %/);
  });
  it("of a CAN bus from both wires, from their difference and from a receiver", () => {
    const difference = canDifference("1".repeat(15) + canBits({ id: 0x123, data: [0xab] }) + "1".repeat(15));
    const rows = (read: ReturnType<typeof decoded>): unknown[] => read.rows.map((r) => [r.name, r.data, r.wrong]);
    const wires = traceOf(
      1e7,
      difference.map((d) => 2.5 + d / 2),
      difference.map((d) => 2.5 - d / 2),
    );
    expect(rows(decoded(wires, { kind: "can", high: 0, low: 1 }, [1, 1]))).to.deep.equal([["0x123", "AB", ""]]);
    expect(rows(decoded(traceOf(1e7, difference), { kind: "can difference", channel: 0 }, [1]))).to.deep.equal([["0x123", "AB", ""]]);
    const receiver = difference.map((d) => (d > 1 ? 0 : 1));
    expect(rows(decoded(traceOf(1e7, receiver), { kind: "can receiver", channel: 0 }, [1]))).to.deep.equal([["0x123", "AB", ""]]);
    // The wires the wrong way round are no frames.
    expect(rows(decoded(wires, { kind: "can", high: 1, low: 0 }, [1, 1]))).to.deep.equal([]);
  });
});
