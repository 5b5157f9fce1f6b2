import { expect } from "chai";
import { type Fault, REST_STATE, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { circuitOf, rig } from "../test/circuits.ts";
import { amplitudeAt, measure as measureSamples } from "../waveform/index.ts";
import { clampAmps, errorOf, meterOhms, meterVolts, scopeVolts } from "./accuracy.ts";
import { clicks } from "./observe.ts";
import { predictReading } from "./predict.ts";
import { measure, predictTrace, predictTraces, type Measures, type ScopePlacement } from "./scope.ts";

function measured(h: Harness, state: VehicleState, faults: Fault[], scope: Partial<ScopePlacement> & Pick<ScopePlacement, "at">): Measures {
  const trace = predictTrace(h, state, faults, { probe: 10, seconds: 0.05, resolutionS: 1e-5, ...scope });
  if (trace.kind !== "trace") throw new Error(JSON.stringify(trace));
  return measure(trace);
}
const run: VehicleState = { ...REST_STATE, key: "run" };

describe("a pulsed output", () => {
  // 12 V over 24 Ω through a driver of 0.25 Ω to ground, 30 % on at 100 Hz.
  const h = circuitOf(`
BAT(12V 10mohm) -- W1 RD 2.5mm2 1m -- S1
S1 -- W2 WH 1mm2 1m -- H1(heater 0.5A) -- W3 BU 1mm2 1m -- ECM.6
S1 -- W4 RD 1mm2 1m -- ECM.1(module pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"6":{"sort":"low","duty":0.3,"hertz":100}} rules=[{"pin":"6","when":{"key":["run"]}}])
ECM.2 -- W5 BN 1.5mm2 0.5m -- G1
G2 -- W6 BK 25mm2 0.5m -- BAT
`);
  const at = { red: "ECM.6", black: "ECM.2" };
  it("is averaged by a meter: 70 % of the feed at the switched side, 30 % of the current", () => {
    const volts = predictReading(h, run, [], { quantity: "volts", red: at.red, black: at.black });
    // Off it stands at the feed (the bias of 2.5 V behind 20 kΩ pulls 24 Ω by 0.01 V), on at 12·0.25/24.3 = 0.12 V.
    expect(volts.kind === "value" && volts.value).to.be.closeTo(0.7 * 11.98 + 0.3 * 0.126, 0.02);
    const amps = predictReading(h, run, [], { quantity: "amps", around: "W3" });
    expect(amps.kind === "value" && amps.value).to.be.closeTo((0.3 * 12) / 24.3, 2e-3);
  });
  it("is seen whole by a scope, whose mean agrees with the meter", () => {
    const { low, high, mean } = measured(h, run, [], { at, seconds: 0.1 });
    expect(low).to.be.closeTo(0.126, 0.02);
    expect(high).to.be.closeTo(11.98, 0.03);
    expect(mean).to.be.closeTo(0.7 * 11.98 + 0.3 * 0.126, 0.05);
  });
  it("off shows the driver's bias on an open load, and tells shorts apart", () => {
    const off = { ...run, key: "accessory" as const };
    const volts = (faults: Fault[]): number => {
      const reading = predictReading(h, off, faults, { quantity: "volts", red: at.red, black: at.black });
      return reading.kind === "value" ? reading.value : NaN;
    };
    expect(volts([])).to.be.closeTo(12, 0.05);
    // 2.5 V behind 20 kΩ and the meter's 10 MΩ.
    expect(volts([{ kind: "open", link: "H1" }])).to.be.closeTo((2.5 * 10e6) / (10e6 + 20e3), 5e-3);
    expect(volts([{ kind: "short to ground", place: "ECM.6", ohms: 0.2 }])).to.be.closeTo(0, 0.15);
  });
});

describe("a relay's coil when it is switched off", () => {
  const h = (suppression: string): Harness =>
    circuitOf(`
BAT(12V 10mohm) -- W1 RD 2.5mm2 1m -- S1
S1 -- W2 WH 1mm2 1m -- R1.86(relay coilOhms=80 suppression=${suppression})
R1.85 -- W3 BU 1mm2 1m -- ECM.6
S1 -- W7 RD 1mm2 1m -- R1.30
R1.87 -- W8 RD 1mm2 1m -- H1(heater 1A) -- W9 BN 1mm2 1m -- G1
S1 -- W4 RD 1mm2 1m -- ECM.1(module pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"6":{"sort":"low","duty":0.5,"hertz":5,"clampVolts":300}} rules=[{"pin":"6","when":{"key":["run"]}}])
ECM.2 -- W5 BN 1.5mm2 0.5m -- G1
G2 -- W6 BK 25mm2 0.5m -- BAT
`);
  const at = { red: "ECM.6", black: "BAT.-" };
  const high = (suppression: string): number => measured(h(suppression), run, [], { at, seconds: 0.2, resolutionS: 1e-5 }).high;
  // 150 mA flow at 12 V in 80 Ω.
  it("kicks as high as the driver lets it without suppression", () => expect(high("none")).to.be.above(150));
  it("kicks by 150 mA times 680 Ω with the resistor", () => expect(high("resistor")).to.be.within(12 + 0.8 * 102, 12 + 1.05 * 102));
  it("stays a junction above the feed with the diode", () => expect(high("diode")).to.be.within(12.4, 13));
  it("lets go later with the diode than without", () => {
    const held = (suppression: string): number => {
      const trace = predictTrace(h(suppression), run, [], {
        at: { red: "H1.1", black: "BAT.-" },
        probe: 10,
        seconds: 0.2,
        resolutionS: 1e-5,
      });
      if (trace.kind !== "trace") throw new Error(trace.kind);
      return trace.values.filter((v) => v > 6).length * 1e-5;
    };
    // Current falls from 150 mA to the drop-out at 33 mA: with the diode in L/R·ln(4.5) = 7.5 ms, into the clamp at once.
    expect(held("diode") - held("none")).to.be.within(4e-3, 10e-3);
  });
});

describe("an alternator's ripple at the battery", () => {
  const h = rig("gritter-charging");
  const idling: VehicleState = { ...run, engine: "idling", on: ["SW1"] };
  const ripple = (faults: Fault[]): Measures =>
    measured(h, idling, faults, { at: { red: "BAT.+", black: "BAT.-" }, delayS: 0.1, seconds: 0.02 });
  it("is tens of millivolts when sound", () => {
    const { alternating, mean } = ripple([]);
    expect(alternating).to.be.within(0.005, 0.06);
    expect(mean).to.be.within(27, 29);
  });
  it("is above half a volt from peak to peak with a diode open", () => {
    const { peakToPeak } = ripple([{ kind: "settings", component: "ALT", settings: { openDiodes: 1 } }]);
    expect(peakToPeak).to.be.within(0.5, 2);
  });
  it("and the voltage itself goes with a diode shorted", () => {
    expect(ripple([{ kind: "settings", component: "ALT", settings: { shortedDiodes: 1 } }]).mean).to.be.below(26);
  });
});

describe("an alternator with a lamp wire", () => {
  const h = rig("gritter-charging");
  const volts = (state: VehicleState, faults: Fault[], red: string): number => {
    const reading = predictReading(h, state, faults, { quantity: "volts", red, black: "BAT.-" });
    return reading.kind === "value" ? reading.value : NaN;
  };
  const idling: VehicleState = { ...run, engine: "idling" };
  it("does not begin with the lamp wire open, and charges with it whole", () => {
    expect(volts(idling, [], "BAT.+")).to.be.within(27.5, 28.6);
    expect(volts(idling, [{ kind: "open", link: "W9" }], "BAT.+")).to.be.within(24.5, 25.3);
  });
  it("sets higher in the cold", () => {
    // −7 mV/K, doubled for 24 V: 40 K give 0.56 V.
    const cold = volts({ ...idling, temperatureC: -15 }, [], "ALT.B+") - volts({ ...idling, temperatureC: 25 }, [], "ALT.B+");
    expect(cold).to.be.closeTo(0.56, 0.08);
  });
});

describe("what a scope refuses", () => {
  const h = rig("brigg-starting");
  it("traces of no points, unknown places and links", () => {
    const scope = { at: { red: "BAT.+", black: "BAT.-" }, probe: 1, seconds: 1, resolutionS: 1e-3 } as const;
    expect(() => predictTrace(h, run, [], { ...scope, seconds: 1e-3 })).to.throw(RangeError, "2 to");
    expect(() => predictTrace(h, run, [], { ...scope, at: { red: "X9", black: "BAT.-" } })).to.throw(RangeError, "X9");
    expect(() => predictTrace(h, run, [], { ...scope, at: { around: "W99" } })).to.throw(RangeError, "W99");
  });
});

describe("accuracy", () => {
  it("is 0.5 % and two counts of the range on volts", () => {
    // 12.6 V on the 60 V range of 6000 counts: 63 mV + 2·10 mV; 0.3 V on the 600 mV range: 1.5 mV + 0.2 mV.
    expect(errorOf(meterVolts(12.6), 12.6)).to.be.closeTo(0.083, 1e-9);
    expect(errorOf(meterVolts(0.3), 0.3)).to.be.closeTo(0.0017, 1e-9);
  });
  it("hides milliohms behind the leads unless they are nulled", () => {
    expect(errorOf(meterOhms(0.1, false), 0.1)).to.be.above(0.3);
    expect(errorOf(meterOhms(1000, true), 1000)).to.be.closeTo(10 + 3 + 0.05, 1e-9);
  });
  it("of a clamp is its offset until it is zeroed; of a scope its range", () => {
    expect(errorOf(clampAmps(false), 1)).to.be.closeTo(0.52, 1e-9);
    expect(errorOf(clampAmps(true), 100)).to.be.closeTo(2.03, 1e-9);
    expect(errorOf(scopeVolts(20), 12)).to.be.closeTo(0.46, 1e-9);
  });
});

describe("clicks", () => {
  it("are heard of relay and solenoid when the key goes to crank, and of none when the range lock is open", () => {
    const h = rig("brigg-starting");
    const crank: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking", on: ["SW7"] };
    expect(clicks(h, REST_STATE, crank, [])).to.deep.equal(["STA", "R1"]);
    expect(clicks(h, REST_STATE, { ...crank, on: [] }, [])).to.deep.equal([]);
    expect(clicks(h, REST_STATE, crank, [{ kind: "open", link: "W8" }]), "only the relay").to.deep.equal(["R1"]);
  });
});

describe("a contact that is moved", () => {
  it("breaks and closes when it is said, with what hangs on it, and is as before in between", () => {
    const h = circuitOf(`
BAT(12V 10mohm) -- W1 RD 2.5mm2 1m -- C1.1 -- W2 RD 1mm2 1m -- LA(lamp 21W) -- W3 BN 1mm2 1m -- G1
G1 -- W6 BK 25mm2 0.5m -- BAT
`);
    const trace = (shaken: readonly { link: string; turnsS: readonly number[] }[]) => {
      const made = predictTraces(
        h,
        REST_STATE,
        [{ kind: "series", link: "C1.1", ohms: 1.5 }],
        [{ at: { red: "LA.1", black: "BAT.-" }, probe: 10 }],
        {
          seconds: 0.1,
          resolutionS: 1e-4,
          shaken,
        },
      );
      if (made.kind !== "traces") throw new Error(made.kind);
      return made.channels[0]!;
    };
    const [still, moved] = [trace([]), trace([{ link: "C1.1", turnsS: [0.02, 0.03, 0.07, 0.075] }])];
    const at = (t: number): number => moved[Math.round(t / 1e-4)]!;
    expect(at(0.01)).to.be.closeTo(still[100]!, 1e-3);
    for (const broken of [0.0205, 0.025, 0.0295, 0.0725]) expect(at(broken)).to.be.below(0.1);
    for (const whole of [0.031, 0.05, 0.069, 0.08, 0.099]) expect(at(whole)).to.be.closeTo(still[500]!, 0.02);
  });
});

describe("cranking current", () => {
  const h = circuitOf(`
BAT(12.6V 5mohm) -- W1 RD 50mm2 1.2m -- STA(starter engineLitres=3 cylinders=6).30
BAT -- SW1(switch crank) -- W2 YE 2.5mm2 1m -- STA.50
STA.31 -- W3 BK 50mm2 0.8m -- BAT.-
`);
  const crank: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking" };
  const clamp = (faults: readonly Fault[]) => {
    const made = predictTraces(
      h,
      crank,
      faults,
      [
        { at: { around: "W1" }, probe: 10 },
        { at: { red: "BAT.+", black: "BAT.-" }, probe: 10 },
      ],
      {
        seconds: 1,
        resolutionS: 1e-4,
        delayS: 0.1,
      },
    );
    if (made.kind !== "traces") throw new Error(made.kind);
    return made.channels.map((c) => Float32Array.from(c));
  };
  const swing = (c: Float32Array): number => Math.max(...c) - Math.min(...c);
  it("has a hump for each compression, which shows as a dip at the battery", () => {
    const [amps, volts] = clamp([]) as [Float32Array, Float32Array];
    const mean = amps.reduce((sum, v) => sum + v, 0) / amps.length;
    // Six cylinders at 200/min: three in each turn, ten a second.
    expect(amplitudeAt(amps, 1e4, 10)).to.be.within(0.15 * Math.abs(mean), 0.3 * Math.abs(mean));
    expect(swing(amps)).to.be.below(0.6 * Math.abs(mean));
    // 5 mΩ of the battery.
    expect(swing(volts) / swing(amps)).to.be.closeTo(0.005, 0.001);
    // What a meter shows is the mean.
    const meter = predictReading(h, crank, [], { quantity: "amps", around: "W1" });
    expect(meter.kind === "value" && meter.value / mean).to.be.closeTo(1, 0.02);
  });
  it("has none where the engine does not turn", () => {
    expect(swing(clamp([{ kind: "settings", component: "STA", settings: { locked: true } }])[0]!)).to.be.below(2);
    expect(swing(clamp([{ kind: "stuck", link: "STA.contact", closed: false }])[0]!)).to.be.below(2);
  });
});

describe("sensors on the engine's wheels", () => {
  const h = circuitOf(`
BAT(12.6V 5mohm) -- F1(10A) -- RD 1mm2 1m -- ECM.1
ECM(module pin 1 supply, pin 2 ground, pin R1 reference, pin R2 ground, pin W1 input pullOhms=4700, pin W2 input pull=none, pin W3 input pull=none)
ECM.2 -- BN 1mm2 1m -- BAT.-
CAM(hall teethPerTurn=0.5)
CKP(pickup teethPerTurn=36)
ECM.R1 -- GY 0.5mm2 1m -- CAM.P
ECM.R2 -- BN 0.5mm2 1m -- CAM.N
CAM.S -- WH 0.5mm2 1m -- ECM.W1
CKP.1 -- YE 0.5mm2 1m -- ECM.W2
CKP.2 -- GN 0.5mm2 1m -- ECM.W3
`);
  const turning = (engine: VehicleState["engine"]) => {
    const probes = [
      { at: { red: "ECM.W1", black: "BAT.-" }, probe: 10 },
      { at: { red: "ECM.W2", black: "ECM.W3" }, probe: 10 },
    ] as const;
    const made = predictTraces(h, { ...REST_STATE, key: "run", engine }, [], probes, { seconds: 2, resolutionS: 1e-4 });
    if (made.kind !== "traces") throw new Error(made.kind);
    return made.channels.map((c) => measureSamples(Float32Array.from(c), 1e4));
  };
  it("pulse with it: half a tooth a turn on the cam, 36 on the crank, higher and faster with its speed", () => {
    // 200/min: 3.33 turns a second.
    const [cam, crank] = turning("cranking");
    expect(cam!.frequencyHz).to.be.closeTo(200 / 60 / 2, 0.02);
    expect([cam!.low, cam!.high].map((v) => Math.round(v))).to.deep.equal([0, 5]);
    expect(crank!.frequencyHz).to.be.closeTo((36 * 200) / 60, 0.5);
    // 2.5 mV for each hertz.
    expect(crank!.max).to.be.closeTo(0.3, 0.01);
    expect(turning("idling")[1]!.max).to.be.closeTo(1.2, 0.05);
  });
  it("stand still with it", () => {
    const [cam, crank] = turning("stopped");
    expect(cam!.edges).to.equal(0);
    expect(crank!.peakToPeak).to.be.below(1e-3);
  });
});
