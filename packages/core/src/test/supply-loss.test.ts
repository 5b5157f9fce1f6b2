import { expect } from "chai";
import { buildCircuit, REST_STATE, type Fault, type VehicleState } from "../circuit/index.ts";
import { heldOn, observe, predictReading } from "../instruments/index.ts";
import type { Harness } from "../harness/index.ts";
import { createSolver, type Element } from "../solver/index.ts";
import type { Observable } from "../diagnosis/index.ts";
import { parseNotation } from "../notation/index.ts";
import { shown } from "./evidence.ts";
import { provingCircuit } from "./proving/cases.ts";

const volts = (h: Harness, state: VehicleState, faults: readonly Fault[], red: string, black = "BAT.-"): number => {
  const r = predictReading(h, state, faults, { quantity: "volts", red, black });
  if (r.kind !== "value") throw new Error(JSON.stringify(r));
  return r.value;
};
const sightOf = (h: Harness, state: VehicleState, faults: readonly Fault[], id: string): unknown => {
  const seen = observe(h, state, faults);
  return Array.isArray(seen) ? seen.find((s) => s.component === id)?.sight : seen.kind;
};
const IDLING: VehicleState = { ...REST_STATE, key: "run", engine: "idling" };
const CRANKING: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking", on: ["CLS"] };

describe("a starter whose start signal goes while it is engaged", () => {
  const h = provingCircuit("cold-start");
  /** Solved from the point at which relay and solenoid are in already. */
  const fromEngaged = (state: VehicleState, faults: readonly Fault[]): { closed: boolean; at50: number } => {
    const circuit = buildCircuit(h, state, faults);
    const contact = circuit.elementOf.get("STA.contact")!;
    const engaged = (e: Element): Element =>
      e.kind === "switch" && e.rule.kind === "watcher" && e.rule.pace === "contact" ? { ...e, rule: { ...e.rule, starts: true } } : e;
    const solved = createSolver()({ ...circuit.netlist, elements: circuit.netlist.elements.map(engaged) });
    if (solved.kind !== "solved") throw new Error(solved.kind);
    return { closed: solved.closed[contact] === 1, at50: solved.volts[circuit.nodeOf.get("STA.50")!]! };
  };
  it("stays in while the signal is there", () => expect(fromEngaged(CRANKING, []).closed).to.equal(true));
  it("drops out when the signal wire opens: pull-in and hold winding then pull against each other", () =>
    expect(fromEngaged(CRANKING, [{ kind: "open", link: "W5" }])).to.deep.include({ closed: false }));
  it("with a welded contact the start wire stands at the divider of both windings and nothing is pulled", () => {
    // 45 at the battery's voltage V under load; 50 at V·1.1/(1.1 + 0.35).
    const welded: readonly Fault[] = [
      { kind: "stuck", link: "STA.contact", closed: true },
      { kind: "open", link: "W5" },
    ];
    expect(volts(h, CRANKING, welded, "STA.50", "STA.31") / volts(h, CRANKING, welded, "STA.30", "STA.31")).to.be.closeTo(1.1 / 1.45, 0.01);
  });
  it("drops out already by half an ohm in the start wire, as the pull-in winding then pulls back", () => {
    // V ≈ 10.4 V at 30 and 45 against the case. Node 50: (V − V50)/R = (V50 − V)/0.35 + V50/1.1. It holds while V50/0.35 + V50/1.1 − V/0.35 is above
    // 3.6/1.1 = 3.27 A, V50 above 8.76 V: R below 0.53 Ω. Seen as a hold winding alone it would stay in up to 2 Ω.
    const at = (ohms: number): boolean => fromEngaged(CRANKING, [{ kind: "series", link: "W5", ohms }]).closed;
    expect(at(0.3)).to.equal(true);
    expect(at(0.8)).to.equal(false);
  });
});

describe("an alternator with a lamp wire", () => {
  const h = provingCircuit("charge-lamp");
  it("does not begin without it, and its lamp stays dark", () => {
    const open: Fault = { kind: "open", link: "W8" };
    expect(volts(h, IDLING, [open], "BAT.+")).to.be.below(12.6);
    expect(sightOf(h, IDLING, [open], "CHL")).to.deep.include({ kind: "lamp", look: "dark" });
    expect(volts(h, IDLING, [], "BAT.+")).to.be.above(13.8);
  });
  it("that holds its lamp terminal low lights the lamp and charges all the same", () => {
    const held: Fault = { kind: "settings", component: "ALT", settings: { lampHeld: true } };
    expect(volts(h, IDLING, [held], "BAT.+")).to.be.closeTo(volts(h, IDLING, [], "BAT.+"), 0.05);
    // 14 V over 6 Ω and a 3 W filament of 48 Ω hot: about 13 V at the lamp, brighter than rated.
    expect(sightOf(h, IDLING, [held], "CHL")).to.deep.include({ kind: "lamp", look: "bright" });
    expect(sightOf(h, IDLING, [], "CHL")).to.deep.include({ kind: "lamp", look: "dark" });
  });
});

describe("a part that loses the pulses by which it is told", () => {
  const h = provingCircuit("alternator-command");
  const open: Fault = { kind: "open", link: "C1.7" };
  it("an alternator falls to its default voltage and tells nothing at its monitor", () => {
    // Set points 14.2 and 13.5 V at 25 °C behind 4 mΩ and its cable.
    expect(volts(h, IDLING, [], "BAT.+") - volts(h, IDLING, [open], "BAT.+")).to.be.closeTo(0.7, 0.1);
    // The module's 5 V pull-up through 2.2 kΩ: half the time low behind 60 Ω, else 5 V.
    expect(volts(h, IDLING, [], "ECM.12", "ECM.2")).to.be.closeTo(2.5, 0.15);
    expect(volts(h, IDLING, [open], "ECM.12", "ECM.2")).to.be.closeTo(5, 0.05);
  });
  it("pulses that come too low are none: 20 kΩ against 4.7 kΩ leave less than 3 V of 14", () => {
    const lost = volts(h, IDLING, [open], "BAT.+");
    expect(volts(h, IDLING, [{ kind: "series", link: "C1.7", ohms: 20_000 }], "BAT.+")).to.be.closeTo(lost, 0.01);
    expect(volts(h, IDLING, [{ kind: "series", link: "C1.7", ohms: 2000 }], "BAT.+")).to.be.above(lost + 0.5);
  });
  it("an alternator told by messages does so where the master's low level no longer reaches it", () => {
    const lin = provingCircuit("alternator-lin");
    const at = (...faults: Fault[]): number => volts(lin, IDLING, faults, "BAT.+");
    const told = at();
    expect(told - at({ kind: "open", link: "C1.7" })).to.be.closeTo(0.7, 0.1);
    // Its own 30 kΩ to 14.2 V less a diode against the wire's resistance: 0.4 × 13.8 V are passed at 20.6 kΩ.
    expect(at({ kind: "series", link: "W11", ohms: 15_000 })).to.be.closeTo(told, 0.05);
    expect(told - at({ kind: "series", link: "W11", ohms: 28_000 })).to.be.closeTo(0.7, 0.1);
    expect(told - at({ kind: "short to ground", place: "S1", ohms: 1 })).to.be.closeTo(0.7, 0.1);
    expect(told - at({ kind: "open", link: "F2" }), "whoever would tell it has no feed").to.be.closeTo(0.7, 0.1);
    expect(at({ kind: "open", link: "W15" }), "another branch").to.be.closeTo(told, 0.01);
  });
  it("pulses from behind a resistance stand at the divider that their load makes, and the duty stays", () => {
    // 10 V behind 1 kΩ on 3 kΩ: 7.5 V; off, the bias of 5 V stands behind 100 kΩ on 3 kΩ: 0.15 V.
    const { harness } = parseNotation(`circuit "Pulses from behind a resistance"
BAT(12.6V)
M(module pin 1 supply, pin 2 ground, pin 3 high duty=0.3 volts=10 sourceOhms=1000 when=key=run)
RL(resistor ohms=3000)
G1("frame")
BAT -- W1 RD 1mm2 1m -- M.1
M.2 -- W2 BK 1mm2 1m -- G1
M.3 -- W3 GN 1mm2 1m -- RL -- W4 BK 1mm2 1m -- G1
G1 -- W9 BK 16mm2 0.5m -- BAT`);
    const seen = (observe: Observable): number => {
      const { result } = shown(harness!, IDLING, observe, []);
      return result.kind === "value" ? result.value : NaN;
    };
    const leads = { red: "RL.1", black: "RL.2" };
    expect(seen({ kind: "level", which: "high", ...leads })).to.be.closeTo(7.5, 0.03);
    expect(seen({ kind: "level", which: "low", ...leads })).to.be.closeTo(0.15, 0.03);
    expect(seen({ kind: "duty", ...leads })).to.be.closeTo(30, 1);
  });
  it("a pump module runs at its emergency speed, and at none where none is set", () => {
    const pump = provingCircuit("pump-command");
    const running: VehicleState = { ...IDLING };
    const told = volts(pump, running, [], "PMP.1", "PMP.2");
    const lost = volts(pump, running, [{ kind: "open", link: "C1.3" }], "PMP.1", "PMP.2");
    // 45 % of the time as it is told, 80 % without.
    expect(lost / told).to.be.closeTo(0.8 / 0.45, 0.06);
  });
  it("a lamp that stands for lost pulses lights", () => {
    const pump = provingCircuit("pump-command");
    expect(sightOf(pump, IDLING, [], "CEL")).to.deep.include({ look: "dark" });
    expect(sightOf(pump, IDLING, [{ kind: "open", link: "C1.4" }], "CEL")).to.deep.include({ look: "bright" });
  });
});

describe("an ignition coil", () => {
  const h = provingCircuit("coil-and-valve");
  const work = (faults: readonly Fault[]): unknown => shown(h, IDLING, { kind: "part", part: "IC1" }, faults).result;
  it("is judged by what it delivers: held on, it sparks as little as dead, and is named as being cooked", () => {
    expect(work([])).to.deep.include({ word: "full" });
    expect(work([{ kind: "open", link: "W10" }])).to.deep.include({ word: "none" });
    const held: Fault = { kind: "short to ground", place: "C1.2a", ohms: 0.05 };
    expect(work([held])).to.deep.include({ word: "none" });
    // 14.2 V over 0.55 Ω of primary, 50 mΩ of short and some 70 mΩ of fuse, key and wires.
    const [cooked] = heldOn(h, IDLING, [held]);
    expect(cooked!.part).to.equal("IC1");
    expect(cooked!.amps).to.be.within(20, 22);
    expect(heldOn(h, IDLING, [])).to.deep.equal([]);
  });
  it("half as much voltage leaves a quarter of the energy", () => {
    // 0.55 Ω more in its feed halve the current: (1/2)² = 0.25.
    const low = shown(h, IDLING, { kind: "part", part: "IC1" }, [{ kind: "series", link: "W7", ohms: 0.65 }]);
    expect(low.result).to.deep.include({ word: "weak" });
  });
});
