import { expect } from "chai";
import { parseNotation } from "../notation/index.ts";
import { PIN_KINDS, circuitOf, expectedOf, findPins, MOMENTS, type PinReading, type PinReadings } from "./index.ts";

/** What a meter would show at each pin, a tenth of the way into the range that a sound device can be in. */
const readingsOf = (id: string, order: readonly number[]): PinReadings => {
  const candidate = PIN_KINDS.find((c) => c.id === id)!;
  const expected = expectedOf(candidate);
  return order.map((k) =>
    Object.fromEntries(
      MOMENTS.map((m): [string, PinReading] => {
        const e = expected[k]![m];
        return [m, e.toggles ? { kind: "toggles" } : { kind: "steady", volts: e.low + 0.4 * (e.high - e.low) }];
      }),
    ),
  );
};
const steady = (off: number, on: number, turning?: number): PinReadings[number] => ({
  "key off": { kind: "steady", volts: off },
  "key on": { kind: "steady", volts: on },
  ...(turning === undefined ? {} : { "engine turning": { kind: "steady", volts: turning } }),
});

describe("finding pins without a diagram", () => {
  for (const c of PIN_KINDS)
    it(`knows a ${c.id} by what it shows, its pins in any order`, () => {
      const order = c.pins.map((_, i) => (i * 3 + 1) % c.pins.length).filter((k, i, all) => all.indexOf(k) === i);
      const turned = order.length === c.pins.length ? order : c.pins.map((_, i) => c.pins.length - 1 - i);
      const answer = findPins(readingsOf(c.id, turned));
      // Some devices look the same at the plug: then both stand in the answer, and it does not claim to know.
      expect(answer.likely.map((l) => l.candidate.id)).to.include(c.id);
      if (answer.verdict === "known") expect(answer.likely[0]!.candidate.id).to.equal(c.id);
      else expect(new Set(answer.likely.map((l) => l.candidate.id)).size).to.be.within(1, 3);
    });

  it("tells a Hall sensor's three wires: 5 V, one that toggles, ground", () => {
    const answer = findPins([{ ...steady(0, 4.9), "engine turning": { kind: "toggles" } }, steady(0, 0.02, 0.03), steady(0, 5.02, 5.01)]);
    expect(answer.verdict).to.equal("known");
    expect(answer.likely[0]!.candidate.id).to.equal("hall sensor");
    expect(answer.likely[0]!.roles).to.deep.equal(["signal", "sensor ground", "5 V reference"]);
  });

  it("asks for the reading that tells position sensor and Hall sensor apart", () => {
    const half = findPins([steady(0, 5), steady(0, 0.01), steady(0, 0.02)]);
    expect(half.verdict).to.equal("open");
    expect(half.next?.moment).to.equal("engine turning");
  });

  it("stops where no usual device shows such readings", () => {
    const answer = findPins([steady(12.5, 3, 8), steady(7.5, 7.5, 2), steady(9, 12.6, 0)]);
    expect(answer.verdict).to.equal("stop");
    expect(answer.words).to.include("get the diagram");
  });

  it("claims nothing from no readings", () => {
    const answer = findPins([{}, {}, {}]);
    expect(answer.verdict).to.equal("open");
    expect(answer.likely[0]!.share).to.be.below(0.6);
  });

  it("makes a circuit of the answer, and turns down other numbers of pins", () => {
    const answer = findPins([steady(0, 12.6, 14.2), steady(0, 12.6, 9.9)]);
    const { harness, problems } = parseNotation(circuitOf(answer.likely[0]!, 'valve "3"', ["1", "2"]));
    expect(problems).to.deep.equal([]);
    expect(harness?.name).to.equal("valve  3");
    expect(() => findPins([{}])).to.throw(RangeError);
    expect(() => findPins(Array.from({ length: 6 }, () => ({})))).to.throw(RangeError);
  });

  it("is not led astray by a meter's last digits or another battery", () => {
    // Readings of every candidate with up to 2 % and 30 mV of error, in a fixed row of errors.
    const errors = [0.4, -0.9, 0.7, -0.2, 1, -0.6, 0.1, -1, 0.9, -0.4, 0.3];
    let at = 0;
    const noisy = (r: PinReading): PinReading => {
      const e = errors[at++ % errors.length]!;
      return r.kind === "toggles" ? r : { kind: "steady", volts: r.volts * (1 + 0.02 * e) + 0.03 * e };
    };
    for (const c of PIN_KINDS) {
      const order = c.pins.map((_, i) => i);
      const clean = findPins(readingsOf(c.id, order));
      const readings = readingsOf(c.id, order).map((row) =>
        Object.fromEntries(MOMENTS.flatMap((m) => (row[m] === undefined ? [] : [[m, noisy(row[m])]]))),
      );
      const found = findPins(readings);
      expect(
        found.likely.map((l) => l.candidate.id),
        c.id,
      ).to.include(c.id);
      expect(found.likely[0]!.candidate.id, c.id).to.equal(clean.likely[0]!.candidate.id);
    }
  });

  it("keeps the shares of all answers within the whole, and never proposes a reading that was taken", () => {
    for (const c of PIN_KINDS) {
      const rows = readingsOf(
        c.id,
        c.pins.map((_, i) => i),
      ).map((row) => ({ "key on": row["key on"]! }));
      const answer = findPins(rows);
      const sum = answer.likely.reduce((s, l) => s + l.share, 0);
      expect(sum, c.id).to.be.within(0.5, 1.000001);
      if (answer.next !== undefined) expect(answer.next.moment, c.id).not.to.equal("key on");
    }
  });
});
