import { expect } from "chai";
import { withSeries } from "../circuit/index.ts";
import { curveOf, type Coupling, type Element } from "../solver/index.ts";
import { mostAmps } from "./alternator.ts";
import { crankingTorqueNm } from "./cranking-load.ts";
import { limitedSource } from "./curves.ts";
import type { Surroundings } from "./device.ts";
import { BLOWS_AT, fuseOpeningS } from "./fuse.ts";
import { coilEnergyJ, dwellS } from "./ignition-coil.ts";
import { chargeable, leadAcid, leastUnderLoad, restVolts } from "./lead-acid.ts";
import { ntcCelsius, ntcOhms } from "./ntc.ts";
import { pickupRmsVolts } from "./pickup.ts";
import { DEVICE_NAMES, deviceKind, readDevice } from "./registry.ts";
import { createStamp } from "./stamp.ts";

const AT: Surroundings = {
  key: "run",
  engine: "idling",
  temperatureC: 20,
  nominalVolts: 12,
  input: undefined,
  asleep: false,
  phase: 0,
  transient: false,
};

function settingsOf(kind: string, settings: object = {}): never {
  const read = readDevice(kind, settings);
  if (read.kind !== "known") throw new Error(JSON.stringify(read));
  return read.settings as never;
}

function stamped(kind: string, settings: object = {}, at: Partial<Surroundings> = {}): { elements: Element[]; nodes: string[] } {
  const nodes = ["0"];
  const elements: Element[] = [];
  const couplings: Coupling[] = [];
  const node = (name: string): number => (nodes.includes(name) ? nodes.indexOf(name) : nodes.push(name) - 1);
  const transient = at.transient ?? false;
  deviceKind(kind)!.stamp(settingsOf(kind, settings), { ...AT, ...at }, createStamp({ id: "X", node, elements, couplings, transient }));
  return { elements, nodes };
}

const MODULE = {
  pins: {
    A: { sort: "supply" },
    B: { sort: "ground" },
    C: { sort: "high" },
    D: { sort: "low", duty: 0.4 },
    E: { sort: "reference" },
    F: { sort: "can high" },
    G: { sort: "can low" },
    H: { sort: "lin" },
    I: { sort: "single wire" },
    J: { sort: "input" },
  },
  rules: [{ pin: "C", when: { all: [{ pin: "J", below: 2 }, { not: { key: ["off"] } }] } }],
};

describe("every kind of device", () => {
  for (const kind of DEVICE_NAMES) {
    const settings = kind === "module" ? MODULE : {};
    it(`${kind}: elements stand on its terminals, ways and modes name what is there, in every state and over time`, () => {
      const device = deviceKind(kind)!;
      const known = settingsOf(kind, settings);
      const terminals = new Set(device.terminals(known).map((t) => t.name));
      for (const engine of ["stopped", "at speed"] as const) {
        for (const transient of [false, true]) {
          const { elements, nodes } = stamped(kind, settings, { engine, transient, input: transient ? 300 : undefined });
          for (const node of nodes.slice(1)) expect(node.startsWith(".") || terminals.has(node), node).to.equal(true);
          expect(new Set(elements.map((e) => e.id)).size, "names are its own").to.equal(elements.length);
          for (const e of elements) {
            if (e.kind === "resistor") expect(e.ohms).to.be.above(0);
            if (e.kind === "source") expect(e.internalOhms).to.be.above(0);
          }
        }
      }
      const parts = new Set(
        (["stopped", "idling"] as const).flatMap((engine) => stamped(kind, settings, { engine }).elements.map((e) => e.id.slice(2))),
      );
      for (const way of device.ways(known)) expect(terminals.has(way.a) && terminals.has(way.b), way.part).to.equal(true);
      for (const mode of device.modes(known)) {
        expect(mode.words).to.match(/\w{3}/);
        expect(mode.severities.length).to.be.above(0);
        if ("part" in mode.harm) expect(parts.has(mode.harm.part), mode.id).to.equal(true);
        if (mode.harm.kind === "settings")
          for (const severity of mode.severities)
            expect(readDevice(kind, { ...(known as object), ...mode.harm.change(severity) }).kind, mode.id).to.equal("known");
      }
    });

    it(`${kind}: the slopes of its curves are those of finite differences, and never fall`, () => {
      const curves = stamped(kind, settings, { engine: "at speed" }).elements.filter((e) => e.kind === "curve");
      for (const e of curves) {
        for (const v of [-7.3, -0.31, -0.011, 0.013, 0.23, 2.51, 4.9985, 5.0013, 11.7, 13.9, 14.19, 14.31, 26.1]) {
          const h = 1e-6;
          const slope = (e.at(v + h).amps - e.at(v - h).amps) / (2 * h);
          const { siemens } = e.at(v);
          expect(siemens, `${e.id} at ${v} V`).to.be.closeTo(slope, 1e-3 * Math.abs(slope) + 1e-6);
          expect(siemens).to.be.at.least(0);
        }
      }
    });
  }
});

describe("bad settings", () => {
  it("are refused with their place", () => {
    expect(readDevice("fluxcapacitor", {})).to.deep.equal({ kind: "unknown device" });
    const bad = (kind: string, settings: object): string => {
      const read = readDevice(kind, settings);
      return read.kind === "bad settings" ? read.problems.map((p) => `${p.at}: ${p.message}`).join("; ") : read.kind;
    };
    expect(bad("relay", { coilOhms: -5 })).to.match(/^coilOhms: /);
    expect(bad("relay", { coilOhm: 85 })).to.match(/coilOhm/);
    expect(bad("module", { pins: { A: { sort: "supply" } } })).to.match(/no pin is a ground/);
    expect(bad("module", { ...MODULE, rules: [{ pin: "J", when: { key: ["run"] } }] })).to.match(/J is not an output/);
    expect(bad("module", { ...MODULE, rules: [{ pin: "C", when: { pin: "Z", above: 1 } }] })).to.match(/there is no pin Z/);
  });
});

describe("lead–acid battery", () => {
  it("has the tabled rest voltages, sags with cold, wear and discharge", () => {
    for (const [charge, v] of [
      [1, 12.65],
      [0.75, 12.45],
      [0.5, 12.24],
      [0.25, 12.06],
      [0, 11.89],
      [0.625, 12.345],
    ] as const)
      expect(restVolts(charge)).to.be.closeTo(v, 1e-9);
    const battery = { fullVolts: 12.65, internalOhms: 0.005, charge: 1, wear: 0, nominalVolts: 12 };
    // 38 K below 20 °C at 1 %/K: 1.38 times.
    expect(leadAcid(battery, -18).internalOhms).to.be.closeTo(0.0069, 1e-9);
    expect(leadAcid({ ...battery, wear: 1, charge: 0.5 }, 20).internalOhms).to.be.closeTo(0.005 * 4 * 1.5, 1e-9);
    expect(leadAcid({ ...battery, fullVolts: 25.3, nominalVolts: 24, charge: 0 }, 20).emf).to.be.closeTo(25.3 - 1.52, 1e-9);
  });
  it("has the tabled least voltages under load, held at the ends", () => {
    expect(leastUnderLoad(21)).to.equal(9.6);
    expect(leastUnderLoad(-1)).to.be.closeTo(9.1, 1e-9);
    expect(leastUnderLoad(13)).to.be.closeTo(9.45, 1e-9);
    expect(leastUnderLoad(-40)).to.equal(8.5);
    expect(leastUnderLoad(35)).to.equal(9.6);
  });
  it("takes a tenth of the current that it gives for the same voltage", () => {
    const { at } = chargeable(12.6, 0.01);
    expect(at(12.4).amps).to.be.closeTo(-20, 1e-9);
    expect(at(12.8).amps).to.be.closeTo(2, 1e-9);
  });
});

describe("alternator", () => {
  const settings = (change: object = {}): never => settingsOf("alternator", { ratedAmps: 100, ...change });
  it("gives nothing below its cut-in, its rating at 6000 rpm, and less with a diode gone", () => {
    expect(mostAmps(settings(), 900)).to.equal(0);
    expect(mostAmps(settings(), 6000)).to.be.closeTo(100, 1e-9);
    // (2240 − 1000)/(2240 − 1000 + 1100) over 5000/6100.
    expect(mostAmps(settings(), 2240)).to.be.closeTo((100 * (1240 / 2340)) / (5000 / 6100), 1e-9);
    expect(mostAmps(settings({ openDiodes: 1 }), 6000)).to.be.closeTo(72, 1e-9);
    expect(mostAmps(settings({ shortedDiodes: 1 }), 6000)).to.be.closeTo(40, 1e-9);
  });
  it("holds its voltage to the limit and lets it fall beyond, and takes nothing back", () => {
    const { at } = limitedSource(14.2, 0.004, 100);
    expect(-at(14.0).amps, "50 A over 4 mΩ").to.be.closeTo(50, 0.1);
    expect(-at(12).amps).to.be.closeTo(100, 0.1);
    expect(-at(0.5).amps).to.be.closeTo(100, 0.1);
    expect(at(15).amps).to.be.closeTo(0, 1e-6);
  });
});

describe("fuse", () => {
  it("opens in the middle of what the standard allows, on log–log between, and holds below 110 %", () => {
    expect(fuseOpeningS(10, 10.5)).to.equal(Infinity);
    // Geometric middles of 0.75–600 s, 0.25–50 s, 0.15–5 s, 0.04–0.5 s and 0.02–0.1 s.
    for (const [times, seconds] of [
      [1.35, Math.sqrt(0.75 * 600)],
      [1.6, Math.sqrt(0.25 * 50)],
      [2, Math.sqrt(0.15 * 5)],
      [3.5, Math.sqrt(0.04 * 0.5)],
      [6, Math.sqrt(0.02 * 0.1)],
    ] as const)
      expect(fuseOpeningS(15, 15 * times)).to.be.closeTo(seconds, 0.01 * seconds);
    expect(fuseOpeningS(10, 25)).to.be.within(fuseOpeningS(10, 35), fuseOpeningS(10, 20));
    expect(fuseOpeningS(10, 120), "twice the current, a quarter of the time").to.be.closeTo(fuseOpeningS(10, 60) / 4, 1e-9);
    expect(fuseOpeningS(10, 10 * BLOWS_AT)).to.be.below(60);
  });
});

describe("sensors, coil and engine", () => {
  it("NTC and its inverse agree, and its table is that of the equation", () => {
    for (const celsius of [-40, -10, 0, 25, 60, 120])
      expect(ntcCelsius(2500, 3500, ntcOhms(2500, 3500, celsius))).to.be.closeTo(celsius, 1e-9);
    // 2500·exp(3500·(1/273.15 − 1/298.15)) = 2500·exp(1.07445) = 7321 Ω.
    expect(ntcOhms(2500, 3500, 0)).to.be.closeTo(7321, 2);
  });
  it("an inductive sensor gives k·f/√2", () => expect(pickupRmsVolts(0.0025, 400)).to.be.closeTo(0.7071, 1e-4));
  it("a coil stores ½·L·I² and needs −(L/R)·ln(1 − I·R/V) to get there", () => {
    const coil = settingsOf("ignition", { primaryOhms: 0.5, primaryHenries: 4e-3 });
    expect(coilEnergyJ(coil, 8)).to.be.closeTo(0.128, 1e-12);
    // −8 ms · ln(1 − 8·0.5/12) = 8 ms · 0.405465 = 3.24372 ms.
    expect(dwellS(coil, 12, 8)).to.be.closeTo(3.24372e-3, 1e-7);
    expect(dwellS(coil, 3, 8), "never at 3 V").to.equal(Infinity);
  });
  it("an engine is heavier cold and as a diesel", () => {
    expect(crankingTorqueNm({ litres: 2, diesel: false }, 20)).to.equal(50);
    expect(crankingTorqueNm({ litres: 2, diesel: true }, -10)).to.be.closeTo(80 * 1.54, 1e-9);
  });
});

describe("a part with a bad joint inside, full voltage at its pins", () => {
  // Whatever it is, it does less the worse the joint; a motor that were judged by its pins would seem to run faster.
  const CASES: readonly (readonly [kind: string, part: string, settings: object, at: Partial<Surroundings>])[] = [
    ["dcmotor", "winding", {}, {}],
    ["glowplug", "element", {}, {}],
    ["ptc", "element", {}, {}],
    ["led", "chips", {}, {}],
    ["injector", "winding", {}, {}],
    ["starter", "motor", {}, { key: "crank", engine: "cranking" }],
  ];
  for (const [kind, part, settings, at] of CASES)
    it(`${kind}: does less and less`, () => {
      const { elements, nodes } = stamped(kind, settings, at);
      const sound = elements.find((e) => e.id === `X.${part}`)!;
      const workWith = (ohms: number): number => {
        const e = ohms === 0 ? sound : withSeries(sound, ohms)!;
        const amps = curveOf(e, true)!(kind === "led" ? 3 : 11).amps;
        const inside = { volts: (n: string) => (nodes.indexOf(n) === e.a ? 11 : 0), amps: () => amps, closed: () => true };
        const shown = deviceKind(kind)!.sights(settingsOf(kind, settings), { ...AT, ...at }, inside);
        return Math.max(
          ...shown.map((x) => (x.kind === "speed" ? x.rpm : "share" in x ? x.share : x.kind === "pulled in" && x.yes ? 1 : 0)),
        );
      };
      const works = [0, 0.004, 0.02, 0.1, 1, 10, 1000].map(workWith);
      expect(works[0]).to.be.above(0);
      for (const [i, w] of works.entries()) if (i > 0) expect(w, `${i}`).to.be.at.most(works[i - 1]! + 1e-9);
      expect(works.at(-1)).to.be.below(0.2 * works[0]!);
    });
});
