import { expect } from "chai";
import { vehicleOf } from "../../../../packages/core/src/test/vehicles.ts";
import { ghostsOf, questionIn, sliceFor, startingPoints } from "./slice-question.ts";

describe("the question of a vehicle's circuit", () => {
  const van = vehicleOf("brigg");
  it("stands in the address", () => {
    const query = new URLSearchParams({ of: "STA+ALT", at: "W1", alone: "1" });
    expect(questionIn(query)).to.deep.equal({ focus: ["STA", "ALT"], selected: "W1", sharers: false, ghosted: false });
  });
  it("is answered by a slice around the parts, a code standing for what it is about; nothing while nothing is asked", () => {
    const ask = { focus: ["STA"], selected: undefined, sharers: true, ghosted: false };
    expect(sliceFor(van, ask)!.harness.components.map((c) => c.id)).to.include("STA");
    expect(sliceFor(van, { ...ask, focus: [] })).to.equal(undefined);
    const { code, module } = van.monitors!.find((m) => m.pin !== undefined)!;
    expect(sliceFor(van, { ...ask, focus: [code] })!.harness.components.map((c) => c.id)).to.include(module);
  });
  it("begins with what there is, by kind, and knows what is not on this vehicle", () => {
    const groups = new Map(startingPoints(van).map((g) => [g.title, g.ids]));
    expect(groups.get("Supply")).to.deep.equal(["ALT"]);
    expect(groups.get("Loads")).to.include("STA");
    expect([...groups.values()].every((ids) => ids.length > 0)).to.equal(true);
    const without = { ...van, components: van.components.filter((c) => c.id !== "ALT") };
    expect([...ghostsOf(van, without)]).to.deep.equal(["ALT"]);
  });
});
