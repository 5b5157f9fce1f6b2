import { expect } from "chai";
import { vehicleOf } from "../../../../packages/core/src/test/vehicles.ts";
import { liveOnDrive, liveTold } from "./live-of.ts";

describe("live values on a drive", () => {
  it("are the standard ones first, then those of the modules in question, each with its module's name", () => {
    const brigg = vehicleOf("brigg");
    const usual = liveOnDrive(brigg, []);
    expect(usual.slice(0, 2).map((s) => s.name)).to.deep.equal(["ECM engine speed", "ECM module supply (standard)"]);
    const more = liveOnDrive(brigg, ["BCM", "ECM", "nobody"]);
    expect(more.length).to.be.greaterThan(usual.length).and.at.most(40);
    expect(new Set(more.map((s) => s.name.split(" ")[0]))).to.deep.equal(new Set(["ECM", "BCM"]));
    expect(new Set(more.map((s) => s.name)).size).to.equal(more.length);
  });

  it("are told from lowest to highest with the last, and what nobody answered is left out", () => {
    const shown = ["speed", "supply", "mute"].map((name) => ({
      name,
      unit: "V",
      wish: { module: { id: "ECM", address: 1 }, what: { pid: 0x42 } },
      value: undefined,
    }));
    const live = { wishes: [], now: [1, null, null], low: [0.5, 11, Infinity], high: [2, 14, -Infinity], rounds: 3, at: 900 };
    expect(liveTold(shown, live)).to.deep.equal([
      { name: "speed", unit: "V", low: 0.5, high: 2, last: 1 },
      // Its last answer is not known any more: the highest stands for it.
      { name: "supply", unit: "V", low: 11, high: 14, last: 14 },
    ]);
  });
});
