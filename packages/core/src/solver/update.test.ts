import { expect } from "chai";
import fc from "fast-check";
import type { Element, Netlist } from "./netlist.ts";
import { createSolver, solve } from "./solve.ts";
import { prepare } from "./update.ts";

/** A ladder of ten nodes with lamps and a diode, fed through a small resistance. */
function ladder(decades: readonly number[], withBent: boolean): Netlist {
  const lamp = (id: string, a: number): Element => ({
    id,
    kind: "curve",
    a,
    b: 0,
    at: (v) => {
      const ohms = 7 * Math.max(0.1, (Math.abs(v) / 12) ** 0.45);
      return { amps: v / ohms, siemens: (Math.abs(v) < 0.08 ? 1 : 0.55) / ohms };
    },
    text: "",
  });
  const elements: Element[] = [
    { id: "V", kind: "source", a: 1, b: 0, volts: 12.6, internalOhms: 0.01 },
    ...decades.map((d, i): Element => ({ id: `R${i}`, kind: "resistor", a: i + 1, b: i + 2, ohms: 10 ** d })),
    ...decades.map((_, i): Element =>
      withBent && i % 3 === 0 ? lamp(`L${i}`, i + 2) : { id: `P${i}`, kind: "resistor", a: i + 2, b: 0, ohms: 40 + i },
    ),
    ...(withBent ? [{ id: "D", kind: "diode", a: 4, b: 0, saturationAmps: 1e-30, emission: 6 } as const] : []),
  ];
  return { nodes: Array.from({ length: decades.length + 2 }, (_, i) => `n${i}`), elements };
}

describe("prepare", () => {
  const anyChange = fc.record({
    decades: fc.array(
      fc.integer({ min: -30, max: 10 }).map((d) => d / 10),
      { minLength: 9, maxLength: 9 },
    ),
    element: fc.nat(8),
    toDecade: fc.integer({ min: -20, max: 40 }).map((d) => d / 10),
    withBent: fc.boolean(),
  });

  it("agrees with solving the changed circuit in full, or says that it must be", () => {
    let updated = 0;
    let total = 0;
    fc.assert(
      fc.property(anyChange, ({ decades, element, toDecade, withBent }) => {
        total++;
        const netlist = ladder(decades, withBent);
        const made = prepare(netlist);
        if (made.kind !== "prepared") throw new Error(made.kind);
        const e = netlist.elements[1 + element]!;
        if (e.kind !== "resistor") throw new Error(e.kind);
        const point = made.prepared.withDelta({ replaced: new Map([[1 + element, { ...e, ohms: 10 ** toDecade }]]) });
        if (point === undefined) return;
        updated++;
        const full = solve({ ...netlist, elements: netlist.elements.map((x) => (x === e ? { ...e, ohms: 10 ** toDecade } : x)) });
        if (full.kind !== "solved") throw new Error(full.kind);
        full.volts.forEach((v, i) => expect(point.volts[i]!).to.be.closeTo(v, 1e-5));
      }),
      { numRuns: 300 },
    );
    expect(updated / total, "most changes need no full solution").to.be.above(0.6);
  });

  it("adds a short where nothing was, and leaves the base as it was", () => {
    const netlist = ladder([-1, -1, -1], false);
    const made = prepare(netlist);
    if (made.kind !== "prepared") throw new Error(made.kind);
    const before = Float64Array.from(made.prepared.base.volts);
    const short: Element = { id: "S", kind: "resistor", a: 3, b: 0, ohms: 0.05 };
    const shorted = made.prepared.withDelta({ added: [short] })!;
    const full = solve({ ...netlist, elements: [...netlist.elements, short] });
    if (full.kind !== "solved") throw new Error(full.kind);
    expect(shorted.volts[3]).to.be.closeTo(full.volts[3]!, 1e-9);
    expect(made.prepared.withDelta({})!.volts[3]).to.be.closeTo(before[3]!, 1e-9);
    expect(made.prepared.base.volts).to.deep.equal(before);
  });

  it("hands back what comes loose", () => {
    // The only resistance to the last node is taken away: it floats, and no formula knows its potential.
    const netlist: Netlist = {
      nodes: ["0", "a", "b"],
      elements: [
        { id: "V", kind: "source", a: 1, b: 0, volts: 12, internalOhms: 0.1 },
        { id: "R", kind: "resistor", a: 1, b: 2, ohms: 5 },
      ],
    };
    const made = prepare(netlist);
    if (made.kind !== "prepared") throw new Error(made.kind);
    expect(made.prepared.withDelta({ replaced: new Map([[1, undefined]]) })).to.equal(undefined);
  });

  it("goes on from where watchers were moved before: a relay that holds itself stays in", () => {
    // Coil of 100 Ω behind 20 Ω; pulls in above 8 V and holds down to 3 V.
    const relayAt = (volts: number): Netlist => ({
      nodes: ["0", "feed", "coil", "out"],
      elements: [
        { id: "V", kind: "source", a: 1, b: 0, volts, internalOhms: 0.01 },
        { id: "W", kind: "resistor", a: 1, b: 2, ohms: 20 },
        { id: "coil", kind: "resistor", a: 2, b: 0, ohms: 100 },
        { id: "load", kind: "resistor", a: 3, b: 0, ohms: 10 },
        {
          id: "contact",
          kind: "switch",
          a: 1,
          b: 3,
          rule: { kind: "watcher", plus: 2, minus: 0, rises: 8, falls: 3, pace: "contact", starts: false },
          onOhms: 0.01,
          offOhms: 1e9,
        },
      ],
    });
    const worse = { replaced: new Map([[1, { id: "W", kind: "resistor", a: 1, b: 2, ohms: 130 } as const]]) };
    const [low, high] = [6, 20].map((v) => {
      const made = prepare(relayAt(v));
      if (made.kind !== "prepared") throw new Error(made.kind);
      return made.prepared;
    });
    const pulledIn = high!.cycleWith(worse);
    if (pulledIn?.kind !== "rests") throw new Error("no rest");
    // 20 V · 100/230 pull it in, in the unchanged circuit as well: nothing has moved by the change.
    expect(pulledIn.changed.moved()?.size).to.equal(0);
    const out = (found: ReturnType<NonNullable<typeof low>["cycleWith"]>): number =>
      found?.kind === "rests" ? found.changed.volts[3]! : NaN;
    // 7.3 V · 100/230 = 3.2 V do not pull it in, and hold it.
    const between = prepare(relayAt(7.3));
    if (between.kind !== "prepared") throw new Error(between.kind);
    expect(out(between.prepared.cycleWith(worse))).to.be.closeTo(0, 1e-3);
    expect(out(between.prepared.cycleWith(worse, new Set([0])))).to.be.closeTo(7.3, 0.05);
    // 6 V · 100/230 = 2.6 V let it go all the same.
    expect(out(low!.cycleWith(worse, new Set([0])))).to.be.closeTo(0, 1e-3);
    const before = createSolver()(relayAt(20));
    if (before.kind !== "solved") throw new Error(before.kind);
    const goesOn = (v: number): number => {
      const found = createSolver()(relayAt(v), before.memory());
      return found.kind === "solved" ? found.volts[3]! : NaN;
    };
    expect(goesOn(7.3)).to.be.closeTo(7.3, 0.05);
    expect(goesOn(3)).to.be.closeTo(0, 1e-3);
  });
});
