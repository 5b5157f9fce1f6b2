import { expect } from "chai";
import { REST_STATE, type VehicleState } from "../../circuit/index.ts";
import type { Harness } from "../../harness/index.ts";
import { predictReading, voltsBySeries } from "../../instruments/index.ts";
import { provingCircuit, stateOf } from "../../test/proving/cases.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import { fitSeries } from "./fit.ts";
import { buildStaircase, type Staircase } from "./staircase.ts";

const van = vehicleOf("plover");
const BRAKING: VehicleState = { ...REST_STATE, on: ["SW13"] };

const pathOf = (harness: Harness, state: VehicleState, load: string): Staircase => {
  const path = buildStaircase(harness, state, load, "usual", undefined);
  if (path.kind !== "staircase") throw new Error(path.message);
  return path;
};

/** What is found for the drop that a resistance in one step makes over it, as a meter shows it by full solutions. */
function refound(harness: Harness, state: VehicleState, path: Staircase, at: number, ohms: number): ReturnType<typeof fitSeries> {
  const { link } = path.steps[at]!;
  const [red, black] = [path.places[at]!, path.places[at + 1]!];
  const read = predictReading(harness, state, [{ kind: "series", link: link.id, ohms }], { quantity: "volts", red, black });
  if (read.kind !== "value") throw new Error(`no value over ${link.id} with ${ohms} Ω`);
  return fitSeries(
    harness,
    state,
    path,
    { from: at, to: at + 1, steps: [at], dropVolts: read.value, uncertaintyVolts: 0, readings: [] },
    undefined,
  );
}

describe("the resistance that explains a drop", () => {
  it("is found again on a whole vehicle, whose modules pulse, from a twentieth of an ohm to an almost open wire", () => {
    const path = pathOf(van, BRAKING, "L13");
    const cases = [["W4", 0.05], ...["W226", "C30.2", "W234"].flatMap((id) => [0.05, 2, 40].map((ohms) => [id, ohms] as const))] as const;
    for (const [id, ohms] of cases) {
      const fault = refound(
        van,
        BRAKING,
        path,
        path.steps.findIndex((s) => s.link.id === id),
        ohms,
      )?.fault;
      expect(fault?.kind, `${id} ${ohms}`).to.equal("series");
      expect(fault?.kind === "series" ? fault.ohms / ohms : 0, `${id} ${ohms}`).to.be.within(0.98, 1.02);
    }
  });

  it("is an open where no resistance drops as much, and none where the least drops more", () => {
    const path = pathOf(van, BRAKING, "L13");
    const at = path.steps.findIndex((s) => s.link.id === "W228");
    const stretch = (dropVolts: number) => ({ from: at, to: at + 1, steps: [at], dropVolts, uncertaintyVolts: 0, readings: [] });
    expect(fitSeries(van, BRAKING, path, stretch(13), undefined)?.fault).to.deep.equal({ kind: "open", link: "W228" });
    expect(fitSeries(van, BRAKING, path, stretch(0.0001), undefined)).to.equal(undefined);
  });

  it("is the one that full solutions give where a part loses its pulses by it, which the factors do not see", () => {
    const pump = provingCircuit("pump-command");
    const idling = stateOf({ engine: "idling" });
    const path = pathOf(pump, idling, "ECM.electronics");
    // With its ground raised the engine module no longer pulls the command low enough.
    const astray = path.steps.flatMap(({ link }, at) =>
      [0.2, 1, 2, 5, 10].flatMap((ohms) => {
        const { near, inFull } = voltsBySeries(pump, idling, link.id, path.places[at]!, path.places[at + 1]!);
        const drop = inFull(ohms);
        return drop > 0 && Math.abs(near(ohms) - drop) > 0.05 ? [{ at, drop }] : [];
      }),
    );
    expect(astray).not.to.deep.equal([]);
    for (const { at, drop } of astray) {
      const { link } = path.steps[at]!;
      const stretch = { from: at, to: at + 1, steps: [at], dropVolts: drop, uncertaintyVolts: 0, readings: [] };
      const fault = fitSeries(pump, idling, path, stretch, undefined)?.fault;
      const { inFull } = voltsBySeries(pump, idling, link.id, path.places[at]!, path.places[at + 1]!);
      if (fault?.kind === "series") {
        // The drop stands there, or jumps across it where the command goes.
        const [less, more] = [inFull(fault.ohms * 0.999), inFull(fault.ohms * 1.001)];
        expect(Math.min(less, more), link.id).to.be.at.most(drop * 1.01);
        expect(Math.max(less, more), link.id).to.be.at.least(drop * 0.99);
      } else expect(inFull(1e8), link.id).to.be.at.most(drop);
    }
  });
});

describe("volts by a resistance in series", () => {
  it("are the same from the factors of every phase as solved in full, on the van with the engine running", () => {
    const idling: VehicleState = { ...REST_STATE, key: "run", engine: "idling", on: ["SW13"] };
    const path = pathOf(van, idling, "L13");
    const at = path.steps.findIndex((s) => s.link.id === "W228");
    const { near, inFull } = voltsBySeries(van, idling, "W228", path.places[at]!, path.places[at + 1]!);
    for (const ohms of [0.01, 1, 30, 1e4, 1e7]) expect(near(ohms)).to.be.closeTo(inFull(ohms), 0.005);
  });
});
