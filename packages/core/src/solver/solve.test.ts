import { expect } from "chai";
import fc from "fast-check";
import type { Element, Netlist } from "./netlist.ts";
import { solve } from "./solve.ts";

const resistor = (id: string, a: number, b: number, ohms: number): Element => ({ id, kind: "resistor", a, b, ohms });
const source = (id: string, a: number, b: number, volts: number, internalOhms = 0): Element => ({
  id,
  kind: "source",
  a,
  b,
  volts,
  internalOhms,
});
const netlist = (count: number, elements: Element[]): Netlist => ({ nodes: Array.from({ length: count }, (_, i) => `n${i}`), elements });

function solved(net: Netlist): Extract<ReturnType<typeof solve>, { kind: "solved" }> {
  const result = solve(net);
  if (result.kind !== "solved") throw new Error(`not solved: ${result.kind}`);
  return result;
}

describe("solve", () => {
  it("divides a voltage by hand-worked numbers", () => {
    // 12 V over 100 Ω + 200 Ω: 40 mA, 8 V at the tap.
    const result = solved(netlist(3, [source("V", 1, 0, 12), resistor("R1", 1, 2, 100), resistor("R2", 2, 0, 200)]));
    expect(result.volts[2]).to.be.closeTo(8, 1e-9);
    expect(result.amps[1]).to.be.closeTo(0.04, 1e-12);
    expect(result.amps[0], "current through the source flows in at minus").to.be.closeTo(-0.04, 1e-12);
  });

  it("solves a bridge that no series and parallel rule reduces", () => {
    // 10 V over arms of 1, 2, 3 and 4 Ω with 5 Ω across.
    const result = solved(
      netlist(4, [
        source("V", 1, 0, 10),
        resistor("A", 1, 2, 1),
        resistor("B", 2, 0, 2),
        resistor("C", 1, 3, 3),
        resistor("D", 3, 0, 4),
        resistor("E", 2, 3, 5),
      ]),
    );
    const [v2, v3] = [result.volts[2]!, result.volts[3]!];
    // Kirchhoff at both middle nodes, written out.
    expect((10 - v2) / 1 - v2 / 2 - (v2 - v3) / 5).to.be.closeTo(0, 1e-9);
    expect((10 - v3) / 3 - v3 / 4 - (v3 - v2) / 5).to.be.closeTo(0, 1e-9);
  });

  it("lowers a source behind its internal resistance", () => {
    const result = solved(netlist(2, [source("V", 1, 0, 12.6, 0.01), resistor("R", 1, 0, 0.05)]));
    expect(result.volts[1]).to.be.closeTo(12.6 * (0.05 / 0.06), 1e-9);
    expect(result.amps[1]).to.be.closeTo(210, 1e-9);
  });

  it("marks what no path joins to node 0 as floating instead of guessing", () => {
    const result = solved(netlist(4, [source("V", 1, 0, 12), resistor("R1", 1, 0, 10), resistor("R2", 2, 3, 10)]));
    expect([...result.floating]).to.deep.equal([0, 0, 1, 1]);
    expect(result.amps[2]).to.equal(0);
  });

  it("names the source when two ideal ones fight", () => {
    const result = solve(netlist(2, [source("V1", 1, 0, 12), source("V2", 1, 0, 13)]));
    expect(result).to.deep.equal({ kind: "singular", node: "V2" });
  });

  it("finds the operating point of a filament, whose current is not a straight line", () => {
    // 21 W at 12 V behind 2 Ω; R = 6.857·(V/12)^0.45. Fixed point checked by bisection, another method.
    const ohmsAt = (v: number): number => Math.max(0.6857, 6.857 * (v / 12) ** 0.45);
    const result = solved(
      netlist(3, [
        source("V", 1, 0, 12),
        resistor("R", 1, 2, 2),
        {
          id: "L",
          kind: "curve",
          a: 2,
          b: 0,
          at: (v) => ({ amps: v / ohmsAt(Math.abs(v)), siemens: 0.55 / ohmsAt(Math.abs(v)) }),
          text: "",
        },
      ]),
    );
    let [low, high] = [0, 12];
    for (let i = 0; i < 200; i++) {
      const v = (low + high) / 2;
      if ((12 - v) / 2 > v / ohmsAt(v)) low = v;
      else high = v;
    }
    expect(result.volts[2]).to.be.closeTo(low, 1e-6);
  });

  it("keeps Kirchhoff's current law and energy on random networks", () => {
    const anyNetwork = fc.integer({ min: 2, max: 12 }).chain((count) =>
      fc.record({
        count: fc.constant(count),
        // A spanning chain keeps everything joined; extra resistors make it a mesh. Spread over seven decades.
        chain: fc.array(fc.double({ min: -3, max: 4, noNaN: true }), { minLength: count, maxLength: count }),
        extra: fc.array(fc.tuple(fc.nat(count), fc.nat(count), fc.double({ min: -3, max: 4, noNaN: true })), { maxLength: 20 }),
        emf: fc.double({ min: 1, max: 48, noNaN: true }),
      }),
    );
    fc.assert(
      fc.property(anyNetwork, ({ count, chain, extra, emf }) => {
        const elements: Element[] = [
          source("V", count, 0, emf, 0.01),
          ...chain.map((decade, i) => resistor(`C${i}`, i, i + 1, 10 ** decade)),
          ...extra.filter(([a, b]) => a !== b).map(([a, b, decade], i) => resistor(`X${i}`, a, b, 10 ** decade)),
        ];
        const result = solved(netlist(count + 1, elements));
        const largest = Math.max(...result.amps.map(Math.abs));
        for (let node = 0; node <= count; node++) {
          let sum = 0;
          elements.forEach((e, i) => (sum += e.a === node ? result.amps[i]! : e.b === node ? -result.amps[i]! : 0));
          expect(Math.abs(sum)).to.be.below(1e-7 * Math.max(1, largest));
        }
        let dissipated = 0;
        elements.forEach((e, i) => (dissipated += (result.volts[e.a]! - result.volts[e.b]!) * result.amps[i]!));
        expect(Math.abs(dissipated)).to.be.below(1e-6 * Math.max(1, emf * largest));
      }),
      { numRuns: 200 },
    );
  });

  it("obeys reciprocity: source and ammeter may change places", () => {
    const middle = [
      resistor("a", 1, 2, 3.3),
      resistor("b", 2, 0, 47),
      resistor("c", 2, 3, 0.12),
      resistor("d", 3, 4, 8),
      resistor("e", 4, 0, 5),
      resistor("f", 1, 4, 90),
    ];
    const there = solved(netlist(5, [source("V", 1, 0, 10), source("A", 3, 0, 0), ...middle]));
    const back = solved(netlist(5, [source("A", 1, 0, 0), source("V", 3, 0, 10), ...middle]));
    expect(there.amps[1]).to.be.closeTo(back.amps[0]!, 1e-9);
  });
});
