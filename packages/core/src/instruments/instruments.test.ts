import { expect } from "chai";
import { REST_STATE, type Fault } from "../circuit/index.ts";
import { linksOf, pinPlace } from "../harness/index.ts";
import { circuitOf, demoCircuits, FAN, fanOn, loadedState } from "../test/circuits.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { displayText } from "./display.ts";
import { parseReading } from "./parse-reading.ts";
import { predictAll, predictReading } from "./predict.ts";
import type { Leads, Reading } from "./leads.ts";

const fan = circuitOf(FAN);
const volts = (red: string, black = "BAT.-"): Leads => ({ quantity: "volts", red, black });
const ohms = (red: string, black: string): Leads => ({ quantity: "ohms", red, black });
const valueOf = (reading: Reading): number => {
  if (reading.kind !== "value") throw new Error(`no value: ${JSON.stringify(reading)}`);
  return reading.value;
};

describe("predictReading", () => {
  // Worked by hand, copper at 20 °C: W1 68.96 mΩ, F1 4.8, W2 13.792, SW1 5, W3 6.896, C1.4 2, W4 6.896, FAN 12 000, W5 6.896,
  // G1 0.8, G2 0.3, W6 0.3448 mΩ, battery 10 mΩ: 12 126.69 mΩ in all. 12 V give 0.98955 A.
  const AMPS = 12 / 12.1266848;

  it("is steady at the battery while a module behind 200 Ω resets without end, and swings at the module", () => {
    const rig = vehicleOf("rig-reference");
    const state = { ...REST_STATE, key: "run" as const };
    const weak: readonly Fault[] = [{ kind: "series", link: "W4", ohms: 200 }];
    // Between 12.59961 V while the module draws 62 mA and 12.59999 V while it does not: nobody sees that on a meter.
    expect(valueOf(predictReading(rig, state, weak, volts("BAT.+")))).to.be.closeTo(12.5998, 1e-4);
    const module = predictReading(rig, state, weak, volts("ECM.1"));
    expect(module.kind === "unsolved" && module.between!.map((v) => Math.round(v))).to.deep.equal([3, 12]);
  });

  it("has the current of a hand-worked circuit", () => {
    expect(valueOf(predictReading(fan, fanOn, [], { quantity: "amps", around: "W1" }))).to.be.closeTo(AMPS, 1e-6);
  });

  const DROPS: readonly (readonly [string, string, number])[] = [
    ["BAT.+", "F1.1", 0.06896],
    ["F1.1", "F1.2", 0.0048],
    ["C1.4a", "C1.4b", 0.002],
    ["FAN.1", "FAN.2", 12],
    ["FAN.2", "BAT.-", 0.0083408],
  ];
  it("loads the circuit with the meter that is used", () => {
    // Through a bad joint of 1 MΩ at W2 to the switched-off fan's feed: a divider of 1 MΩ and the meter.
    const bad: Fault[] = [{ kind: "series", link: "W2", ohms: 1e6 }];
    const off = { ...fanOn, on: [], opened: ["SW1"] };
    const through = (inputOhms?: number): number =>
      valueOf(
        predictReading(fan, off, bad, {
          quantity: "volts",
          red: "SW1.1",
          black: "BAT.-",
          ...(inputOhms === undefined ? {} : { inputOhms }),
        }),
      );
    expect(through()).to.be.closeTo((12 * 10) / 11, 0.001);
    expect(through(1e6)).to.be.closeTo(6, 0.001);
    expect(through(1e9)).to.be.closeTo(12, 0.02);
  });

  for (const [red, black, resistance] of DROPS) {
    it(`drops ${resistance} Ω times the current from ${red} to ${black}`, () => {
      expect(valueOf(predictReading(fan, fanOn, [], volts(red, black)))).to.be.closeTo(AMPS * resistance, 1e-5);
      expect(valueOf(predictReading(fan, fanOn, [], volts(black, red)))).to.be.closeTo(-AMPS * resistance, 1e-5);
    });
  }

  it("reads full voltage through a megohm when nothing else loads it: the meter's own 10 MΩ divide", () => {
    // SW1 open at FAN.1: an open wire W1 replaced by 1 MΩ leaves 12·10/11 V on an unloaded feed.
    const bad: Fault[] = [{ kind: "series", link: "W1", ohms: 1e6 }];
    expect(valueOf(predictReading(fan, REST_STATE, bad, volts("F1.2")))).to.be.closeTo((12 * 10) / 11, 1e-3);
    expect(valueOf(predictReading(fan, fanOn, bad, volts("F1.2"))), "loaded it collapses").to.be.below(0.001);
  });

  it("finds nothing on an open side and everything before it", () => {
    const open: Fault[] = [{ kind: "open", link: "C1.4" }];
    expect(valueOf(predictReading(fan, fanOn, open, volts("C1.4a")))).to.be.closeTo(12, 1e-4);
    expect(valueOf(predictReading(fan, fanOn, open, volts("C1.4b")))).to.be.closeTo(0, 1e-4);
    expect(valueOf(predictReading(fan, fanOn, open, { quantity: "amps", around: "C1.4" }))).to.equal(0);
  });

  it("shorts to ground and to feed", () => {
    const at = (ohms: number): number =>
      valueOf(predictReading(fan, fanOn, [{ kind: "short to ground", place: "F1.2", ohms }], volts("F1.2")));
    // 1 Ω ∥ 12.0379 Ω of fan and way = 0.92330 Ω against 83.76 mΩ from the battery: 11.9 A, which a 15 A fuse bears.
    expect(at(1)).to.be.closeTo((12 * 0.9233) / (0.9233 + 0.08376), 2e-3);
    // 0.1 Ω would take 65 A, four times the rating: the fuse is gone and nothing is left behind it.
    expect(at(0.1)).to.be.closeTo(0, 1e-3);
    expect(valueOf(predictReading(fan, REST_STATE, [{ kind: "short to feed", place: "FAN.1", ohms: 0.5 }], volts("FAN.1")))).to.be.above(
      11,
    );
  });

  it("obeys what is unplugged, pulled and bridged", () => {
    const current = (change: Partial<typeof fanOn>): number =>
      valueOf(predictReading(fan, { ...fanOn, ...change }, [], { quantity: "amps", around: "FAN" }));
    expect(current({ opened: ["C1"] })).to.be.closeTo(0, 1e-9);
    expect(current({ opened: ["F1"] })).to.be.closeTo(0, 1e-9);
    expect(current({ opened: ["W5"] })).to.be.closeTo(0, 1e-9);
    expect(current({ opened: ["BAT"] })).to.be.closeTo(0, 1e-9);
    expect(current({ on: [], bridged: [["SW1.1", "SW1.2"]] })).to.be.closeTo(AMPS, 0.01);
  });

  it("takes ohms on a dead circuit only", () => {
    expect(predictReading(fan, fanOn, [], ohms("FAN.1", "FAN.2"))).to.deep.equal({ kind: "void", why: "live" });
    expect(predictReading(fan, REST_STATE, [], ohms("BAT.+", "BAT.-")).kind).to.equal("void");
    const dead = { ...REST_STATE, opened: ["F1"] };
    expect(valueOf(predictReading(fan, dead, [], ohms("FAN.1", "FAN.2")))).to.be.closeTo(12, 1e-6);
    expect(valueOf(predictReading(fan, dead, [], ohms("SW1.2", "FAN.1")))).to.be.closeTo(0.015792, 1e-6);
    expect(predictReading(fan, dead, [], ohms("SW1.1", "FAN.1"))).to.deep.equal({ kind: "over", quantity: "ohms" });
  });

  it("refuses places and links that the circuit does not hold, by name", () => {
    expect(() => predictReading(fan, fanOn, [], volts("F7.1"))).to.throw(RangeError, "F7.1");
    expect(() => predictReading(fan, fanOn, [], { quantity: "amps", around: "W99" })).to.throw(RangeError, "W99");
  });

  it("agrees with potentials and currents computed at once, on every demo circuit", () => {
    for (const { harness, file } of demoCircuits) {
      const state = loadedState(harness);
      const all = predictAll(harness, state, []);
      if (!("volts" in all)) throw new Error(`${file}: ${all.kind}`);
      for (const [place, v] of all.volts) {
        expect(v, `${file} ${place} floats`).to.not.equal(undefined);
        // The meter's 10 MΩ change nothing that shows on a loaded circuit.
        expect(valueOf(predictReading(harness, state, [], volts(place)))).to.be.closeTo(v!, 2e-4);
      }
      for (const link of linksOf(harness)) {
        expect(all.amps.get(link.id)).to.be.closeTo(
          valueOf(predictReading(harness, state, [], { quantity: "amps", around: link.id })),
          1e-9,
        );
      }
    }
  });

  it("gives every load of the demo circuits at least nine tenths of the battery's voltage when sound", () => {
    for (const { harness, file } of demoCircuits) {
      const all = predictAll(harness, loadedState(harness), []);
      if (!("volts" in all)) throw new Error(file);
      const battery = all.volts.get("BAT.+")!;
      for (const load of harness.components.filter((c) => c.kind === "load")) {
        const [p, q] = load.pins.map((pin) => all.volts.get(pinPlace(load.id, pin))!);
        expect(Math.abs(p! - q!) / battery, `${file} ${load.id}`).to.be.above(0.9);
      }
    }
  });
});

describe("parseReading", () => {
  const GOOD: readonly (readonly [string, string, number])[] = [
    ["12.31", "volts", 12.31],
    ["0.44 V", "volts", 0.44],
    ["0.44V", "volts", 0.44],
    ["440 mV", "volts", 0.44],
    ["-0.02", "volts", -0.02],
    ["−0.02", "volts", -0.02],
    [".5", "volts", 0.5],
    [" 18 A ", "amps", 18],
    ["350mA", "amps", 0.35],
    ["4.7 kohm", "ohms", 4700],
    ["4.7 kΩ", "ohms", 4700],
    ["12 Ω", "ohms", 12],
    ["1.2 MΩ", "ohms", 1.2e6],
    ["3 mΩ", "ohms", 0.003],
  ];
  for (const [typed, quantity, value] of GOOD) {
    it(`reads “${typed}”`, () => {
      const read = parseReading(typed);
      expect(read).to.include({ kind: "value", quantity });
      expect(read.kind === "value" && read.value).to.be.closeTo(value, 1e-9 * Math.max(1, Math.abs(value)));
      expect(read.kind === "value" && read.text, "keeps the digits").to.equal(typed.trim());
    });
  }
  for (const typed of ["OL", "ol", "O.L", "o.l."])
    it(`reads “${typed}” as over range`, () => expect(parseReading(typed).kind).to.equal("over"));

  const BAD: readonly (readonly [string, string])[] = [
    ["", "empty"],
    ["12,31", "decimal-comma"],
    ["12.3.1", "two-points"],
    ["12.3 bar", "unit"],
    ["twelve", "not-a-number"],
    [".", "not-a-number"],
    ["12000", "too-large"],
    ["Infinity", "not-a-number"],
    ["1e3", "unit"],
  ];
  for (const [typed, code] of BAD)
    it(`sends “${typed}” back as ${code}`, () => expect(parseReading(typed)).to.include({ kind: "bad", code }));

  it("says what to type instead of a comma", () => {
    const read = parseReading("12,31");
    expect(read.kind === "bad" && read.message).to.contain("12.31");
  });
});

describe("displayText", () => {
  it("is read back as what it shows", () => {
    for (const [quantity, value] of [
      ["volts", 0.0447],
      ["volts", 3.2],
      ["volts", 12.44],
      ["amps", 0.31],
      ["amps", 145.2],
      ["ohms", 0.4],
      ["ohms", 4700],
      ["ohms", 1e5],
    ] as const) {
      const read = parseReading(displayText(quantity, value));
      expect(read.kind === "value" && read.quantity).to.equal(quantity);
      expect(read.kind === "value" && read.value).to.be.closeTo(value, 0.002 * value);
    }
  });
});
