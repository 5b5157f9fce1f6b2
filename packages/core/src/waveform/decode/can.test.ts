import { expect } from "chai";
import { binary, canBits, canDifference, stuffed, type WantedCan } from "../../test/bus-lines.ts";
import { decodeCan, type CanFrame } from "./index.ts";

const IDLE = "1".repeat(12);
const shown = ({ id, data, isExtended, isRemote, isAcknowledged, problems }: CanFrame): object => ({
  id,
  data,
  isExtended,
  isRemote,
  isAcknowledged,
  problems,
});
const good = (w: WantedCan): object => ({
  id: w.id,
  data: w.remote === true ? [] : w.data,
  isExtended: w.extended ?? false,
  isRemote: w.remote ?? false,
  isAcknowledged: true,
  problems: [],
});

describe("a CAN bus", () => {
  const wanted: readonly WantedCan[] = [
    { id: 0x123, data: [1, 2, 3, 4, 5, 6, 7, 8] },
    { id: 0, data: [0, 0, 0, 0, 0, 0, 0, 0] },
    { id: 0x7ff, data: [255, 255, 255, 255] },
    { id: 0x18db33f1, data: [0x02, 0x01, 0x0c], extended: true },
    { id: 0x321, data: [], remote: true },
    { id: 0x55, data: [] },
  ];
  const all = IDLE + wanted.map((w) => canBits(w) + "111").join("") + IDLE;
  for (const [name, line] of [
    ["at 500 kbit/s", {}],
    ["at 125 kbit/s, sampled eight times a bit", { baud: 125_000, rateHz: 1e6 }],
    ["at a rate of nobody's, with noise and a low amplitude", { baud: 87_300, rateHz: 2e6, dominantVolts: 1.4, noise: 0.3 }],
    ["with dominant bits a fifth too long", { longer: 0.2 }],
  ] as const)
    it(`is read ${name}`, () => {
      const read = decodeCan(canDifference(all, line), "rateHz" in line ? line.rateHz : 1e7);
      expect(read.baud! / ("baud" in line ? line.baud : 500_000)).to.be.closeTo(1, 0.005);
      expect(read.frames.map(shown)).to.deep.equal(wanted.map(good));
      expect(read.faults).to.deep.equal([]);
      if ("longer" in line) expect(read.dominantBits! - read.recessiveBits!).to.be.closeTo(0.4, 0.05);
    });
  it("tells a frame that nobody acknowledged, a flexible one, and a line that is held", () => {
    const alone = decodeCan(canDifference(IDLE + canBits({ id: 0x2a5, data: [9, 8], acknowledged: false }).repeat(2) + IDLE), 1e7);
    expect(alone.frames.map((f) => f.problems)).to.deep.equal([["nobody acknowledged it"], ["nobody acknowledged it"]]);
    const flexible = `${stuffed(`0${binary(0x1a5, 11)}001`)}0`;
    const mixed = decodeCan(canDifference(IDLE + canBits(wanted[0]!) + "111" + flexible + IDLE + canBits(wanted[5]!) + IDLE), 1e7);
    expect(mixed.frames.map((f) => [f.id, f.isFlexible])).to.deep.equal([
      [0x123, false],
      [0x1a5, true],
      [0x55, false],
    ]);
    const held = decodeCan(canDifference(IDLE + canBits(wanted[0]!) + "0".repeat(400) + IDLE + canBits(wanted[2]!) + IDLE), 1e7);
    expect(held.faults.map((f) => f.words).join()).to.match(/dominant for 0\.8\d* ms: something holds the bus/);
    expect(held.frames.map((f) => f.id)).to.include.members([0x123, 0x7ff]);
    expect(decodeCan(new Float32Array(50_000).fill(2), 1e7).faults[0]!.words).to.match(/dominant for 5\.00 ms/);
    expect(decodeCan(new Float32Array(50_000), 1e7)).to.deep.include({ baud: undefined, frames: [], faults: [] });
  });
  it("with any one bit turned is never taken for another good frame", function () {
    for (const w of [wanted[0]!, wanted[3]!]) {
      const bits = canBits(w);
      const around = IDLE + canBits(wanted[2]!) + "111";
      for (let i = 0; i < bits.length; i++) {
        const turned = bits.slice(0, i) + (bits[i] === "0" ? "1" : "0") + bits.slice(i + 1);
        const { frames, faults } = decodeCan(canDifference(`${around}${turned}${IDLE}`, { rateHz: 4e6 }), 4e6);
        const [before, ...rest] = frames;
        expect(before!.id, `bit ${i}`).to.equal(0x7ff);
        // A good one may stand there only where the bit does not count: the space behind it.
        for (const f of rest)
          if (f.problems.length === 0 && !f.isFlexible) expect([f.id, f.data], `bit ${i}`).to.deep.equal([w.id, w.data]);
        const noticed = faults.length > 0 || rest.some((f) => f.problems.length > 0 || f.isFlexible);
        if (!noticed) expect(i, "what is not noticed").to.be.oneOf([0, bits.length - 1]);
      }
    }
  });
  it("that is cut off anywhere is read without an error", () => {
    const samples = canDifference(all, { rateHz: 2e6 });
    for (let n = 0; n < samples.length; n += 997) expect(() => decodeCan(samples.subarray(n % 89, n), 2e6)).not.to.throw();
  });
});
