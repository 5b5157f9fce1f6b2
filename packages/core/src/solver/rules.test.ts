import { expect } from "chai";
import fc from "fast-check";
import type { Element, Netlist, Pace, Rule, Watcher } from "./netlist.ts";
import { createSolver, solve } from "./solve.ts";
import { createStrides } from "./strides.ts";

const resistor = (id: string, a: number, b: number, ohms: number): Element => ({ id, kind: "resistor", a, b, ohms });
const watcher = (plus: number, rises: number, falls: number, pace: Pace = "contact", more: Partial<Watcher> = {}): Watcher => ({
  kind: "watcher",
  plus,
  minus: 0,
  rises,
  falls,
  pace,
  starts: false,
  ...more,
});
const contact = (id: string, a: number, b: number, rule: Rule, onOhms = 0.01): Element => ({
  id,
  kind: "switch",
  a,
  b,
  rule,
  onOhms,
  offOhms: 1e9,
});
const net = (count: number, elements: Element[]): Netlist => ({ nodes: Array.from({ length: count }, (_, i) => `n${i}`), elements });
const feed: Element = { id: "V", kind: "source", a: 1, b: 0, volts: 12, internalOhms: 0.01 };

function rested(netlist: Netlist): { volts: number[]; closed: Record<string, boolean> } {
  const result = solve(netlist);
  if (result.kind !== "solved") throw new Error(JSON.stringify(result));
  const closed = netlist.elements.flatMap((e, i) => (e.kind === "switch" ? [[e.id, result.closed[i] === 1] as const] : []));
  return { volts: [...result.volts], closed: Object.fromEntries(closed) };
}

describe("rules of switches", () => {
  it("join watchers by all, any and not, with one memory for one watcher", () => {
    const high = watcher(1, 10, 8);
    const low = watcher(1, 20, 18);
    const { closed } = rested(
      net(6, [
        feed,
        contact("all", 1, 2, { kind: "all", of: [high, low] }),
        contact("any", 1, 3, { kind: "any", of: [high, low] }),
        contact("not", 1, 4, { kind: "not", of: low }),
        contact("always", 1, 5, { kind: "all", of: [] }),
        ...[2, 3, 4, 5].map((n) => resistor(`R${n}`, n, 0, 100)),
      ]),
    );
    expect(closed).to.deep.equal({ all: false, any: true, not: true, always: true });
  });

  it("remember between their thresholds, and take either sign where they are told to", () => {
    const between = (starts: boolean): boolean =>
      rested(net(3, [feed, contact("S", 1, 2, watcher(1, 13, 11, "contact", { starts })), resistor("R", 2, 0, 100)])).closed["S"]!;
    expect(between(false)).to.equal(false);
    expect(between(true)).to.equal(true);
    const reversed: Element = { id: "V", kind: "source", a: 0, b: 1, volts: 12, internalOhms: 0.01 };
    const either = (eitherWay: boolean): boolean =>
      rested(net(3, [reversed, contact("S", 1, 2, watcher(1, 8, 3, "contact", { eitherWay })), resistor("R", 2, 0, 100)])).closed["S"]!;
    expect(either(true)).to.equal(true);
    expect(either(false)).to.equal(false);
  });

  it("move by pace: a fuse bears what a contact ends by itself", () => {
    // The heavy load at n3 is on until its contact, opened by the voltage at n2, lets go. A fuse that were as quick would be gone.
    const opens = { kind: "not", of: watcher(2, 5, 1) } as const;
    const circuit = (pace: Pace): Netlist =>
      net(4, [
        feed,
        contact("F", 1, 2, {
          kind: "not",
          of: { ...watcher(1, 0.5, -1, pace, { eitherWay: true }), minus: 2 },
        }),
        contact("K", 2, 3, opens),
        resistor("heavy", 3, 0, 0.1),
        resistor("light", 2, 0, 10),
      ]);
    expect(rested(circuit("fuse")).closed["F"]).to.equal(true);
    expect(rested(circuit("electronics")).closed["F"]).to.equal(false);
  });

  it("find rest one at a time where moving together would go round", () => {
    // Two contacts, each opened by what the other feeds: together they open and close for ever, one after the other one wins.
    const latch = net(4, [
      feed,
      contact("A", 1, 2, { kind: "not", of: watcher(3, 6, 5) }),
      contact("B", 1, 3, { kind: "not", of: watcher(2, 6, 5) }),
      resistor("Ra", 2, 0, 100),
      resistor("Rb", 3, 0, 100),
    ]);
    const { closed } = rested(latch);
    expect([closed["A"], closed["B"]].filter(Boolean)).to.have.length(1);
  });

  it("let what is slower move while a buzzer goes round without end, where it would at every point of the circle", () => {
    const pulled = watcher(2, 6, 3);
    const result = solve(
      net(5, [
        feed,
        contact("buzzer", 1, 2, { kind: "not", of: pulled }),
        resistor("coil", 2, 0, 100),
        // One boots on the steady feed, one has only the buzzer's.
        contact("steady", 1, 3, watcher(1, 9, 6, "boot")),
        contact("shaken", 1, 4, watcher(2, 9, 6, "boot")),
        resistor("R3", 3, 0, 100),
        resistor("R4", 4, 0, 100),
      ]),
    );
    if (result.kind !== "chatter") throw new Error(result.kind);
    expect(result.elements).to.deep.equal(["buzzer"]);
    expect(result.points.map((p) => Math.round(p.volts[3]!))).to.deep.equal(result.points.map(() => 12));
    expect(result.points.map((p) => Math.round(p.volts[4]!))).to.deep.equal(result.points.map(() => 0));
  });
});

describe("strides", () => {
  it("go back half as far whenever they have gone past", () => {
    const strides = createStrides(1);
    expect(strides.take(0, 100)).to.equal(16);
    expect(strides.take(0, -100)).to.equal(-8);
    expect(strides.take(0, -100)).to.equal(-8);
    expect(strides.take(0, 1)).to.equal(1);
    strides.begin();
    expect(strides.take(0, -100)).to.equal(-16);
  });
});

describe("createSolver", () => {
  it("answers like a fresh one whatever it solved before", () => {
    const solver = createSolver();
    const anyValues = fc.record({
      ohms: fc.array(fc.double({ min: -2, max: 3, noNaN: true }), { minLength: 6, maxLength: 6 }),
      volts: fc.double({ min: 1, max: 30, noNaN: true }),
      longer: fc.boolean(),
      threshold: fc.double({ min: 1, max: 20, noNaN: true }),
    });
    fc.assert(
      fc.property(anyValues, ({ ohms, volts, longer, threshold }) => {
        const netlist = net(longer ? 6 : 5, [
          { id: "V", kind: "source", a: 1, b: 0, volts, internalOhms: 0.02 },
          resistor("R1", 1, 2, 10 ** ohms[0]!),
          { id: "D", kind: "diode", a: 2, b: 3, saturationAmps: 1e-12, emission: 1 },
          resistor("R2", 3, 0, 10 ** ohms[1]!),
          contact("S", 1, 4, watcher(2, threshold, threshold / 2), 10 ** ohms[2]!),
          resistor("R3", 4, 0, 10 ** ohms[3]!),
          ...(longer ? [resistor("R4", 4, 5, 10 ** ohms[4]!), resistor("R5", 5, 0, 10 ** ohms[5]!)] : []),
        ]);
        const [again, fresh] = [solver(netlist), solve(netlist)];
        if (again.kind !== "solved" || fresh.kind !== "solved") throw new Error(`${again.kind} ${fresh.kind}`);
        fresh.volts.forEach((v, n) => expect(again.volts[n]!).to.be.closeTo(v, 1e-7));
        expect([...again.closed]).to.deep.equal([...fresh.closed]);
      }),
      { numRuns: 300 },
    );
  });
});
