import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import { predictAll } from "../instruments/index.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { circuitOf } from "../test/circuits.ts";
import { workOutsFor, type Facts, type Worked, type WorkOut, type WorkOutContext } from "./work-out.ts";

const harness = circuitOf(`BAT(battery 12V)
BAT.+ -- W1 RD 16mm2 1m -- F1(10A).1
F1.2 -- W2 YE 1mm2 3m -- L1(lamp 21W).1
L1.2 -- W3 BN 1mm2 2m -- BAT.-
ECT(ntc ohmsAt25=2200 betaK=3900).1 -- W4 GN 0.5mm2 2m -- L1.1
ECT.2 -- W5 BN 0.5mm2 1m -- BAT.-`);
const NOTHING: Facts = { across: () => undefined, amps: () => undefined };
const context = (facts: Partial<Facts> = {}): WorkOutContext => {
  const sound = predictAll(harness, REST_STATE, []);
  return { harness, facts: { ...NOTHING, ...facts }, sound: "volts" in sound ? sound : undefined, temperatureC: 20 };
};
const find = (selected: string, id: string, of = context()): WorkOut => {
  const found = workOutsFor(of, selected).find((w) => w.id === id);
  if (found === undefined)
    throw new Error(
      `${id} is not offered at ${selected}: ${workOutsFor(of, selected)
        .map((w) => w.id)
        .join(" ")}`,
    );
  return found;
};
/** Worked with what stands in its fields, and what is typed over it. */
const work = (w: WorkOut, typed: Readonly<Record<string, number>> = {}): Worked => {
  const done = w.work({ ...Object.fromEntries(w.known.map((k) => [k.id, k.value])), ...typed });
  if (done === undefined || typeof done === "string") throw new Error(String(done));
  return done;
};

describe("what can be worked out of the circuit", () => {
  it("begins from what was measured, else from the model, and says which", () => {
    const measured = context({
      across: (red, black) => ({ value: red === "L1.2" && black === "BAT.-" ? 0.9 : NaN, from: "read 10:12" }),
      amps: () => ({ value: 1.6, from: "clamp 10:13" }),
    });
    const drop = find("W3", "drop", measured);
    expect(drop.known.map((k) => [k.value, k.from])).to.deep.equal([
      [0.9, "read 10:12"],
      [1.6, "clamp 10:13"],
    ]);
    // 0.9 V / 1.6 A.
    expect(work(drop).lines[0]).to.match(/^563.mΩ$/);
    const bare = find("W3", "drop");
    expect(bare.known[0]).to.deep.include({ value: undefined, from: "not measured yet" });
    expect(bare.known[1]!.from).to.contain("by the model");
    expect(bare.work({ i: 1 })).to.equal(undefined);
    expect(bare.work({ u: 1, i: 0 })).to.contain("switch the load on");
  });

  it("takes a cable for a shunt, and gives the current back as a clamp's reading", () => {
    // 1 m of 16 mm² copper at 20 °C: 1.724e-8 / 16e-6 = 1.0775 mΩ; 200 mV on it are 185.6 A.
    const done = work(find("W1", "cable"), { u: 200 });
    expect(done.gives).to.deep.include({ leads: { quantity: "amps", around: "W1" } });
    expect(done.gives!.value).to.be.closeTo(200e-3 / 1.0775e-3, 1);
    // A blade fuse of 10 A has 7.7 mΩ: 12.3 mV are 1.6 A.
    const fuse = work(find("F1", "fuse"), { u: 12.3 });
    expect(fuse.gives!.value).to.be.closeTo(1.6, 0.01);
    expect(work(find("F1", "fuse"), { u: 100 }).lines[1]).to.contain("More than its 10 A");
  });

  it("knows a wire's ohms from a lamp in series, by the lamp's own curve", () => {
    // 21 W at 12 V: 1.75 A; at 6 V 1.75 · 0.5^0.55 = 1.195 A, so that 6 V of 12 V left are 5.02 Ω.
    const lamp = find("W2", "lamp");
    const done = work(lamp, { s: 12, l: 6 });
    expect(done.gives!.value).to.be.closeTo(6 / (1.75 * 0.5 ** 0.55), 0.05);
    expect(lamp.work({ w: 21, s: 12, l: 13 })).to.contain("more than the supply");
    expect(work(lamp, { s: 12, l: 0 }).lines[0]).to.contain("Open");
  });

  it("knows charge, temperature, a divider and a duty", () => {
    const brigg = { ...context(), harness: vehicleOf("brigg") };
    expect(work(find("ECM.T1", "duty", brigg), { m: 4.8 }).lines[0]).to.equal("40 % high, 60 % low");
    expect(find("ECM.T1", "duty", brigg).work({ m: 14, h: 12, l: 0 })).to.contain("outside of both levels");
    // The tables of physics: 12.45 V are 75 %, halfway to 12.65 V another eighth.
    expect(work(find("BAT.+", "battery"), { u: 12.45 }).lines[0]).to.equal("75 % charged");
    expect(work(find("BAT.+", "battery"), { u: 12.55 }).lines[0]).to.equal("88 % charged");
    expect(work(find("BAT.+", "battery"), { u: 13.2 }).lines[0]).to.contain("surface charge");
    expect(find("BAT.+", "battery").work({ u: 0.2, t: 20 })).to.contain("no battery at rest");
    expect(work(find("ECT.1", "ntc"), { r: 2200 }).lines[0]).to.equal("25.0 °C");
    // 2.2 kΩ below 2.2 kΩ: half the reference.
    expect(work(find("ECT.1", "divider"), { u: 2.5 }).lines).to.deep.equal(
      ["2.20 kΩ", "25.0 °C by its curve"].map((t) => t.replace("2.20 kΩ", "2.20\u2009kΩ")),
    );
    expect(work(find("ECT.1", "divider"), { u: 5 }).lines[0]).to.contain("Open");
    expect(work(find("ECT.1", "divider"), { u: 0.02 }).lines[0]).to.contain("Short to ground");
  });

  it("lays a new wire no thinner than the old one, and says what it drops", () => {
    const done = work(find("W2", "overlay"), { i: 1.75, m: 3.45 });
    expect(done.lines[0]).to.contain("1 mm²").and.to.contain("as it was");
    // 3.45 m of 1 mm² have 59.5 mΩ, two joints 2 mΩ: 107.6 mV at 1.75 A.
    expect(done.lines[1]).to.contain("0.108");
    expect(work(find("W2", "overlay"), { i: 30, m: 3 }).lines[0]).to.match(/^(4|6) mm²/);
    expect(find("W2", "overlay").work({ i: 1e5, m: 3 })).to.contain("More than any");
  });

  it("says nothing of what is not there", () => {
    expect(workOutsFor(context(), "X9.1")).to.deep.equal([]);
    expect(workOutsFor(context(), "L1.1")).to.deep.equal([]);
  });
});
