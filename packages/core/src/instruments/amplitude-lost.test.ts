import { expect } from "chai";
import { readFileSync } from "node:fs";
import { REST_STATE } from "../circuit/index.ts";
import { parseNotation } from "../notation/index.ts";
import { amplitudeLost } from "./amplitude-lost.ts";
import { predictPulses } from "./pulses.ts";

const brigg = parseNotation(readFileSync("demo/vehicles/brigg.circuit", "utf8")).harness!;
const idling = { ...REST_STATE, key: "run", engine: "idling" } as const;
const at = { red: "ALT.C", black: "BAT.-" };

describe("a lost amplitude", () => {
  it("is told as ohms in the wire, whichever it is of the wires, cavities and joints between module and probe", () => {
    // By hand: 4.7 kΩ in the alternator behind 30 kΩ divide about 13.4 V down to 1.81 V; here the level itself is given.
    const lost = amplitudeLost(brigg, idling, at, { low: 0.09, high: 1.8 })!;
    expect(lost.ohms).to.be.closeTo(30_000, 1500);
    expect(lost.links).to.include("C3.1");
    // All stretches between ECM.8 and ALT.C are alike for the pulses at ALT.C.
    expect(lost.links).to.have.length.greaterThan(2);
  });
  it("is found again at other degrees", () => {
    for (const ohms of [1000, 8000, 200_000]) {
      const shown = predictPulses(brigg, idling, [{ kind: "series", link: "C3.1", ohms }], at.red, at.black)!;
      expect(amplitudeLost(brigg, idling, at, shown)!.ohms / ohms).to.be.closeTo(1, 0.05);
    }
  });
  it("is none where the pulses are good, stand higher than any resistance lets them, or where nothing pulses", () => {
    expect(amplitudeLost(brigg, idling, at, predictPulses(brigg, idling, [], at.red, at.black)!)).to.equal(undefined);
    // Lifted from below: something holds it up, no resistance in the wire.
    expect(amplitudeLost(brigg, idling, at, { low: 9, high: 14 })).to.equal(undefined);
    expect(amplitudeLost(brigg, REST_STATE, at, { low: 0, high: 1 })).to.equal(undefined);
  });
  it("at the module's end is not in the wire", () => {
    expect(amplitudeLost(brigg, idling, { ...at, red: "ECM.8" }, { low: 0.1, high: 2 })).to.equal(undefined);
  });
});
