import { expect } from "chai";
import fc from "fast-check";
import { buildCircuit, deltaOf, REST_STATE, type VehicleState } from "../circuit/index.ts";
import { catalogueOf } from "../faults/index.ts";
import { linksOf } from "../harness/index.ts";
import { predictReading } from "../instruments/index.ts";
import { curveOf, type Element, type Netlist, type Point, prepare, solve, transient } from "../solver/index.ts";
import { demoCircuits, loadedState, rig, rigs } from "./circuits.ts";

/** Laws that hold whatever the circuit. */
const STATES: readonly Partial<VehicleState>[] = [
  {},
  { key: "off", engine: "stopped" },
  { key: "run", engine: "idling", temperatureC: -10 },
  { key: "crank", engine: "cranking" },
];

/** Nodes that something better than open contacts and blocked junctions joins to node 0: only they have a potential that means something. */
function heldNodes(netlist: Netlist, point: Point): Uint8Array {
  const held = new Uint8Array(netlist.nodes.length);
  held[0] = 1;
  for (let before = -1, now = 0; before !== now;) {
    before = now;
    netlist.elements.forEach((e, i) => {
      const v = point.volts[e.a]! - point.volts[e.b]!;
      const siemens = curveOf(e, point.closed[i] === 1)?.(v).siemens ?? 1;
      if (siemens > 1e-8 && held[e.a] !== held[e.b]) {
        held[e.a] = held[e.b] = 1;
        now++;
      }
    });
  }
  return held;
}

describe("Kirchhoff's current law", () => {
  it("holds at every node but 0, where insulation ends, to 1e-9 of the largest current, with the devices' own curves", () => {
    let nodes = 0;
    for (const { harness, file } of [...demoCircuits, ...rigs]) {
      for (const change of STATES) {
        const { netlist } = buildCircuit(harness, { ...loadedState(harness), ...change }, []);
        const point = solve(netlist);
        if (point.kind !== "solved") throw new Error(`${file}: ${point.kind}`);
        const held = heldNodes(netlist, point);
        const sum = new Float64Array(netlist.nodes.length);
        let largest = 0;
        netlist.elements.forEach((e, i) => {
          const amps = curveOf(e, point.closed[i] === 1)?.(point.volts[e.a]! - point.volts[e.b]!).amps ?? point.amps[i]!;
          largest = Math.max(largest, Math.abs(amps));
          sum[e.a]! += amps;
          sum[e.b]! -= amps;
        });
        for (let n = 1; n < sum.length; n++) {
          if (held[n] === 0) continue;
          nodes++;
          // 12 V · 2⁻⁵² over 0.2 mΩ is 1e-11 A of rounding that no solver can take away.
          expect(Math.abs(sum[n]!), `${file} ${netlist.nodes[n]}`).to.be.below(1e-9 * largest + 1e-10);
        }
      }
    }
    expect(nodes, "most nodes are held").to.be.above(1000);
  });
});

describe("superposition", () => {
  it("two sources together do what each does alone, added", () => {
    const anyMesh = fc.record({
      decades: fc.array(fc.double({ min: -3, max: 4, noNaN: true }), { minLength: 12, maxLength: 12 }),
      ends: fc.array(fc.tuple(fc.nat(6), fc.nat(6)), { minLength: 6, maxLength: 6 }),
      first: fc.double({ min: -20, max: 20, noNaN: true }),
      second: fc.double({ min: -20, max: 20, noNaN: true }),
    });
    fc.assert(
      fc.property(anyMesh, ({ decades, ends, first, second }) => {
        const mesh = (v: number, w: number): Netlist => ({
          nodes: Array.from({ length: 8 }, (_, i) => `n${i}`),
          elements: [
            { id: "V", kind: "source", a: 1, b: 0, volts: v, internalOhms: 0.01 },
            { id: "W", kind: "source", a: 7, b: 2, volts: w, internalOhms: 0.02 },
            ...decades.slice(0, 6).map((d, i): Element => ({ id: `C${i}`, kind: "resistor", a: i + 1, b: i + 2, ohms: 10 ** d })),
            ...ends.flatMap(([a, b], i): Element[] =>
              a === b ? [] : [{ id: `X${i}`, kind: "resistor", a, b, ohms: 10 ** decades[6 + i]! }],
            ),
          ],
        });
        const of = (net: Netlist): Float64Array => {
          const result = solve(net);
          if (result.kind !== "solved") throw new Error(result.kind);
          return result.volts;
        };
        const [both, one, other] = [of(mesh(first, second)), of(mesh(first, 0)), of(mesh(0, second))];
        both.forEach((v, n) => expect(v).to.be.closeTo(one[n]! + other[n]!, 1e-7));
      }),
      { numRuns: 200 },
    );
  });
});

describe("added resistance", () => {
  it("never lowers the drop over the link it is added to, on any wire or joint of the demo circuits", () => {
    for (const { harness } of demoCircuits) {
      const state = loadedState(harness);
      for (const link of linksOf(harness).filter((l) => l.kind === "wire" || l.kind === "cavity" || l.kind === "ground")) {
        let before = -1;
        for (const ohms of [0.001, 0.01, 0.1, 1, 10, 100, 1000]) {
          const reading = predictReading(harness, state, [{ kind: "series", link: link.id, ohms }], {
            quantity: "volts",
            red: link.a,
            black: link.b,
          });
          if (reading.kind !== "value") throw new Error(JSON.stringify(reading));
          expect(Math.abs(reading.value), `${link.id} ${ohms}`).to.be.at.least(before - 1e-9);
          before = Math.abs(reading.value);
        }
      }
    }
  });
});

describe("a supposed fault solved by update", () => {
  it("is the faulty circuit solved in full, on every rig", () => {
    let [compared, updated, chattering] = [0, 0, 0];
    for (const { harness, file } of rigs) {
      for (const change of STATES) {
        const state = { ...loadedState(harness), ...change };
        const sound = buildCircuit(harness, state, []);
        const made = prepare(sound.netlist);
        if (made.kind !== "prepared") throw new Error(`${file}: ${made.kind}`);
        catalogueOf(harness).forEach((supposed, i) => {
          if (i % 5 !== 0) return;
          const fault = supposed.faultAt(supposed.severities[0]!);
          const delta = deltaOf(sound, harness, state, fault);
          const quick = delta === undefined ? undefined : made.prepared.withDelta(delta);
          const faulty = buildCircuit(harness, state, [fault]).netlist;
          const full = solve(faulty);
          // What has no rest in full must not be given one by the short way.
          if (full.kind !== "solved") {
            expect(quick, `${file} ${supposed.id}`).to.equal(undefined);
            const cycle = delta === undefined ? undefined : made.prepared.cycleWith(delta);
            if (full.kind !== "chatter" || cycle === undefined) return;
            // The same points round and round, wherever the round begins.
            expect(cycle.kind, `${file} ${supposed.id}`).to.equal("chatter");
            if (cycle.kind !== "chatter") return;
            chattering++;
            const held = heldNodes(faulty, full.points[0]!);
            for (let n = 0; n < faulty.nodes.length; n++) {
              if (held[n] !== 1) continue;
              for (const of of [Math.max, Math.min])
                expect(of(...cycle.points.map((p) => p.volts[n]!)), `${file} ${supposed.id} at ${faulty.nodes[n]}`).to.be.closeTo(
                  of(...full.points.map((p) => p.volts[n]!)),
                  1e-3,
                );
            }
            return;
          }
          compared++;
          if (quick === undefined) return;
          updated++;
          const held = heldNodes(faulty, full);
          quick.volts.forEach((v, n) => {
            if (held[n] === 1) expect(v, `${file} ${supposed.id} at ${sound.netlist.nodes[n]}`).to.be.closeTo(full.volts[n]!, 2e-4);
          });
        });
      }
    }
    expect(compared).to.be.above(400);
    expect(chattering).to.be.above(0);
    expect(updated / compared, "most need no full solution").to.be.above(0.7);
  });
});

describe("energy", () => {
  /** ∫ V·I of every element over a course, J, by trapezia. */
  function work(netlist: Netlist, result: Extract<ReturnType<typeof transient>, { kind: "solved" }>, of: (e: Element) => boolean): number {
    let joules = 0;
    for (let k = 1; k < result.timesS.length; k++) {
      netlist.elements.forEach((e, i) => {
        if (!of(e)) return;
        const power = (at: number): number => (result.volts[at]![e.a]! - result.volts[at]![e.b]!) * result.amps[at]![i]!;
        joules += ((power(k) + power(k - 1)) / 2) * (result.timesS[k]! - result.timesS[k - 1]!);
      });
    }
    return joules;
  }
  it("what the source gives is lost in resistances or stored in coil and capacitor", () => {
    const netlist: Netlist = {
      nodes: ["0", "a", "b", "c"],
      elements: [
        { id: "V", kind: "source", a: 1, b: 0, volts: 12, internalOhms: 0 },
        { id: "R", kind: "resistor", a: 1, b: 2, ohms: 3 },
        { id: "L", kind: "inductor", a: 2, b: 3, henries: 5e-3 },
        { id: "C", kind: "capacitor", a: 3, b: 0, farads: 20e-6 },
        { id: "P", kind: "resistor", a: 3, b: 0, ohms: 40 },
      ],
    };
    const result = transient(netlist, { stopS: 4e-3, longestS: 1e-5, fromInitial: true, relative: 1e-6 });
    if (result.kind !== "solved") throw new Error(result.kind);
    const given = -work(netlist, result, (e) => e.id === "V");
    const lost = work(netlist, result, (e) => e.kind === "resistor");
    const last = result.timesS.length - 1;
    const stored = 0.5 * 5e-3 * result.amps[last]![2]! ** 2 + 0.5 * 20e-6 * result.volts[last]![3]! ** 2;
    expect(lost + stored).to.be.closeTo(given, 2e-3 * given);
    expect(stored, "the test means something").to.be.above(0.02 * given);
  });
  it("an ignition coil gives the spark about the ½·L·I² that its dwell has stored", () => {
    // 6.2 A at 4 mH: 77 mJ. The winding resistances, the driver's clamp and what rings out take their share.
    const harness = rig("brigg-coil-and-fan");
    const { netlist, elementOf } = buildCircuit(harness, { ...REST_STATE, key: "run", engine: "idling" }, [], { transient: true });
    const result = transient(netlist, { stopS: 0.02, longestS: 1e-4, fromInitial: false });
    if (result.kind !== "solved") throw new Error(JSON.stringify(result.why));
    const primary = elementOf.get("IC1.primary")!;
    const most = Math.max(...result.amps.map((a) => a[primary]!));
    const spark = work(netlist, result, (e) => e.id === "IC1.gap" || e.id === "IC1.arc to ground");
    const stored = 0.5 * 4e-3 * most ** 2;
    expect(spark / stored).to.be.within(0.3, 1);
  });
});
