import { expect } from "chai";
import { parseNotation } from "../notation/index.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { harnessSchema } from "./index.ts";
import { whereaboutsOf } from "./plan.ts";

describe("where something is on the vehicle", () => {
  const van = vehicleOf("plover");
  const placesOf = (name: string): (readonly number[])[] =>
    (whereaboutsOf(van, name)?.spots ?? []).map((s) => [s.along, s.across, s.height]);

  it("a part stands in its zone, on the side and at the end that its words speak of", () => {
    expect(placesOf("L13")).to.deep.equal([[98, -80, 45]]); // "stop light, left"
    expect(placesOf("L14")).to.deep.equal([[98, 80, 45]]);
    // Nothing says on which side the number plate is lit: both stay.
    expect(placesOf("L12")).to.have.length(2);
  });
  it("a pin stands where its part does, a wire where it begins or else ends, and what has no zone nowhere", () => {
    expect(placesOf("L13.1")).to.deep.equal(placesOf("L13"));
    const wire = van.wires.find((w) => w.to.component === "L13" || w.from.component === "L13")!;
    expect(placesOf(wire.id)).to.have.length.above(0);
    expect(whereaboutsOf(van, "NOTHING.1")).to.equal(undefined);
  });
  it("every zone of every demo vehicle has a place, and every part of a zone stands somewhere", () => {
    for (const name of ["brigg", "gritter", "ouse", "plover"]) {
      const harness = vehicleOf(name);
      for (const z of harness.zones ?? []) expect(z.plan, `${name} ${z.id}`).to.have.length.above(0);
      for (const c of harness.components.filter((p) => p.zone !== undefined))
        expect(whereaboutsOf(harness, c.id)?.spots, c.id).to.have.length.above(0);
    }
  });
  it("left is left and right is right: in a zone on both sides no part that says so stands on the other one", () => {
    for (const name of ["brigg", "gritter", "ouse", "plover"]) {
      const harness = vehicleOf(name);
      for (const c of harness.components) {
        const { zone, spots = [] } = whereaboutsOf(harness, c.id) ?? {};
        if (zone === undefined || zone.plan!.length < 2) continue;
        const sides = spots.map((s) => Math.sign(s.across));
        const says = /\bleft\b/.test(c.label ?? "") ? -1 : /\bright\b/.test(c.label ?? "") ? 1 : 0;
        if (says !== 0) expect(sides, `${name} ${c.id} ${c.label}`).not.to.include(-says);
      }
    }
  });
  it("a place that is none is refused by the schema", () => {
    const zone = { id: "z", text: "z", minutes: 1, exposure: [], plan: [{ along: 101, across: 0, height: 0 }] };
    const { harness } = parseNotation("BAT -- RD 1mm2 1m -- L1(lamp 5W) -- BK 1mm2 1m -- BAT");
    expect(harnessSchema.safeParse({ ...harness, zones: [zone] }).success).to.equal(false);
  });
});
