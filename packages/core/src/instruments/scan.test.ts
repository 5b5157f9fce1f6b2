import { expect } from "chai";
import { REST_STATE, type Fault } from "../circuit/index.ts";
import { catalogueOf } from "../faults/index.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { awakeModules, scanAll, silentModules } from "./index.ts";

const estate = vehicleOf("ouse");
const run = { ...REST_STATE, key: "run" } as const;
/** Every so many faults of the catalogue is scanned. */
const EVERY = 130;

describe("a scan that solves what a fault may change alone", () => {
  it("finds silent what a whole solution does, for faults of every kind", () => {
    const faults = catalogueOf(estate)
      .filter((f, i) => i % EVERY === 0 && f.effect !== "lead")
      .map((f) => f.faultAt(f.severities[Math.floor(f.severities.length / 2)]!));
    expect(faults.length).to.be.above(20);
    let silent = 0;
    for (const fault of faults) {
      const asleep = estate.components.flatMap((c) => (c.kind === "device" && c.device === "module" ? [c.id] : []));
      const awake = awakeModules(estate, run, [fault]);
      const whole = new Set([...asleep.filter((id) => !awake.has(id)), ...silentModules(estate, run, [fault])]);
      expect(new Set(scanAll(estate, run, [fault]).silent), JSON.stringify(fault)).to.deep.equal(whole);
      silent += whole.size;
    }
    expect(silent).to.be.above(0);
  });
  it("finds nothing on a good vehicle, and the slaves of a line that is held", () => {
    const silentWith = (fault: Fault): readonly string[] => scanAll(estate, run, [fault]).silent;
    expect(silentWith({ kind: "short to ground", place: "S11", ohms: 0.5 })).to.include.members(["FL1", "FL2", "FL3"]);
    expect(scanAll(estate, run, []).silent).to.deep.equal([]);
  });
});
