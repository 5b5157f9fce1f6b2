import { expect } from "chai";
import { readyMonitors } from "./readiness.ts";

describe("readiness", () => {
  it("names the monitors of a spark engine and of a diesel by their bits, and passes over what is reserved", () => {
    // Bytes 00 07 65 00 of PID 0x01 (SAE J1979): all three continuous ones; catalyst, evaporative system, oxygen sensor and heater.
    const spark = readyMonitors({
      diesel: false,
      continuous: { there: 0b111, incomplete: 0b100 },
      others: { there: 0x65, incomplete: 0x05 },
    });
    expect(spark).to.deep.equal([
      { name: "misfire", complete: true },
      { name: "fuel system", complete: true },
      { name: "components", complete: false },
      { name: "catalyst", complete: false },
      { name: "evaporative system", complete: false },
      { name: "oxygen sensor", complete: true },
      { name: "oxygen sensor heater", complete: true },
    ]);
    const diesel = readyMonitors({ diesel: true, continuous: { there: 0, incomplete: 7 }, others: { there: 0xff, incomplete: 0x40 } });
    expect(diesel.map((m) => m.name)).to.deep.equal([
      "NMHC catalyst",
      "NOx aftertreatment",
      "boost pressure",
      "exhaust gas sensor",
      "particulate filter",
      "EGR or valve timing",
    ]);
    expect(diesel.filter((m) => !m.complete).map((m) => m.name)).to.deep.equal(["particulate filter"]);
  });
});
