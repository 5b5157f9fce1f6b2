import { expect } from "chai";
import { canBits, linHeader, linResponse, linSum, PROTECTED } from "../../test/bus-lines.ts";
import { canFrameBits, linHeaderRuns, linResponseRuns } from "./index.ts";

describe("frames of a simulated bus", () => {
  it("are bit for bit what a builder makes that works on strings, by the standard's rules", () => {
    for (const [id, data] of [
      [0x123, [1, 2, 0xff]],
      [0, []],
      [0x7ff, [0, 0, 0, 0, 0, 0, 0, 0]],
      [0x110, [3, 7]],
      [0x555, [0xaa, 0x55]],
    ] as const) {
      const { bits, ackAt } = canFrameBits(id, data);
      const elsewhere = canBits({ id, data, acknowledged: false });
      expect(
        bits
          .map((b) => 1 - b)
          .join("")
          .slice(0, elsewhere.length),
      ).to.equal(elsewhere);
      expect(bits[ackAt]).to.equal(0);
      expect(canBits({ id, data })[ackAt], "where it is answered").to.equal("0");
    }
    expect(() => canFrameBits(0x800, [])).to.throw(RangeError);
    expect(() => canFrameBits(1, [256])).to.throw(RangeError);
  });
  it("have the identifiers and checksums of the standard's tables on a LIN line", () => {
    const levels = (runs: readonly (readonly [boolean | 0 | 1, number])[]): string =>
      runs.map(([level, bits]) => (level === true || level === 0 ? "0" : "1").repeat(bits)).join("");
    for (const [id, pid] of Object.entries(PROTECTED)) {
      expect(levels(linHeaderRuns(Number(id))), id).to.equal(levels(linHeader(pid)));
      const data = [Number(id), 0xff, 0x80];
      // Without the pause before it.
      expect(levels(linResponseRuns(Number(id), data))).to.equal(levels(linResponse(data, pid)).slice(2));
      expect(linSum([pid, ...data])).to.be.within(0, 255);
    }
    expect(() => linHeaderRuns(64)).to.throw(RangeError);
  });
});
