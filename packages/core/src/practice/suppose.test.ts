import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../circuit/index.ts";
import { circuitOf } from "../test/circuits.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { faultsAt, faultsNamed, pathWith, whatIfOf } from "./suppose.ts";

describe("what would be", () => {
  const heater = circuitOf(`
BAT(12V) -- W1 RD 6mm2 0.2m -- SW1(switch "heater switch") -- W2 RD 6mm2 0.2m -- HT1(heater 12W "seat heater") -- W3 BK 6mm2 0.2m -- G1
G2 -- W4 BK 25mm2 0.2m -- BAT
`);
  const on: VehicleState = { ...REST_STATE, on: ["SW1"] };

  it("on the path of a load is as by hand: 12 Ω more in front of 12 Ω halve the volts behind them", () => {
    const path = pathWith(heater, on, "HT1", [{ kind: "series", link: "W2", ohms: 12 }])!;
    const at = (place: string): number => path.explainedVolts![path.staircase.places.indexOf(place as never)]!;
    expect([at("SW1.2"), at("HT1.1"), at("HT1.2")].map((v) => Number(v.toFixed(1)))).to.deep.equal([12, 6, 0]);
    expect(path.staircase.soundVolts[path.staircase.places.indexOf("HT1.1" as never)]).to.be.closeTo(12, 0.1);
  });

  const brigg = vehicleOf("brigg");
  const run: VehicleState = { ...REST_STATE, key: "run" };
  const liveWith = (faults: readonly Fault[]) => whatIfOf(brigg, run, faults)!.live;
  const named = (at: string, effect: RegExp, severity = 0): readonly Fault[] => {
    const fault = faultsAt(brigg, at).find((f) => effect.test(f.id))!;
    return faultsNamed(brigg, [{ id: fault.id, severity: fault.severities[severity] ?? 0 }])!;
  };

  it("in live data is the sensor at the end of its scale with its wire open, and nothing where all is good", () => {
    expect(liveWith([])).to.deep.equal([]);
    const sensor = brigg.components.find((c) => c.kind === "device" && c.device === "ntc")!;
    const wire = brigg.wires.find((w) => w.from.component === sensor.id || w.to.component === sensor.id)!;
    const live = liveWith(named(wire.id, / open$/));
    const degrees = live.find((l) => l.unit === "°C")!;
    expect(degrees.good).to.be.within(15, 25);
    expect(degrees.now).to.equal(-50);
    expect(live.some((l) => l.unit === "V" && l.name.startsWith("volts at") && Math.abs(l.now! - 5) < 0.3)).to.equal(true);
  });

  it("is none of a module that does not respond", () => {
    const module = "ECM";
    const grounds = brigg.wires.filter((w) => [w.from, w.to].some((e) => e.component === module && /^[34]$/.test(e.pin)));
    const { silent, live } = whatIfOf(
      brigg,
      run,
      grounds.map((w) => ({ kind: "open", link: w.id })),
    )!;
    expect(silent).to.include(module);
    const own = live.filter((l) => l.module === module);
    expect(own.length).to.be.above(0);
    expect(own.every((l) => l.now === undefined)).to.equal(true);
  });
});
