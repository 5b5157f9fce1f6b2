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
import { decoded, respondsIn } from "./decode.ts";

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
  it("of a single wire, whose dominant level is the high one", () => {
    const line = canDifference("1".repeat(15) + canBits({ id: 0x123, data: [0xab] }) + "1".repeat(15)).map((d) => 2 * d);
    const read = decoded(traceOf(1e7, line), { kind: "single wire", channel: 0 }, [1]);
    expect(read.rows.map((r) => [r.name, r.data, r.wrong])).to.deep.equal([["0x123", "AB", ""]]);
  });
  it("of a command, with what its monitor does meanwhile", () => {
    const rateHz = 50_000;
    // 69 % at 100 Hz for 0.1 s, then nothing for 0.1 s, then 30 %; the monitor pulses at 50 % until the command goes, and stands at 13.4 V from then on.
    const command = Float32Array.from({ length: 15_000 }, (_, i) => {
      const duty = i < 5000 ? 0.69 : i < 10_000 ? 0 : 0.3;
      return ((i + 250) % 500) / 500 < duty ? 13.5 : 0.1;
    });
    const monitor = Float32Array.from({ length: 15_000 }, (_, i) => (i < 5000 && i % 500 < 250 ? 0.7 : 13.4));
    const read = decoded(traceOf(rateHz, command, monitor), { kind: "pwm", channel: 0, beside: 1 }, [1, 1]);
    expect(read.rows.map((r) => [r.name, r.data, r.wrong, r.note].map((w) => w.replace(/\s/g, " ")))).to.deep.equal([
      ["69.0 %", "100 Hz, 9 pulses", "", "other line 50.0 %, 100 Hz"],
      ["stands", "low, 0.100 V", "no pulse for 110 ms", "other line stands at 13.40 V"],
      ["30.0 %", "100 Hz, 9 pulses", "", "other line stands at 13.40 V"],
    ]);
    expect(read).to.deep.include({ frames: 3, bad: 1 });
  });
});

describe("who is heard on a bus", () => {
  const linSenders = new Map([
    [0x10, "FL1"],
    [0x01, "FL2"],
  ]);
  const idle: Piece = [1, 40];
  const asked = (pid: number): readonly Piece[] => linHeader(PROTECTED[pid]!);
  const onLin = (...pieces: readonly Piece[]) => {
    const { rows } = decoded(traceOf(1e6, linLine([idle, ...pieces])), { kind: "lin", channel: 0 }, [1]);
    return respondsIn(rows, linSenders);
  };
  it("is told by a response, and by a header that nobody responds to", () => {
    expect(onLin(...asked(1), [1, 90], ...asked(0x10), ...linResponse([0x0a], PROTECTED[0x10]), idle)).to.deep.equal([
      { module: "FL2", word: "no" },
      { module: "FL1", word: "yes" },
    ]);
  });
  it("is not told by a header with which the recording ends, nor of identifiers that nobody knows", () => {
    expect(onLin(...asked(1), [1, 2])).to.deep.equal([]);
    expect(onLin(...asked(0x3c), [1, 90])).to.deep.equal([]);
  });
  it("on CAN is told by the acknowledgement, whatever error flag follows it", () => {
    const heard = (bits: string) =>
      respondsIn(decoded(traceOf(1e7, canDifference(bits)), { kind: "can difference", channel: 0 }, [1]).rows, new Map([[0x123, "ABM"]]));
    const gap = "1".repeat(15);
    const good = canBits({ id: 0x123, data: [0xab] });
    // The answer's slot is the tenth bit from the end: delimiter, seven of the end, and it.
    const slot = good.length - 9;
    const alone = `${good.slice(0, slot)}1${good.slice(slot + 1)}`;
    expect(good[slot]).to.equal("0");
    expect(heard(gap + good + gap)).to.deep.equal([{ module: "ABM", word: "yes" }]);
    expect(heard(gap + alone + gap)).to.deep.equal([{ module: "ABM", word: "no" }]);
    expect(heard(`${gap}${alone.slice(0, slot + 2)}000000${gap}`)).to.deep.equal([{ module: "ABM", word: "no" }]);
    // Broken before anybody could answer.
    expect(heard(gap + good.slice(0, 30) + "0".repeat(8) + gap)).to.deep.equal([]);
  });
});
