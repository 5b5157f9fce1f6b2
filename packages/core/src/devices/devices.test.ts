import { expect } from "chai";
import { amps, celsius, metres, squareMillimetres, volts } from "../quantity/index.ts";
import { batterySource } from "./battery.ts";
import { fuseOhms } from "./fuse.ts";
import { cavityOhms, groundOhms, switchOhms } from "./joint.ts";
import { filament, lampBrightness } from "./lamp.ts";
import { ratedOhms } from "./load.ts";
import { wireOhms } from "./wire.ts";

const metre = (area: number, temperature = 20): number => wireOhms(squareMillimetres(area), metres(1), celsius(temperature));

describe("wire", () => {
  // Largest resistance allowed for stranded cable at 20 °C, mΩ/m (ISO 6722-1). Plain copper of the nominal area stays below, by less than a third.
  const ALLOWED: readonly (readonly [number, number])[] = [
    [0.35, 54.4],
    [0.5, 37.1],
    [0.75, 24.7],
    [1, 18.5],
    [1.5, 12.7],
    [2.5, 7.6],
    [4, 4.71],
    [6, 3.14],
    [10, 1.82],
    [16, 1.16],
    [25, 0.743],
    [35, 0.527],
    [50, 0.368],
    [70, 0.259],
    [95, 0.196],
  ];
  for (const [area, most] of ALLOWED) {
    it(`of ${area} mm² is at most ${most} mΩ/m and not far below`, () => {
      const milliohms = metre(area) * 1000;
      expect(milliohms).to.be.below(most);
      expect(milliohms).to.be.above(0.85 * most);
    });
  }

  it("grows with length and warmth by hand-worked numbers", () => {
    // 1.724e-8 · 5 / 2.5e-6 = 34.48 mΩ; at 80 °C times 1 + 0.00393·60 = 1.2358.
    expect(wireOhms(squareMillimetres(2.5), metres(5), celsius(20))).to.be.closeTo(0.03448, 1e-9);
    expect(wireOhms(squareMillimetres(2.5), metres(5), celsius(80))).to.be.closeTo(0.03448 * 1.2358, 1e-9);
  });

  it("refuses what is not a wire, with the value", () => {
    expect(() => metre(0)).to.throw(RangeError, "0 mm²");
    expect(() => wireOhms(squareMillimetres(1), metres(-1), celsius(20))).to.throw(RangeError, "-1 m");
    expect(() => metre(1, 500)).to.throw(RangeError, "500");
    expect(() => celsius(Number.NaN)).to.throw(RangeError, "°C");
  });
});

describe("fuse", () => {
  it("has the tabled cold resistance and lies between its neighbours elsewhere", () => {
    expect(fuseOhms(amps(10))).to.be.closeTo(7.7e-3, 1e-9);
    expect(fuseOhms(amps(30))).to.be.closeTo(2.0e-3, 1e-9);
    expect(fuseOhms(amps(12))).to.be.within(4.8e-3, 7.7e-3);
    expect(fuseOhms(amps(60))).to.be.closeTo(1.0e-3, 1e-9);
    expect(fuseOhms(amps(1))).to.be.closeTo(107e-3, 1e-6);
    expect(() => fuseOhms(amps(0))).to.throw(RangeError);
  });
});

describe("joints", () => {
  it("are studs where heavy cables end and plugged contacts elsewhere, inside the usual ranges", () => {
    expect(cavityOhms(2.5)).to.be.within(1e-3, 5e-3);
    expect(cavityOhms(50)).to.be.within(0.05e-3, 0.5e-3);
    expect(groundOhms(50)).to.be.within(0.05e-3, 0.5e-3);
    expect(2 * groundOhms(2.5), "two sheet-metal grounds").to.be.within(0.5e-3, 5e-3);
    // A sound solenoid must not eat a tenth of the voltage at 200 A.
    expect(switchOhms(50) * 200).to.be.at.most(0.15);
  });
});

describe("load", () => {
  const lamp = { sort: "lamp", rating: { watts: 21 } } as const;
  const twelve = volts(12);

  it("takes its rating at nominal voltage, however it is given", () => {
    expect(ratedOhms(lamp, twelve)).to.be.closeTo(144 / 21, 1e-9);
    expect(ratedOhms({ ...lamp, rating: { amps: 6 } }, volts(24))).to.equal(4);
    expect(ratedOhms({ ...lamp, rating: { ohms: 75 } }, twelve)).to.equal(75);
  });

  it("as a filament draws I = In·(V/Vn)^0.55 hot and ten times the rated current cold", () => {
    const { at } = filament(lamp, twelve);
    for (const v of [6, 9, 12, 14]) expect(at(v).amps).to.be.closeTo((21 / 12) * (v / 12) ** 0.55, 1e-9);
    expect(at(0).siemens, "the cold filament").to.be.closeTo(1 / (144 / 21 / 10), 1e-9);
    expect(at(-12).amps).to.be.closeTo(-21 / 12, 1e-9);
    // Half the voltage leaves a tenth of the light: 0.5^3.4 = 0.0947.
    expect(lampBrightness(twelve, volts(6))).to.be.closeTo(0.0947, 1e-4);
  });
});

describe("battery", () => {
  const battery = { id: "BAT", kind: "battery", restVolts: 12.6, internalOhms: 0.006, chargeVolts: 14.2, crankAmps: 200 } as const;
  it("rests, dips while cranking unless the circuit draws the starter itself, and charges", () => {
    const around = { drawsStarter: false, drawsAlternator: false, nominalVolts: 12, temperatureC: 20 };
    expect(batterySource(battery, "stopped", around).emf).to.equal(12.6);
    expect(batterySource(battery, "cranking", around).emf).to.be.closeTo(12.6 - 1.2, 1e-9);
    expect(batterySource(battery, "cranking", { ...around, drawsStarter: true }).emf).to.equal(12.6);
    expect(batterySource(battery, "idling", around).emf).to.equal(14.2);
  });
});
