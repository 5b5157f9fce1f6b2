import { expect } from "chai";
import { REST_STATE, type VehicleState } from "../../circuit/index.ts";
import { catalogueOf } from "../../faults/index.ts";
import { linksOf, onlyPlace } from "../../harness/index.ts";
import { predictReading } from "../../instruments/index.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import { voltsIn, workOf } from "./row.ts";
import { viewOf } from "./view.ts";

const van = vehicleOf("plover");
const idling: VehicleState = { ...REST_STATE, key: "run", engine: "idling" };

describe("a state seen with supposed faults", () => {
  it("a relay whose coil gets enough in the longest phase of the pulses goes on holding in the others, in view and world alike", () => {
    // 340 Ω in the control wire of the main relay: it holds on through moments in which it would not pull in.
    const places = ["R1.87", "R1.30", "F23.1", "R3.87"].map(onlyPlace);
    const view = viewOf(van, idling, [...places, onlyPlace("BAT.-")], ["R1"])!;
    for (const ohms of [20, 340, 2000]) {
      const row = view.quickRowOf([{ kind: "series", link: "W17", ohms }])!;
      for (const red of places) {
        const shown = predictReading(van, idling, [{ kind: "series", link: "W17", ohms }], { quantity: "volts", red, black: "BAT.-" });
        if (shown.kind !== "value") throw new Error(shown.kind);
        expect(voltsIn(view, row, red, "BAT.-"), `${ohms} Ω at ${red}`).to.be.closeTo(shown.value, 0.15);
      }
    }
  });

  it("a meter of 1 MΩ loads a bad joint as the full model has it", () => {
    const state: VehicleState = { ...REST_STATE, key: "run" };
    const bad = [{ kind: "series", link: "W17", ohms: 1e6 } as const];
    const places = ["R1.86", "R1.85"].map(onlyPlace);
    const view = viewOf(van, state, [...places, onlyPlace("BAT.-")], [])!;
    const row = view.quickRowOf(bad)!;
    for (const red of places)
      for (const inputOhms of [1e6, 10e6]) {
        const shown = predictReading(van, state, bad, { quantity: "volts", red, black: "BAT.-", inputOhms });
        if (shown.kind !== "value") throw new Error(shown.kind);
        expect(voltsIn(view, row, red, "BAT.-", inputOhms), `${red}, ${inputOhms} Ω`).to.be.closeTo(shown.value, 0.15);
      }
  });

  it("an ohmmeter reads in a circuit with diodes what the full model says, faults in it or not", () => {
    const state = REST_STATE;
    const links = linksOf(van).filter((l) => l.kind === "wire" || l.kind === "load");
    const pairs = links.filter((_, i) => i % 29 === 0).map((l) => [l.a, l.b] as const);
    const faults = catalogueOf(van).filter((f) => f.where === undefined && links.some((l) => l.id === f.link));
    const view = viewOf(van, state, [], [], { dead: true })!;
    let compared = 0;
    for (const [k, [red, black]] of pairs.entries())
      for (const f of [undefined, faults[(k * 53) % faults.length]!]) {
        const supposed = f === undefined ? [] : [f.faultAt(f.severities[0]!)];
        const ohms = view.ohmsBetween(supposed, red, black);
        const shown = predictReading(van, state, supposed, { quantity: "ohms", red, black });
        if (ohms === undefined || (shown.kind !== "value" && shown.kind !== "over")) continue;
        compared++;
        const name = `${red} to ${black} with ${f?.id ?? "nothing"}`;
        if (shown.kind === "over") expect(ohms, name).to.equal(Infinity);
        else expect(ohms, name).to.be.closeTo(shown.value, 0.002 + 0.001 * shown.value);
      }
    expect(compared).to.be.above(pairs.length);
  });

  it("told of fewer places and parts it says the same of those", () => {
    const places = ["FPU.1", "FPU.2", "R3.87", "S8"].map(onlyPlace);
    const view = viewOf(van, idling, places, ["FPU", "R3", "ECM"])!;
    const narrow = view.narrowed(places.slice(0, 2), ["FPU"]);
    for (const f of catalogueOf(van).filter((_, i) => i % 1200 === 7)) {
      const [wide, own] = [view.quickRowOf([f.faultAt(f.severities[0]!)]), narrow.quickRowOf([f.faultAt(f.severities[0]!)])];
      expect(own === undefined, f.id).to.equal(wide === undefined);
      if (wide === undefined || own === undefined) continue;
      expect(voltsIn(narrow, own, "FPU.1", "FPU.2"), f.id).to.be.closeTo(voltsIn(view, wide, "FPU.1", "FPU.2")!, 1e-9);
      expect(workOf(narrow, own, "FPU"), f.id).to.be.closeTo(workOf(view, wide, "FPU")!, 1e-9);
    }
  });
});
