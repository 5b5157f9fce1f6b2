import { expect } from "chai";
import fc from "fast-check";
import type { Element, Netlist } from "./netlist.ts";
import { createWorkspace, newton, writeAtRest } from "./newton.ts";
import { createStepSolver } from "./step-solver.ts";
import { advance, storesOf, writeStores } from "./stores.ts";
import { createSystem } from "./system.ts";

const LONGEST = 1e-4;
const STILL = { relative: 1e-9, volts: 1e-9, amps: 1e-10 } as const;

/** A supply behind a resistance, two windings on one core with a diode across each, a capacitor on a limited source, and so many more branches of all kinds between the nodes. */
function netlistOf(ohms: readonly number[], ends: readonly (readonly [number, number])[]): Netlist {
  const nodes = ["0", "feed", "coil", "second", "hold", "mid"];
  const base: Element[] = [
    { id: "supply", kind: "source", a: 1, b: 0, volts: 12, internalOhms: 0.05 },
    { id: "driver", kind: "resistor", a: 1, b: 2, ohms: 1 },
    { id: "L1", kind: "inductor", a: 2, b: 0, henries: 3e-3 },
    { id: "L2", kind: "inductor", a: 3, b: 0, henries: 0.3 },
    { id: "load", kind: "resistor", a: 3, b: 0, ohms: 5e3 },
    { id: "D1", kind: "diode", a: 0, b: 2, saturationAmps: 1e-12, emission: 1 },
    { id: "D2", kind: "diode", a: 3, b: 4, saturationAmps: 1e-10, emission: 1.5 },
    { id: "C1", kind: "capacitor", a: 4, b: 0, farads: 2e-6 },
    { id: "bleed", kind: "resistor", a: 4, b: 0, ohms: 2e3 },
    {
      id: "clamp",
      kind: "curve",
      a: 5,
      b: 0,
      at: (v) => ({ amps: Math.tanh(v), siemens: 1e-6 + 1 - Math.tanh(v) ** 2 }),
      text: "tanh(V(a,b))",
    },
    { id: "mid", kind: "resistor", a: 1, b: 5, ohms: 40 },
  ];
  const more = ends.flatMap(([a, b], n): Element[] =>
    a === b
      ? []
      : n % 3 === 0
        ? [{ id: `C x${n}`, kind: "capacitor", a, b, farads: 1e-7 * (n + 1) }]
        : n % 3 === 1
          ? [{ id: `D x${n}`, kind: "diode", a, b, saturationAmps: 1e-12, emission: 1.2 }]
          : [{ id: `R x${n}`, kind: "resistor", a, b, ohms: ohms[n % ohms.length]! }],
  );
  return { nodes, elements: [...base, ...more], couplings: [{ id: "core", first: "L1", second: "L2", factor: 0.98 }] };
}

describe("the steps of a transient", () => {
  it("come out as by Newton's method on the whole system, whatever the circuit, the length of a step and the course of the supply", () => {
    const end = fc.integer({ min: 0, max: 5 });
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 1, max: 1e4, noNaN: true }), { minLength: 1, maxLength: 4 }),
        fc.array(fc.tuple(end, end), { maxLength: 5 }),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 6 }), fc.boolean()), { minLength: 12, maxLength: 40 }),
        (ohms, ends, steps) => {
          const netlist = netlistOf(ohms, ends);
          const [quick, whole] = [createSystem(netlist, true), createSystem(netlist, true)];
          const [work, reference] = [createWorkspace(netlist), createWorkspace(netlist)];
          const stores = storesOf(netlist);
          writeAtRest(quick, work);
          writeAtRest(whole, reference);
          const solver = createStepSolver(quick, work, stores, STILL, LONGEST);
          for (const [n, [rung, isOn]] of steps.entries()) {
            const h = LONGEST / 2 ** rung;
            const pace = writeStores(quick, stores, h);
            writeStores(whole, stores, h);
            for (const system of [quick, whole]) system.offset[0] = -(isOn ? 12 : 0.3) / 0.05;
            const wanted = newton(whole, reference, STILL);
            const found = solver.solve(pace);
            expect(found.kind, `step ${n}`).to.equal(wanted.kind);
            if (found.kind !== "solved" || wanted.kind !== "solved") return;
            found.x.forEach((x, i) =>
              expect(x, `step ${n}, unknown ${i}`).to.be.closeTo(wanted.x[i]!, 1e-6 * (1 + Math.abs(wanted.x[i]!))),
            );
            advance(whole, stores, wanted.x, h, false);
          }
        },
      ),
      { numRuns: 150, seed: 7 },
    );
  });
});
