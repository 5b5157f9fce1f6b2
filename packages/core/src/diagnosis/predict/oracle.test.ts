import { expect } from "chai";
import { REST_STATE, type VehicleState } from "../../circuit/index.ts";
import { catalogueOf } from "../../faults/index.ts";
import { linkOf } from "../../harness/index.ts";
import { lampLook, observe, predictReading, predictShown, silentModules } from "../../instruments/index.ts";
import { busesOf } from "../simulate/bus-view.ts";
import { observedWork } from "./observed-work.ts";
import { createOracle } from "./oracle.ts";
import { faultsOf, hypothesisSpaceOf, type Hypothesis } from "../hypotheses/space.ts";
import { lookChance } from "./look-chance.ts";
import { workOf } from "../simulate/row.ts";
import { vehicleOf } from "../../test/vehicles.ts";

const every = (cases: readonly Hypothesis[], n: number): readonly Hypothesis[] => cases.filter((_, i) => i % n === 0);

describe("the oracle", () => {
  const circuits = [
    ["rig-horn", ["HRN"], { ...REST_STATE, on: ["SW1"] }],
    ["rig-screen", ["HS1"], { ...REST_STATE, key: "run", on: ["SW1"] }],
    ["gritter", ["L3"], { ...REST_STATE, on: ["SW3"] }],
  ] as const;
  for (const [name, focus, from] of circuits) {
    const harness = vehicleOf(name);
    const state: VehicleState = { ...from, on: [...from.on] };
    const space = hypothesisSpaceOf(harness, focus, state);
    const oracle = createOracle(space);

    it(`${name}: says of volts what the full model and its meter show, weak places included`, () => {
      const places = [...space.core].flatMap((id) => linkOf(harness, id)?.b ?? []).filter((_, i) => i % 3 === 0);
      let compared = 0;
      for (const c of every(space.hypotheses, 23))
        for (const red of places) {
          const said = oracle.predict({ state, observe: { kind: "volts", red, black: "BAT.-" } }, c);
          const shown = predictReading(harness, state, [c.supposed], { quantity: "volts", red, black: "BAT.-" });
          if (shown.kind !== "value" || said.oscillating === true) continue;
          compared++;
          expect(said.value, `${c.fault.id} ${c.severity} at ${red}`).to.be.closeTo(shown.value, 0.15 + 0.01 * Math.abs(shown.value));
        }
      expect(compared).to.be.above(50);
    });

    it(`${name}: sees parts do what a person sees them do`, () => {
      const sound = observe(harness, state, []);
      // Pairs of wires are computed by one that stands for all between the same two nets.
      for (const c of every(space.hypotheses, 17).filter((x) => x.fault.where === undefined)) {
        const said = oracle.predict({ state, observe: { kind: "part", part: focus[0] } }, c);
        const seen = observedWork(harness, observe(harness, state, [c.supposed]), sound, focus[0]);
        expect(said.oscillating === true, `${c.fault.id} ${c.severity}`).to.equal(seen.oscillating);
        if (!seen.oscillating) expect(said.value, `${c.fault.id} ${c.severity}`).to.be.closeTo(seen.share, 0.05);
      }
    });
  }

  it("takes faults that make every part do the same for one, and they do", () => {
    const h = vehicleOf("gritter");
    const state: VehicleState = { ...REST_STATE, on: ["SW3"] };
    const space = hypothesisSpaceOf(h, ["L5"], state);
    const view = createOracle(space).view(state)!;
    let compared = 0;
    space.hypotheses.forEach((c, i) => {
      const same = space.sameWork[i]!;
      if (same === i || i % 7 !== 0) return;
      const [own, theirs] = [view.rowOf(faultsOf(c)), view.rowOf(faultsOf(space.hypotheses[same]))];
      for (const part of ["L3", "L5", "L6"])
        expect(workOf(view, own, part)!, `${c.fault.id} ${c.severity} as ${space.hypotheses[same]!.fault.id}: ${part}`).to.be.closeTo(
          workOf(view, theirs, part)!,
          0.12,
        );
      compared++;
    });
    expect(compared).to.be.above(20);
  });
  it("says how a lamp in place of a fuse burns, and what ohms a dead line has", () => {
    const harness = vehicleOf("rig-lamps");
    const on: VehicleState = { ...REST_STATE, on: ["SW2"] };
    const oracle = createOracle(hypothesisSpaceOf(harness, ["L2"], on));
    const pulled: VehicleState = { ...on, opened: ["F1"] };
    for (const c of every(oracle.space.hypotheses, 19)) {
      const lamp = oracle.predict({ state: pulled, observe: { kind: "lamp", red: "F1.1", black: "F1.2", watts: 21 } }, c);
      const shown = predictShown(harness, pulled, [c.supposed], { instrument: "lamp", red: "F1.1", black: "F1.2", watts: 21 });
      expect(lampLook(lamp.value), c.fault.id).to.equal(shown.kind === "light" ? shown.look : "dark");
      const said = oracle.predict({ state: pulled, observe: { kind: "ohms", red: "F1.2", black: "BAT.-" } }, c);
      const ohms = predictReading(harness, pulled, [c.supposed], { quantity: "ohms", red: "F1.2", black: "BAT.-" });
      if (ohms.kind === "void") expect(said.oscillating, c.fault.id).to.equal(true);
      else if (ohms.kind === "value" && ohms.value < 1e5) expect(said.value, c.fault.id).to.be.closeTo(ohms.value, 0.3 + 0.1 * ohms.value);
    }
  });

  it("hears modules as the bus model does", () => {
    const harness = vehicleOf("ouse");
    const state: VehicleState = { ...REST_STATE, key: "run" };
    const modules = [...new Set(busesOf(harness).map((b) => b.id))];
    const oracle = createOracle(hypothesisSpaceOf(harness, modules.slice(0, 2), state));
    const silent = (id: string, of: Hypothesis | undefined): boolean =>
      oracle.predict({ state, observe: { kind: "answers", module: id } }, of).value < 0.5;
    const known = modules.filter((m) => oracle.space.parts.has(m));
    expect(
      known.filter((m) => silent(m, undefined)),
      "sound",
    ).to.deep.equal([]);
    const dead = oracle.space.hypotheses.find((c) => c.fault.mode === "dead" && known.includes(c.fault.link))!;
    expect(silent(dead.fault.link, dead)).to.equal(true);
    const truly = silentModules(harness, state, [dead.supposed]);
    expect(known.filter((m) => silent(m, dead)).sort()).to.deep.equal(truly.filter((m) => known.includes(m)).sort());
  });

  it("leaves what cannot touch the complaint out of the space, and keeps what can", () => {
    const harness = vehicleOf("gritter");
    const state: VehicleState = { ...REST_STATE, on: ["SW3"] };
    const space = hypothesisSpaceOf(harness, ["L3"], state);
    const elements = new Set(space.repairs.map((r) => r.element));
    for (const id of space.core) {
      const fault = catalogueOf(harness).find((f) => f.link === id && f.mode === "open");
      if (fault !== undefined) expect(elements.has(id), id).to.equal(true);
    }
    expect(elements.has("STA")).to.equal(false);
    expect(space.hypotheses.length).to.be.below(catalogueOf(harness).reduce((n, f) => n + f.severities.length, 0) / 3);
  });

  it("knows what a look can show: rubs from outside, corrosion in plugs, nothing inside a part", () => {
    const harness = vehicleOf("rig-horn");
    const space = hypothesisSpaceOf(harness, ["HRN"], { ...REST_STATE, on: ["SW1"] });
    const of = (id: string): Hypothesis => space.hypotheses.find((c) => c.fault.id === id)!;
    expect(lookChance(harness, of("W9 short to ground"), "W9")).to.be.above(0.8);
    expect(lookChance(harness, of("C1.1 resistance"), "C1.1")).to.be.above(0.7);
    expect(lookChance(harness, of("HRN open"), "HRN")).to.be.below(0.2);
    expect(lookChance(harness, of("W9 short to ground"), "W5")).to.be.below(0.02);
  });
});
