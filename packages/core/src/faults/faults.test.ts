import { expect } from "chai";
import { type Fault, faultSchema } from "../circuit/index.ts";
import { allPlaces, linksOf, wiresAt } from "../harness/index.ts";
import { predictReading, predictShown } from "../instruments/index.ts";
import { circuitOf, demoCircuits, FAN, fanOn, loadedState, rig } from "../test/circuits.ts";
import { catalogueOf, measurementFaults } from "./catalogue.ts";
import { sweep } from "./sweep.ts";

describe("fault catalogue", () => {
  it("covers every link of every demo circuit, each fault once, with words, severities and priors that sum to 1", () => {
    for (const { harness } of demoCircuits) {
      const catalogue = catalogueOf(harness);
      expect(new Set(catalogue.map((f) => f.id)).size).to.equal(catalogue.length);
      expect(new Set(catalogue.map((f) => f.link))).to.deep.equal(
        new Set([
          ...linksOf(harness).map((l) => l.id),
          "BAT",
          // A splice fails where wires meet in it.
          ...harness.components.flatMap((c) => (c.kind === "splice" && wiresAt(harness, c.id).length > 1 ? [c.id] : [])),
        ]),
      );
      expect(catalogue.reduce((sum, f) => sum + f.prior, 0)).to.be.closeTo(1, 1e-9);
      for (const f of catalogue) {
        expect(f.words).to.match(/\S+ \S+/);
        for (const severity of f.severities) expect(faultSchema.safeParse(f.faultAt(severity)).success, f.id).to.equal(true);
      }
    }
  });

  it("speaks the trade's words", () => {
    const words = new Map(catalogueOf(circuitOf(FAN)).map((f) => [f.id, f.words]));
    expect(words.get("F1 open")).to.equal("fuse F1 and its holder blown or missing");
    expect(words.get("G1 resistance")).to.equal("ground G1 loose or corroded");
    expect(words.get("C1.4 resistance")).to.equal("high resistance in connector C1 cavity 4");
  });
});

describe("faults of devices, looms and water", () => {
  const names = (text: string): Set<string> => new Set(catalogueOf(circuitOf(text)).map((f) => f.id));

  it("come from what the circuit is made of", () => {
    const found = names(`
BAT(12.5V) -- W1 RD 6mm2 1m -- F1(10A) -- W2 RD 1mm2 1m via=dash -- R1.30(relay suppression=diode changeover=true)
R1.87 -- W3 BU 1mm2 1m via=dash,door -- C1.1 -- W4 BU 1mm2 1m -- H1(heater 3A) -- W5 BN 1mm2 1m -- C1.2 -- W6 BN 1mm2 1m -- G1
R1.87a -- W7 GN 1mm2 1m via=door -- C1.3 -- W8 GN 1mm2 1m -- L1(lamp 5W) -- W9 BN 1mm2 1m -- G2
F1.2 -- W10 RD 1mm2 1m -- SW1 -- W11 GY 1mm2 1m -- R1.86
R1.85 -- W12 BN 1mm2 1m -- G1
G3 -- BK 25mm2 0.5m -- BAT
`);
    for (const id of [
      "R1 coil open",
      "R1 contact welded",
      "R1 rest contact worn",
      "R1 diode shorted",
      "W2 rubbed against W3",
      "W3 rubbed against W7",
      "C1.1 water bridge to C1.2",
      "C1.2 water bridge to C1.3",
      "F1 wrong rating",
      "BAT flat",
      "BAT cell shorted",
      "L1 open",
      "SW1 stuck closed",
    ])
      expect(found.has(id), id).to.equal(true);
    expect(found.has("W2 rubbed against W7"), "they share no segment").to.equal(false);
  });

  it("name the trade's words, weigh by age and experience, and sum to 1", () => {
    const harness = rig("brigg-starting");
    const catalogue = catalogueOf(harness, { ageYears: 16, factorOf: (link) => (link === "G5" ? 10 : 1) });
    const by = new Map(catalogue.map((f) => [f.id, f]));
    expect(by.get("STA brushes worn")!.words).to.equal("STA (starter): brushes worn out");
    expect(catalogue.reduce((sum, f) => sum + f.prior, 0)).to.be.closeTo(1, 1e-9);
    expect(by.get("G5 resistance")!.prior / by.get("G6 resistance")!.prior).to.be.closeTo(10, 1e-9);
    const young = new Map(catalogueOf(harness, { ageYears: 1 }).map((f) => [f.id, f.prior]));
    expect(by.get("G6 resistance")!.prior / by.get("G6 open")!.prior).to.be.above(young.get("G6 resistance")! / young.get("G6 open")!);
  });

  it("inside a device that is unplugged change nothing and throw nothing", () => {
    const harness = circuitOf("BAT -- W1 RD 1mm2 1m -- D1(led) -- W2 BK 1mm2 1m -- G1\nG2 -- W3 BK 25mm2 0.5m -- BAT");
    const unplugged = { ...fanOn, on: [], opened: ["D1"] };
    for (const f of catalogueOf(harness).filter((c) => c.link === "D1")) {
      const reading = predictReading(harness, unplugged, [f.faultAt(f.severities[0]!)], { quantity: "volts", red: "D1.A", black: "BAT.-" });
      expect(reading.kind === "value" && reading.value, f.id).to.be.closeTo(12.6, 1e-3);
    }
  });

  it("leave the fuse blown by a short behind it, and the lamp in its place lit", () => {
    const harness = circuitOf(FAN);
    const short = catalogueOf(harness)
      .find((f) => f.id === "W3 short to ground")!
      .faultAt(0.05);
    const read = (state: typeof fanOn, red: string, black: string): number => {
      const reading = predictReading(harness, state, [short], { quantity: "volts", red, black });
      return reading.kind === "value" ? reading.value : NaN;
    };
    expect(read(fanOn, "F1.1", "F1.2"), "all of it over the open fuse").to.be.closeTo(12, 0.01);
    const lamp = { ...fanOn, opened: ["F1"], lamps: [["F1.1", "F1.2", 21]] as [string, string, number][] };
    expect(read(lamp, "F1.1", "F1.2"), "all of it over the lamp").to.be.within(11.5, 12);
  });
});

describe("faults of the measuring", () => {
  const harness = circuitOf(FAN);
  const [red, , reference, lamp] = measurementFaults();
  const volts = (faults: Fault[]): number => {
    const reading = predictReading(harness, fanOn, faults, { quantity: "volts", red: "F1.1", black: "BAT.-" });
    return reading.kind === "value" ? reading.value : NaN;
  };
  it("read nothing through a broken lead, and less through a bad reference by the meter's own 10 MΩ", () => {
    expect(volts([red!.faultAt(1e12)])).to.be.closeTo(0, 1e-3);
    // 10 MΩ of 20: half; 100 kΩ take a hundredth.
    expect(volts([reference!.faultAt(1e7)]) / volts([])).to.be.closeTo(0.5, 1e-6);
    expect(volts([reference!.faultAt(1e5)]) / volts([])).to.be.closeTo(100 / 101, 1e-6);
  });
  it("leave a dead lamp dark on a sound feed, and add to ohms", () => {
    const placed = { instrument: "lamp", watts: 5, red: "F1.1", black: "BAT.-" } as const;
    expect(predictShown(harness, fanOn, [], placed)).to.include({ kind: "light", look: "bright" });
    expect(predictShown(harness, fanOn, [lamp!.faultAt(1e12)], placed)).to.include({ kind: "light", look: "dark" });
    const dead = { ...fanOn, on: [], opened: ["F1"] };
    const ohms = predictReading(harness, dead, [reference!.faultAt(100)], { quantity: "ohms", red: "FAN.1", black: "FAN.2" });
    expect(ohms.kind === "value" && ohms.value).to.be.closeTo(112, 1e-3);
  });
  it("are named and sum to 1", () => {
    expect(measurementFaults().reduce((sum, f) => sum + f.prior, 0)).to.be.closeTo(1, 1e-9);
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
      let compared = 0;
      for (let c = 0; c < result.cases.length; c += 7) {
        const { fault, severity } = result.cases[c]!;
        places.forEach((red, i) => {
          const reading = predictReading(harness, states[0]!, [fault.faultAt(severity)], { quantity: "volts", red, black: "BAT.-" });
          if (reading.kind !== "value") throw new Error(`${file} ${fault.id}`);
          expect(result.volts[c * states.length * places.length + i]!, `${file} ${fault.id} ${severity} at ${red}`).to.be.closeTo(
            reading.value,
            1e-3,
          );
          compared++;
        });
      }
      expect(compared).to.be.above(100);
      expect(result.updated / solved, "most need no full solution").to.be.above(0.9);
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
