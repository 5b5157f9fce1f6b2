import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../circuit/index.ts";
import { circuitOf } from "../test/circuits.ts";
import { observe } from "./observe.ts";
import { predictReading } from "./predict.ts";

// Four windings of 1 Ω that fire in turn for a twentieth of the time each, behind one 15 A fuse: 12 A one at a time, 2.4 A in the mean.
const coils = circuitOf(`
circuit "four in turn"
BAT(12.6V)
G1 -- BK 16mm2 0.5m -- BAT
BAT -- F1(15A) -- RD 4mm2 0.5m -- S1
S1 -- RD 1mm2 0.5m -- A1(injector ohms=1) -- WH 1mm2 0.5m -- M.1
S1 -- RD 1mm2 0.5m -- A2(injector ohms=1) -- WH 1mm2 0.5m -- M.2
S1 -- RD 1mm2 0.5m -- A3(injector ohms=1) -- WH 1mm2 0.5m -- M.3
S1 -- RD 1mm2 0.5m -- A4(injector ohms=1) -- WH 1mm2 0.5m -- M.4
M(module pin B supply, pin E ground, pin 1 low duty=0.05 when=key=run, pin 2 low duty=0.05 when=key=run, pin 3 low duty=0.05 when=key=run, pin 4 low duty=0.05 when=key=run)
BAT -- F2(5A) -- RD 1mm2 0.5m -- M.B
M.E -- BN 1mm2 0.5m -- G1
`);
const run: VehicleState = { ...REST_STATE, key: "run" };
const at = (place: string, faults: readonly Fault[] = []): number => {
  const r = predictReading(coils, run, faults, { quantity: "volts", red: place, black: "BAT.-" });
  if (r.kind !== "value") throw new Error(JSON.stringify(r));
  return r.value;
};
const sights = (faults: readonly Fault[]) => {
  const seen = observe(coils, run, faults);
  if (!Array.isArray(seen)) throw new Error(seen.kind);
  return new Map(seen.map((s) => [s.component, s.sight]));
};

describe("outputs that fire in turn", () => {
  it("do not blow the fuse that they share, and each is seen to work", () => {
    expect(sights([]).get("F1")).to.include({ kind: "fuse", blown: false });
    for (const id of ["A1", "A4"]) expect(sights([]).get(id)).to.deep.equal({ kind: "pulled in", yes: true });
    expect(at("S1")).to.be.above(12);
  });
  it("find a fuse blown in every phase that has blown in the longest", () => {
    const short: Fault = { kind: "short to ground", place: "S1", ohms: 0.02 };
    expect(at("S1", [short])).to.be.closeTo(0, 1e-3);
    expect(sights([short]).get("F1")).to.include({ blown: true });
    expect(sights([short]).get("A1")).to.deep.equal({ kind: "pulled in", yes: false });
  });
  it("are told apart when one of them is dead", () => {
    const open: Fault = { kind: "open", link: "A3.winding" };
    expect(sights([open]).get("A3")).to.deep.equal({ kind: "pulled in", yes: false });
    expect(sights([open]).get("A2")).to.deep.equal({ kind: "pulled in", yes: true });
  });
});
