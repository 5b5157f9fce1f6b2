import { expect } from "chai";
import { provingCircuit } from "../test/proving/cases.ts";
import { catalogueOf } from "./catalogue.ts";
import { mostAmpsOf } from "./degrees.ts";

const degrees = (circuit: string, id: string): readonly number[] =>
  catalogueOf(provingCircuit(circuit)).find((f) => f.id === id)!.severities;

describe("degrees of a resistance", () => {
  it("begin where the element's own current makes a drop that rules object to, and end where only an ohmmeter is left", () => {
    // The starter's cable carries some 200 A while cranking: 2 mΩ drop 0.4 V.
    const cable = degrees("cold-start", "W1 resistance");
    expect(cable.filter((r) => r <= 0.003)).to.have.length.at.least(2);
    // And with the starter at rest a lamp's milliamps and a module's input, for which it is open only beyond some ten thousand ohms.
    expect(cable.at(-1)).to.equal(20_000);
    // A control wire of an 85 Ω relay: 0.14 A, 12.6/0.14 = 90 Ω; 0.4 Ω drop 50 mV.
    expect(degrees("cold-start", "W9 resistance")[0]).to.be.within(0.2, 0.6);
    // A LIN line carries 12 mA while a slave pulls it low through the master's 1 kΩ.
    expect(degrees("lin-seats", "W11 resistance").some((r) => r >= 1000 && r <= 10_000)).to.equal(true);
  });
  it("are few, ascending and within what means anything", () => {
    for (const name of ["cold-start", "lin-seats", "sensor-return", "can-yard"])
      for (const f of catalogueOf(provingCircuit(name))) {
        if (f.effect !== "series") continue;
        expect(f.severities.length, f.id).to.be.within(1, 10);
        for (const [i, r] of f.severities.entries()) if (i > 0) expect(r, f.id).to.be.above(f.severities[i - 1]!);
      }
  });
  it("count every use: cranking for the starter's way, speaking for a bus, everything on for a feed", () => {
    const start = mostAmpsOf(provingCircuit("cold-start"));
    expect(start.get("W1")).to.be.within(100, 400);
    expect(start.get("G3")).to.be.within(100, 400);
    const seats = mostAmpsOf(provingCircuit("lin-seats"));
    // 12 V less a diode over 1 kΩ and 40 Ω.
    expect(seats.get("W10")).to.be.closeTo(0.0115, 0.001);
  });
});
