import { expect } from "chai";
import { type Fault, REST_STATE, type VehicleState } from "../circuit/index.ts";
import { isFreeInTime, ntcOhms } from "../devices/index.ts";
import {
  busTalk,
  getsMessages,
  observe,
  predictReading,
  predictShown,
  predictTrace,
  measure,
  silentModules,
  type Observation,
} from "../instruments/index.ts";
import type { Harness } from "../harness/index.ts";
import { circuitOf, rig } from "./circuits.ts";
import { provingCircuit } from "./proving/cases.ts";

/** Cases of the trade, worked by hand beside the model. */
const volts = (h: Harness, state: VehicleState, faults: Fault[], red: string, black = "BAT.-"): number => {
  const reading = predictReading(h, state, faults, { quantity: "volts", red, black });
  if (reading.kind !== "value") throw new Error(JSON.stringify(reading));
  return reading.value;
};
const ohms = (h: Harness, state: VehicleState, faults: Fault[], red: string, black: string): number => {
  const reading = predictReading(h, state, faults, { quantity: "ohms", red, black });
  if (reading.kind !== "value") throw new Error(JSON.stringify(reading));
  return reading.value;
};
const seen = (h: Harness, state: VehicleState, faults: Fault[], component: string, kind: string): Observation["sight"] => {
  const all = observe(h, state, faults);
  if (!Array.isArray(all)) throw new Error(JSON.stringify(all));
  const found = all.find((o) => o.component === component && o.sight.kind === kind);
  if (found === undefined) throw new Error(`${component} shows no ${kind}: ${JSON.stringify(all)}`);
  return found.sight;
};
const series = (link: string, o: number): Fault => ({ kind: "series", link, ohms: o });

describe("lost engine ground strap while cranking", () => {
  const h = circuitOf(`
BAT(12.6V 6mohm) -- W1 RD 50mm2 1m -- SOL(switch crank) -- W2 RD 50mm2 0.1m -- STM(motor 190A) -- W3 BK 50mm2 0.1m -- G3(on engine)
G2(on engine) -- W9 BK 25mm2 0.3m -- G4(on body)
G5(on engine) -- W10 BK 0.5mm2 1m -- G6(on body)
G1(on body) -- W11 BK 35mm2 0.4m -- BAT
`);
  const cranking: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking" };
  // Sound way around in mΩ: battery 6, W1 0.3448, SOL 0.5, W2 0.03448, motor 63.158, W3 0.03448, G3 0.3, strap G2 0.3 + W9 0.20688 + G4 0.3 = 0.80688
  // beside the thin wire (0.8 + 34.48 + 0.8), G1 0.3, W11 0.19703. With the strap lost only the thin wire is left: 36.08 mΩ.
  const around = 6 + 0.3448 + 0.5 + 0.03448 + 63.1579 + 0.03448 + 0.3;
  const home = 0.3 + 0.197029;
  it("shows by engine against battery negative, not by body, and full from engine to body", () => {
    const amps = 12.6e3 / (around + 36.08 + home);
    const lost: Fault[] = [{ kind: "open", link: "W9" }];
    expect(volts(h, cranking, lost, "engine")).to.be.closeTo((amps * (36.08 + home)) / 1e3, 2e-3);
    expect(volts(h, cranking, lost, "body"), "the body knows nothing of it").to.be.closeTo((amps * home) / 1e3, 2e-4);
    expect(volts(h, cranking, lost, "engine", "body")).to.be.closeTo((amps * 36.08) / 1e3, 2e-3);
    expect(volts(h, cranking, [], "engine"), "sound it is far below the rule of 0.3 V").to.be.below(0.25);
  });
});

describe("series-lamp test of a wire", () => {
  // W5 is unplugged at both ends: a 21 W lamp from battery positive to its near end, its far end put to ground.
  const h = circuitOf(`
BAT(12.6V 10mohm) -- W1 RD 6mm2 1m -- F1(20A) -- W2 RD 2.5mm2 1m -- C1.1 -- W5 GN 1.5mm2 3m -- C2.1 -- W6 GN 1.5mm2 1m -- H1(heater 5A) -- W7 BK 1.5mm2 0.5m -- G1
G2 -- W8 BK 25mm2 0.5m -- BAT
`);
  const state: VehicleState = { ...REST_STATE, opened: ["C1", "C2"], lamps: [["BAT.+", "C1.1b", 21]], bridged: [["C2.1a", "G1"]] };
  /** Volts left behind the lamp at a resistance to ground, by bisection on R = 6.857·(V/12)^0.45. */
  function behindLamp(resistance: number): number {
    let [low, high] = [0, 12.6];
    for (let i = 0; i < 100; i++) {
      const v = (low + high) / 2;
      const lamp = 12.6 - v;
      if (lamp / (6.857143 * Math.max(0.1, (lamp / 12) ** 0.45)) > v / resistance) low = v;
      else high = v;
    }
    return low;
  }
  it("sound: the lamp takes nearly all; a meter at the near end sees millivolts", () => {
    // Wire 34.5 mΩ, jumper 20 mΩ and its 20 A fuse 3.4, ground a millivolt's worth.
    expect(volts(h, state, [], "C1.1b")).to.be.closeTo(behindLamp(0.0345 + 0.0234 + 0.0016), 5e-3);
  });
  it("open: the near end stands at the battery's voltage, the far end at nothing; a scope agrees", () => {
    const open: Fault[] = [{ kind: "open", link: "W5" }];
    expect(volts(h, state, open, "C1.1b")).to.be.closeTo(12.6, 1e-3);
    expect(volts(h, state, open, "C2.1a")).to.be.closeTo(0, 1e-3);
    const trace = predictTrace(h, state, open, { at: { red: "C1.1b", black: "BAT.-" }, probe: 10, seconds: 1e-3, resolutionS: 1e-5 });
    if (trace.kind !== "trace") throw new Error(trace.kind);
    expect(measure(trace).mean).to.be.closeTo(12.6, 1e-2);
  });
  it("shorted: it lights with the far end free", () => {
    const free = { ...state, bridged: [] };
    const short: Fault[] = [{ kind: "short to ground", place: "C1.1b", ohms: 0.05 }];
    expect(volts(h, free, short, "C1.1b")).to.be.closeTo(behindLamp(0.05), 2e-3);
    expect(volts(h, free, [], "C1.1b"), "and not without the short").to.be.closeTo(12.6, 1e-3);
  });
  it("corroded: 4 Ω take a share that a lamp shows and a meter's microamps do not", () => {
    expect(volts(h, state, [series("W5", 4)], "C1.1b")).to.be.closeTo(behindLamp(4.056), 5e-3);
    const unloaded = { ...REST_STATE, opened: ["C2"] };
    expect(volts(h, unloaded, [series("W5", 4)], "C2.1a"), "unloaded it reads full").to.be.closeTo(12.6, 1e-3);
  });
});

describe("two loads on one bad ground", () => {
  const h = circuitOf(`
BAT(12V 10mohm) -- W1 RD 10mm2 0.5m -- S1
S1 -- W2 RD 4mm2 1m -- H1(heater 10A) -- W3 BK 4mm2 0.5m -- S2
S1 -- W4 RD 4mm2 1m -- SW1 -- W5 RD 4mm2 1m -- H2(heater 5A) -- W6 BK 4mm2 0.5m -- S2
S2 -- W7 BK 4mm2 0.5m -- G1
G2 -- W8 BK 25mm2 0.5m -- BAT
`);
  it("lifts the ground of the load that is off, and falls back when the other is switched off", () => {
    // H1 1.2 Ω + 0.5 Ω bad ground + small: 12/(1.7 + 0.0198) = 6.978 A; the shared splice stands at 0.5·6.978 V and some.
    const bad = [series("G1", 0.5)];
    const small = 0.01 + 0.000862 + 0.00431 + 0.002155 + 0.002155 + 0.0008 + 0.0003 + 0.000345;
    const amps = 12 / (1.2 + 0.5 + small);
    const lifted = amps * (0.5 + 0.002155 + 0.0008 + 0.0003 + 0.000345);
    expect(volts(h, REST_STATE, bad, "S2")).to.be.closeTo(lifted, 2e-3);
    expect(volts(h, REST_STATE, bad, "H2.1"), "backwards through the load that is off").to.be.closeTo(lifted, 2e-3);
    // Both on: 1.2 ∥ 2.4 = 0.8 Ω.
    expect(volts(h, { ...REST_STATE, on: ["SW1"] }, bad, "S2")).to.be.closeTo((12 * 0.5) / 1.32, 0.06);
  });
});

describe("5 V reference with one shorted user", () => {
  const h = rig("plover-references");
  const run: VehicleState = { ...REST_STATE, key: "run", inputs: { PED: 0.5 } };
  it("falls to its limit times the short, and takes the other users with it; unplugging the user brings it back", () => {
    // Sound: pedal at half travel: 0.1 + 0.5·0.8 = half of 5 V.
    expect(volts(h, run, [], "ECM.B3", "ECM.B2")).to.be.closeTo(2.5, 0.02);
    const short: Fault[] = [{ kind: "across", from: "PRS.P", to: "PRS.N", ohms: 2 }];
    // 80 mA limit, of which the other users take 0.3 mA, through 2 Ω and 2·24 mΩ of wire from splice to splice: 0.0797·2.048 = 0.163 V.
    expect(volts(h, run, short, "PED.P", "PED.N")).to.be.closeTo(0.163, 0.001);
    expect(volts(h, run, short, "ECM.B3", "ECM.B2")).to.be.below(0.1);
    expect(volts(h, { ...run, opened: ["PRS"] }, [], "ECM.B3", "ECM.B2")).to.be.closeTo(2.5, 0.02);
  });
});

describe("NTC behind a pull-up of 2.2 kΩ", () => {
  const h = rig("plover-references");
  const at = (celsius: number | undefined, faults: Fault[]): number =>
    volts(h, { ...REST_STATE, key: "run", inputs: celsius === undefined ? {} : { ECT: celsius } }, faults, "ECM.B6", "ECM.B2");
  // R = 2200·exp(3900·(1/T − 1/298.15)): −20 °C 22.5 kΩ, 25 °C 2.2 kΩ, 90 °C 212 Ω. The module's 1 MΩ takes a thousandth.
  for (const celsius of [-20, 25, 90]) {
    it(`divides by its resistance at ${celsius} °C`, () => {
      const r = 2200 * Math.exp(3900 * (1 / (celsius + 273.15) - 1 / 298.15));
      expect(ntcOhms(2200, 3900, celsius)).to.be.closeTo(r, 1e-6 * r);
      const beside = (r * 1e6) / (r + 1e6);
      expect(at(celsius, [])).to.be.closeTo((5 * beside) / (beside + 2201), 2e-3);
    });
  }
  it("reads coldest when open and hottest when shorted", () => {
    expect(at(25, [{ kind: "open", link: "W22" }])).to.be.closeTo((5 * 1e6) / (1e6 + 2201), 2e-3);
    expect(at(25, [{ kind: "across", from: "ECT.1", to: "ECT.2", ohms: 0.05 }])).to.be.below(0.002);
  });
});

describe("starting circuit", () => {
  const h = rig("brigg-starting");
  const crank: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking", on: ["SW7"] };

  it("relay: 100 Ω in its control wire leave it out, 20 Ω let it in", () => {
    // Coil 85 Ω beside its 680 Ω resistor: 75.56 Ω. 12.5·75.56/175.6 = 5.38 V, below 0.6·12 = 7.2 V; with 20 Ω 9.9 V.
    expect(seen(h, crank, [series("W13", 100)], "R1", "pulled in")).to.deep.equal({ kind: "pulled in", yes: false });
    expect(volts(h, crank, [series("W13", 100)], "R1.86", "R1.85")).to.be.closeTo((12.5 * 75.556) / 175.7, 0.03);
    expect(seen(h, crank, [series("W13", 20)], "R1", "pulled in")).to.deep.equal({ kind: "pulled in", yes: true });
  });

  it("cranks at its speed when sound, slower through a bad cable, and stands with a bright lamp's worth of drop", () => {
    const rpm = (faults: Fault[]): number => {
      const sight = seen(h, crank, faults, "STA", "speed");
      return sight.kind === "speed" ? sight.rpm : NaN;
    };
    expect(rpm([])).to.be.within(150, 250);
    expect(rpm([series("W1", 0.008)])).to.be.within(30, rpm([]) - 30);
    const held = seen(h, crank, [series("W1", 0.1)], "STA", "speed");
    expect(held).to.deep.equal({ kind: "speed", rpm: 0, stalled: true });
    // At the stud 45 two ways meet (Millman): 12.5 V through 0.1078 Ω of battery, cables and the bad joint, some 11.7 V through 0.383 Ω of relay way and
    // pull-in winding, and 12.2 mΩ of motor home: (116.0 + 30.5)/(9.28 + 2.61 + 81.97) = 1.56 V, and 0.05 V in the contact.
    expect(volts(h, crank, [series("W1", 0.1)], "STA.30", "STA.31")).to.be.closeTo(1.6, 0.06);
  });

  it("clicks with a flat, worn battery: the contact's dip lets go the solenoid that made it", () => {
    const weak: Fault[] = [{ kind: "settings", component: "BAT", settings: { charge: 0.1, wear: 1 } }];
    expect(seen(h, crank, weak, "STA", "chatters")).to.deep.equal({ kind: "chatters" });
    const reading = predictReading(h, crank, weak, { quantity: "volts", red: "BAT.+", black: "BAT.-" });
    if (reading.kind !== "unsolved" || reading.between === undefined) throw new Error(JSON.stringify(reading));
    expect(reading.between[0]).to.be.below(4);
    expect(reading.between[1]).to.be.above(9);
  });
});

describe("a module that commands the starter and is reset by its dip", () => {
  const h = circuitOf(`
BAT(12.4V 6mohm)
STA(starter engineLitres=2)
R1(relay)
BCM(module resetVolts=6.5 wakeVolts=7 pins={"1":{"sort":"supply"},"2":{"sort":"ground"},"5":{"sort":"low"}} rules=[{"pin":"5","when":{"key":["crank"]}}])
BAT -- W1 RD 50mm2 1m -- STA.30
STA.31 -- G3(on engine)
G2(on engine) -- W2 BK 50mm2 0.5m -- BAT
G1 -- W3 BK 25mm2 0.3m -- BAT
BAT -- W4 RD 6mm2 0.5m -- S1
S1 -- W5 RD 1.5mm2 1m -- F1(10A) -- W6 RD 1.5mm2 1m -- BCM.1
BCM.2 -- W7 BK 1.5mm2 0.5m -- G4
S1 -- W8 RD 4mm2 1m -- F2(40A) -- W9 RD 4mm2 0.5m -- S2
S2 -- W10 RD 4mm2 0.2m -- R1.30
S2 -- W11 RD 0.75mm2 0.3m -- R1.86
R1.85 -- W12 BN 0.75mm2 0.8m -- BCM.5
R1.87 -- W13 BK 4mm2 1.5m -- STA.50
`);
  const crank: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking" };
  it("cranks when sound, and goes round request, relay, solenoid, dip, reset when the battery is weak", () => {
    expect(seen(h, crank, [], "STA", "pulled in")).to.deep.equal({ kind: "pulled in", yes: true });
    expect(seen(h, crank, [], "BCM", "awake")).to.deep.equal({ kind: "awake", yes: true });
    // At 20 mΩ the battery falls to 12.4 − 200·0.02 = 8.4 V: still awake. At 40 mΩ it falls below the reset at 6.5 V.
    const worn = (wear: number): Fault[] => [{ kind: "settings", component: "BAT", settings: { wear, internalOhms: 0.0125 } }];
    expect(seen(h, crank, worn(0.2), "BCM", "awake")).to.deep.equal({ kind: "awake", yes: true });
    for (const part of ["BCM", "R1", "STA"]) expect(seen(h, crank, worn(1), part, "chatters")).to.deep.equal({ kind: "chatters" });
  });
});

describe("ignition coil held on", () => {
  const h = rig("brigg-coil-and-fan");
  it("takes what its resistance lets and heats with all of it", () => {
    // 12.4 V at the coil's feed over 0.55 Ω primary, 0.4 Ω… of the driver's 0.25 Ω and 0.06 Ω of wires: some 14 A, 110 W in the primary.
    const held: Fault[] = [{ kind: "stuck", link: "ECM.7 driver", closed: true }];
    const run: VehicleState = { ...REST_STATE, key: "run" };
    const amps = predictReading(h, run, held, { quantity: "amps", around: "IC1.primary" });
    if (amps.kind !== "value") throw new Error(amps.kind);
    const wires = 0.008 + 0.00103 + 0.0034 + 0.0048 + 0.0028 + 0.003 + 0.0138 + 0.0057 + 0.0218 + 0.003 + 0.0046 + 0.0008 + 0.0003 + 0.0002;
    expect(amps.value).to.be.closeTo(12.6 / (0.55 + 0.25 + wires), 0.15);
    const released = predictReading(h, run, [], { quantity: "amps", around: "IC1.primary" });
    expect(released.kind === "value" && Math.abs(released.value)).to.be.below(1e-3);
  });
});

describe("parallel grounds", () => {
  const h = circuitOf(`
BAT(12V 10mohm) -- W1 RD 6mm2 1m -- H1(heater 20A) -- W2 BK 6mm2 0.3m -- S1
S1 -- W3 BK 2.5mm2 1m -- G1
S1 -- W4 BK 2.5mm2 1m -- G2
G3 -- W5 BK 25mm2 0.5m -- BAT
`);
  it("hide the loss of one: the drop doubles and is still small", () => {
    // Each way 6.896 + 0.8 mΩ; two beside each other 3.848, one 7.696; then 0.3 + 0.345 mΩ home. About 19.5 A.
    const drop = (faults: Fault[]): number => volts(h, REST_STATE, faults, "S1");
    const over = (ground: number): number => (12 * ground) / (0.6 + 0.01 + 0.002873 + 0.000862 + ground);
    expect(drop([])).to.be.closeTo(over(0.003848 + 0.000645), 1e-4);
    expect(drop([{ kind: "open", link: "G2" }])).to.be.closeTo(over(0.007696 + 0.000645), 1e-4);
    expect(drop([{ kind: "open", link: "G2" }]), "within the usual rule for a ground side").to.be.below(0.2);
  });
});

describe("LIN with a corroded cavity", () => {
  const h = rig("ouse-lin-flaps");
  const run: VehicleState = { ...REST_STATE, key: "run" };
  const heard = (o: number, from: string, to: string): boolean | undefined =>
    busTalk(h, run, o === 0 ? [] : [series("C5.2", o)]).find((t) => t.from === from && t.to === to)?.heard;
  it("keeps a slave from pulling the master's side low enough", () => {
    // Flap low behind 40 Ω + R against 1 kΩ and a diode of 0.6 V from 12.6 V. R = 400: 12·440/1440 = 3.7 V, 29 %. R = 1500: 12·1540/2540 = 7.3 V, 58 %.
    expect(heard(0, "FL1", "CLM")).to.equal(true);
    expect(heard(400, "FL1", "CLM")).to.equal(true);
    expect(heard(1500, "FL1", "CLM"), "between the thresholds nobody hears").to.equal(false);
    expect(heard(1500, "FL1", "FL2"), "flaps on the same side hear each other").to.equal(true);
    expect(
      volts(h, run, [{ kind: "settings", component: "FL1", settings: { pins: flapHolding } }, series("C5.2", 400)], "CLM.3", "CLM.2"),
    ).to.be.closeTo((12 * 440) / 1440, 0.15);
  });
  const flapHolding = { "1": { sort: "supply" }, "2": { sort: "ground" }, "3": { sort: "lin", holds: true } };
  it("a flap without ground, and all when the line is shorted, are silent", () => {
    expect(silentModules(h, run, [])).to.deep.equal([]);
    expect(silentModules(h, run, [{ kind: "open", link: "W16" }])).to.deep.equal(["FL2"]);
    expect(silentModules(h, run, [{ kind: "short to ground", place: "S2", ohms: 0.5 }])).to.deep.equal(["CLM", "FL1", "FL2", "FL3"]);
  });
});

describe("who talks with whom", () => {
  const lin = provingCircuit("lin-seats");
  const can = provingCircuit("can-yard");
  const run: VehicleState = { ...REST_STATE, key: "run" };
  const gets = (h: Harness, faults: readonly Fault[], to: string, from: string): boolean =>
    getsMessages(h, busTalk(h, run, faults), to, from);
  it("a slave behind 10 kΩ hears the master and is not heard: it does not answer, the others do", () => {
    // Its driver against the master's 1 kΩ: 12·10040/11040 is 91 % at the master; at its own pin it is low.
    const bad = series("W11", 10_000);
    expect(silentModules(lin, run, [bad])).to.deep.equal(["SL"]);
    expect([gets(lin, [bad], "SEM", "SL"), gets(lin, [bad], "SEM", "SR")]).to.deep.equal([false, true]);
  });
  it("a line without the master's pull-up rests high and rises too late", () => {
    // Three slaves of 30 kΩ: 10 kΩ on 4 × 220 pF + 4.3 m × 130 pF = 1.44 nF; 60 % are there after 0.92·14.4 µs, later than 0.208 of 52 µs. With it 0.97 kΩ: 1.3 µs.
    expect(silentModules(lin, run, [{ kind: "open", link: "SEM.3 pull-up" }])).to.deep.equal(["SEM", "SL", "SR", "SB"]);
    expect(volts(lin, run, [{ kind: "open", link: "SEM.3 pull-up" }], "SEM.3")).to.be.above(0.6 * 12.6);
    // 40 Ω from 12 V hold it at 12·40/10040 less the diode: 10 kΩ. Ten slaves pull with 3 kΩ: 0.92·3 kΩ·3.1 nF are early enough.
    const rises = (held: number, nodes: number, metres: number): boolean => isFreeInTime("lin", [12], [held], { nodes, metres });
    expect([rises(0.0454, 4, 4.3), rises(0.15, 11, 5), rises(0.47, 4, 4.3)]).to.deep.equal([false, true, true]);
  });
  it("a CAN pair falls back in time with one terminator, and not without any", () => {
    // 120 Ω on 4 × 100 pF + 20 m × 50 pF: 5·120/210 = 2.86 V fall to 0.5 V in 1.74·168 ns; 10 kΩ of the nodes alone take 32 µs of a bit of 2.
    const falls = (apart: number): boolean => isFreeInTime("can", [2.5, 2.5], [2.5 + apart / 2, 2.5 - apart / 2], { nodes: 4, metres: 20 });
    expect([falls(2), falls(2.86), falls((5 * 10_000) / 10_090)]).to.deep.equal([true, true, false]);
  });
  it("slaves on one side of a break are without the master's pull-up, and none of them answers", () => {
    expect(busTalk(lin, run, [{ kind: "open", link: "W10" }]).find((t) => t.from === "SL" && t.to === "SR")?.heard).to.equal(false);
    expect(silentModules(lin, run, [{ kind: "open", link: "W10" }])).to.deep.equal(["SEM", "SL", "SR", "SB"]);
  });
  it("a module whose ground stands high is out of what a CAN receiver must bear", () => {
    // 8 V up, the pair of the others stands near −5.5 V to it.
    const lifted: Fault = series("C2.4", 200);
    expect(gets(can, [lifted], "VCM", "AXL") && gets(can, [lifted], "AXL", "VCM")).to.equal(false);
    expect(gets(can, [], "VCM", "AXL")).to.equal(true);
  });
  it("one line of a pair open between two halves parts them, each half for itself", () => {
    const half: Fault = { kind: "open", link: "C1.3" };
    expect([gets(can, [half], "VCM", "DSP"), gets(can, [half], "VCM", "AXL"), gets(can, [half], "HYD", "AXL")]).to.deep.equal([
      true,
      false,
      true,
    ]);
  });
  it("CAN low on ground leaves the pair working, as the difference is still there; CAN high on ground does not", () => {
    expect(silentModules(can, run, [{ kind: "short to ground", place: "S4", ohms: 0.5 }])).to.deep.equal([]);
    expect(silentModules(can, run, [{ kind: "short to ground", place: "S3", ohms: 0.5 }])).to.have.length(5);
  });
});

describe("a fuse with a bad holder in a circuit that pulses", () => {
  it("drops volts in every phase, and is not blown in any", () => {
    const h = provingCircuit("pump-command");
    // Engine module 0.6 A and its lamp through 2 Ω: 1.3 V and what the lamp takes.
    const sound = volts(h, { ...REST_STATE, key: "run" }, [], "F2.2");
    expect(sound - volts(h, { ...REST_STATE, key: "run" }, [series("F2", 2)], "F2.2")).to.be.within(1, 1.6);
  });
});

describe("CAN pair", () => {
  const h = rig("plover-can");
  const dead: VehicleState = { ...REST_STATE, opened: ["F20"], asleep: ["ECM", "BCM", "ABM", "CLU"] };
  it("reads 60 Ω asleep, 120 with one terminator lost", () => {
    // 120 ∥ 120 beside four modules' 1 MΩ leaks; wires of a few hundredths.
    expect(ohms(h, dead, [], "ECM.H", "ECM.L")).to.be.closeTo(60, 0.3);
    expect(ohms(h, dead, [{ kind: "open", link: "RT2.resistance" }], "ECM.H", "ECM.L")).to.be.closeTo(120, 0.6);
    expect(ohms(h, dead, [{ kind: "across", from: "CLU.H", to: "CLU.L", ohms: 0.1 }], "ECM.H", "ECM.L")).to.be.below(0.7);
  });
  it("stands at 2.5 V recessive and near 3.5 and 1.5 V dominant", () => {
    const run = { ...REST_STATE, key: "run" as const };
    expect(volts(h, run, [], "BCM.H", "BCM.2")).to.be.closeTo(2.5, 0.1);
    const pins = (sort: string): object => ({ sort, holds: true });
    const holding: Fault = {
      kind: "settings",
      component: "ECM",
      settings: { pins: { "1": { sort: "supply" }, "2": { sort: "ground" }, H: pins("can high"), L: pins("can low") } },
    };
    // 5 V over 46 + 60 + 45 Ω: 33 mA; 5 − 1.52 and 1.49 V.
    expect(volts(h, run, [holding], "ECM.H", "ECM.2")).to.be.closeTo(5 - (46 * 5) / 151, 0.05);
    expect(volts(h, run, [holding], "ECM.L", "ECM.2")).to.be.closeTo((45 * 5) / 151, 0.05);
  });
  it("without a terminator still talks here; with one line open between, the sides no longer hear each other", () => {
    const run = { ...REST_STATE, key: "run" as const };
    expect(silentModules(h, run, [{ kind: "open", link: "RT2.resistance" }])).to.deep.equal([]);
    const talk = busTalk(h, run, [
      { kind: "open", link: "W17" },
      { kind: "open", link: "W19" },
    ]);
    expect(talk.find((t) => t.from === "ECM" && t.to === "BCM")?.heard).to.equal(false);
    expect(talk.find((t) => t.from === "ECM" && t.to === "ABM")?.heard).to.equal(true);
  });
});

describe("testers", () => {
  const h = rig("brigg-starting");
  const off = REST_STATE;
  it("an LED tester lights behind a fault that darkens a lamp", () => {
    const bad = [series("W5", 100)];
    expect(predictShown(h, off, bad, { instrument: "led tester", red: "R1.30", black: "BAT.-" })).to.include({ kind: "led", lit: "feed" });
    const lamp = predictShown(h, off, bad, { instrument: "lamp", watts: 21, red: "R1.30", black: "BAT.-" });
    expect(lamp.kind === "light" && lamp.look).to.equal("dark");
    const sound = predictShown(h, off, [], { instrument: "lamp", watts: 5, red: "R1.30", black: "BAT.-" });
    // 5 W at 12 V, I = 0.4167·(12.5/12)^0.55.
    expect(sound.kind === "light" && sound.amps).to.be.closeTo(0.41667 * (12.49 / 12) ** 0.55, 2e-3);
  });
  it("a powered probe drives a coil and trips into a ground", () => {
    const coil = predictShown(h, off, [], { instrument: "powered probe", gives: "feed", tip: "R1.86" });
    expect(coil).to.include({ kind: "probe", tripped: false });
    expect(predictShown(h, off, [], { instrument: "powered probe", gives: "feed", tip: "G5" })).to.include({
      kind: "probe",
      tripped: true,
    });
  });
  it("a beeper is void on a live circuit and beeps on a whole wire of a dead one", () => {
    expect(predictShown(h, off, [], { instrument: "continuity", red: "BAT.+", black: "G5" })).to.deep.equal({ kind: "void", why: "live" });
    const dead = { ...off, opened: ["BAT"] };
    expect(predictShown(h, dead, [], { instrument: "continuity", red: "R1.87", black: "STA.50" })).to.include({
      kind: "beep",
      beeps: true,
    });
    expect(predictShown(h, dead, [{ kind: "open", link: "W8" }], { instrument: "continuity", red: "R1.87", black: "STA.50" })).to.include({
      beeps: false,
    });
  });
  it("nothing may touch an igniter", () => {
    const bag = circuitOf("BAT -- W1 RD 1mm2 1m -- SQ(squib) -- W2 BK 1mm2 1m -- G1\nG2 -- W3 BK 25mm2 0.5m -- BAT");
    const touched = { kind: "void", why: "untouchable" };
    expect(predictReading(bag, off, [], { quantity: "volts", red: "SQ.1", black: "BAT.-" })).to.deep.equal(touched);
    expect(predictShown(bag, off, [], { instrument: "lamp", watts: 5, red: "BAT.+", black: "SQ.2" })).to.deep.equal(touched);
  });
});
