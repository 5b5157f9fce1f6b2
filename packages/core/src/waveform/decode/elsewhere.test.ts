import { expect } from "chai";
import { canBits, canDifference, linHeader, linLine, linResponse, PROTECTED, type Piece } from "../../test/bus-lines.ts";
import { decodedElsewhere } from "../../test/logic-decoder.ts";
import { decodeCan, decodeLin } from "./index.ts";
import { runsOf, type Run } from "./runs.ts";

/** Numbers from 0 to below `below`, the same ones every time. */
function numbers(seed: number): (below: number) => number {
  let state = seed;
  return (below) => (state = (state * 48271) % 2147483647) % below;
}
const hex = (value: number): string => value.toString(16).padStart(2, "0");

describe("an independent decoder reads the same", () => {
  it("of forty CAN frames drawn by chance, with noise and uneven edges", () => {
    const chance = numbers(20261201);
    const wanted = Array.from({ length: 40 }, () => {
      const extended = chance(3) === 0;
      return { id: chance(extended ? 2 ** 29 : 0x7f0), extended, data: Array.from({ length: chance(9) }, () => chance(256)) };
    });
    const bits = "1".repeat(20) + wanted.map((w) => canBits(w) + "1".repeat(3 + chance(9))).join("") + "1".repeat(20);
    const samples = canDifference(bits, { noise: 0.2, longer: 0.1 });
    const ours = decodeCan(samples, 1e7);
    expect(ours.frames.map((f) => [f.id, f.data, f.problems])).to.deep.equal(wanted.map((w) => [w.id, w.data, []]));
    // Its line is that of a receiver: low for dominant.
    const receiver = runsOf(samples, 1e7, { rises: 0.9, falls: 0.5 }).map((r): Run => ({ ...r, isHigh: !r.isHigh }));
    const theirs = decodedElsewhere(receiver, "can:can_rx=RX:nominal_bitrate=500000", "can=id:full-id:data:ack-slot");
    const told: string[] = [];
    for (const line of theirs) {
      const id = /^(Full |)Identifier: \d+ \(0x(\w+)\)/.exec(line);
      // An extended one is told by its eleven bits first, and then whole.
      if (id?.[1] === "Full ") told.pop();
      if (id !== null) told.push(String(Number.parseInt(id[2]!, 16)));
      const byte = /^Data byte \d+: 0x(\w+)/.exec(line);
      if (byte !== null) told[told.length - 1] += ` ${byte[1]!}`;
    }
    expect(told).to.deep.equal(ours.frames.map((f) => [String(f.id), ...f.data.map(hex)].join(" ")));
  });
  it("of LIN frames of all lengths, with a rounded edge", () => {
    const chance = numbers(7);
    const ids = [0, 1, 2, 0x10, 0x23];
    const frames = Array.from({ length: 8 }, (_, k) => ({
      id: ids[k % ids.length]!,
      data: Array.from({ length: k + 1 }, () => chance(256)),
    }));
    const idle: Piece = [1, 60];
    const pieces = frames.flatMap(({ id, data }): Piece[] => [idle, ...linHeader(PROTECTED[id]!), ...linResponse(data, PROTECTED[id])]);
    const samples = linLine([...pieces, idle, ...linHeader(PROTECTED[0]!), idle], { slow: 0.15 });
    const ours = decodeLin(samples, 1e6, 13.6);
    const answered = ours.frames.filter((f) => f.data.length > 0);
    expect(answered.map((f) => [f.id, f.data, f.problems])).to.deep.equal(frames.map((f) => [f.id, f.data, []]));
    const theirs = decodedElsewhere(runsOf(samples, 1e6, { rises: 8.16, falls: 5.44 }), "uart:rx=RX:baudrate=19200,lin", "lin");
    const told: string[] = [];
    for (const line of theirs) {
      const id = /^ID: (\w+) Parity: \d \((\w+)\)/.exec(line);
      if (id !== null) told.push(`${Number.parseInt(id[1]!, 16)} ${id[2]!}`);
      const byte = /^Data: 0x(\w+)/.exec(line);
      if (byte !== null) told[told.length - 1] += ` ${byte[1]!.toLowerCase()}`;
    }
    // The header at the end is there so that the other one sees the frame before it end.
    expect(told.slice(0, frames.length)).to.deep.equal(answered.map((f) => [String(f.id), "ok", ...f.data.map(hex)].join(" ")));
  });
});
