import { expect } from "chai";
import { faultSchema } from "../circuit/index.ts";
import { allPlaces, linksOf } from "../harness/index.ts";
import { predictReading } from "../instruments/index.ts";
import { circuitOf, demoCircuits, FAN, fanOn, loadedState } from "../test/circuits.ts";
import { catalogueOf } from "./catalogue.ts";
import { sweep } from "./sweep.ts";

describe("fault catalogue", () => {
  it("covers every link of every demo circuit, each fault once, with words, severities and priors that sum to 1", () => {
    for (const { harness } of demoCircuits) {
      const catalogue = catalogueOf(harness);
      expect(new Set(catalogue.map((f) => f.id)).size).to.equal(catalogue.length);
      expect(new Set(catalogue.map((f) => f.link))).to.deep.equal(new Set(linksOf(harness).map((l) => l.id)));
      expect(catalogue.reduce((sum, f) => sum + f.prior, 0)).to.be.closeTo(1, 1e-9);
      for (const f of catalogue) {
        expect(f.words).to.match(/\S+ \S+/);
        for (const ohms of f.severitiesOhms) expect(faultSchema.safeParse(f.faultAt(ohms)).success, f.id).to.equal(true);
      }
    }
  });

  it("speaks the trade's words", () => {
    const words = new Map(catalogueOf(circuitOf(FAN)).map((f) => [f.id, f.words]));
    expect(words.get("F1 open")).to.equal("fuse F1 and its holder blown or missing");
    expect(words.get("G1 resistance")).to.equal("ground G1 loose or corroded");
    expect(words.get("C1.4 resistance")).to.equal("too much resistance in connector C1 cavity 4");
  });
});

describe("sweep", () => {
  it("reads at every place what a meter reads on the faulty circuit", () => {
    for (const { harness, file } of demoCircuits.slice(0, 3)) {
      const places = allPlaces(harness).filter((p) => p !== "BAT.-");
      const states = [loadedState(harness), { ...loadedState(harness), key: "off" as const, engine: "stopped" as const, on: [] }];
      const result = sweep(harness, catalogueOf(harness), states, places);
      const solved = result.cases.length * states.length - result.unsolved.reduce((sum, u) => sum + u, 0);
      expect(solved, "every case has an answer").to.equal(result.cases.length * states.length);
      // The meter's own load is on all places at once here and on one there: that shows only behind megohms.
      let compared = 0;
      for (let c = 0; c < result.cases.length; c += 7) {
        const { fault, ohms } = result.cases[c]!;
        if (ohms > 1000 || fault.mode === "open") continue;
        places.forEach((red, i) => {
          const reading = predictReading(harness, states[0]!, [fault.faultAt(ohms)], { quantity: "volts", red, black: "BAT.-" });
          if (reading.kind !== "value") throw new Error(`${file} ${fault.id}`);
          expect(result.volts[c * states.length * places.length + i]!, `${file} ${fault.id} ${ohms} at ${red}`).to.be.closeTo(
            reading.value,
            2e-3,
          );
          compared++;
        });
      }
      expect(compared).to.be.above(100);
      expect(result.updated / solved, "most need no full solution").to.be.above(0.6);
    }
  });

  it("has the hand-worked sound voltages", () => {
    const harness = circuitOf(FAN);
    const { soundVolts } = sweep(
      harness,
      [],
      [fanOn],
      allPlaces(harness).filter((p) => p === "FAN.1"),
    );
    // 12 V · (12 008.3408 mΩ behind FAN.1 of 12 126.6848 mΩ).
    expect(soundVolts[0]).to.be.closeTo((12 * 12.0083408) / 12.1266848, 1e-4);
  });

  it("shows the open by zero behind it and the full voltage before it", () => {
    const harness = circuitOf(FAN);
    const places = allPlaces(harness).filter((p) => p === "C1.4a" || p === "C1.4b");
    const open = catalogueOf(harness).filter((f) => f.id === "C1.4 open");
    const { volts } = sweep(harness, open, [fanOn], places);
    expect(volts[0]).to.be.closeTo(12, 1e-3);
    expect(volts[1]).to.be.closeTo(0, 1e-3);
  });
});
