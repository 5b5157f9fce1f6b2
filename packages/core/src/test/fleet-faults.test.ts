import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../circuit/index.ts";
import { askableParts, groundMap, linksOf, partOfLink, sharedNodes, sliceOf, usersOf, walksOf, type Harness } from "../harness/index.ts";
import { observe, predictReading, silentModules, type Observation } from "../instruments/index.ts";
import { vehicleOf } from "./vehicles.ts";

const [van, estate, gritter, brigg] = ["plover", "ouse", "gritter", "brigg"].map((name) => vehicleOf(name)) as [
  Harness,
  Harness,
  Harness,
  Harness,
];

const allOn = (h: Harness, state: Partial<VehicleState> = {}): VehicleState => ({
  ...REST_STATE,
  key: "run",
  engine: "idling",
  on: h.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" && !/lock button/.test(c.label ?? "") ? [c.id] : [])),
  ...state,
});
const seen = (h: Harness, state: VehicleState, faults: readonly Fault[]): readonly Observation[] => {
  const found = observe(h, state, faults);
  if (!Array.isArray(found)) throw new Error(JSON.stringify(found));
  return found;
};
/** How well each part does its work, 0…1; parts that show nothing are left out. */
function working(h: Harness, state: VehicleState, faults: readonly Fault[]): Map<string, number> {
  const found = new Map<string, number>();
  for (const { component, sight } of seen(h, state, faults)) {
    if (sight.kind === "lamp" || sight.kind === "runs" || sight.kind === "heat" || sight.kind === "brightness")
      found.set(component, sight.share);
    if (sight.kind === "speed") found.set(component, sight.rpm);
    if (sight.kind === "awake") found.set(component, sight.yes ? 1 : 0);
  }
  return found;
}
/** What a driver would say fails and works with a fault, against the sound vehicle. */
function complaint(h: Harness, state: VehicleState, fault: Fault): { readonly failing: string[]; readonly working: string[] } {
  const [sound, faulty] = [working(h, state, []), working(h, state, [fault])];
  const parts = new Set(askableParts(h));
  const ran = [...sound].filter(([id, w]) => parts.has(id) && w > 0.3);
  return {
    failing: ran.filter(([id, w]) => (faulty.get(id) ?? 0) < 0.5 * w).map(([id]) => id),
    working: ran.filter(([id, w]) => (faulty.get(id) ?? 0) > 0.9 * w).map(([id]) => id),
  };
}

describe("shared nodes of the fleet", () => {
  // Whatever several parts hang on: opened, it must be among the first answers to what fails and what works.
  for (const [name, h] of [
    ["van", van],
    ["estate", estate],
    ["gritter", gritter],
    ["four-by-four", brigg],
  ] as const)
    it(`lead to an open fuse, ground or switch of the ${name}`, () => {
      const state = allOn(h);
      let asked = 0;
      for (const part of h.components) {
        if (part.kind !== "fuse" && part.kind !== "ground" && part.kind !== "switch") continue;
        // With a strap gone the metal itself floats: current finds odd ways, and little fails or works outright.
        const strap = part.kind === "ground" && groundMap(h).find((g) => g.id === part.id)!.strap;
        if (strap || (usersOf(h).get(part.id) ?? 0) < 2) continue;
        const { failing, working: well } = complaint(h, state, { kind: "open", link: part.id });
        if (failing.length < 2 || well.length === 0) continue;
        asked++;
        const nodes = sharedNodes(h, failing, well);
        // What nothing that works speaks against and all that fails hangs on: the culprit, or its neighbours on the same way.
        const clean = nodes.filter((n) => n.working.length === 0 && n.failing.length === failing.length).map((n) => n.id);
        expect(clean, `${part.id} of ${name}: ${failing.join()} fail`).to.include(part.id);
      }
      expect(asked, name).to.be.above(1);
    });
});

describe("faults of the fleet", () => {
  const volts = (h: Harness, state: VehicleState, faults: readonly Fault[], red: string, black = "BAT.-"): number => {
    const r = predictReading(h, state, faults, { quantity: "volts", red, black });
    if (r.kind !== "value") throw new Error(JSON.stringify(r));
    return r.value;
  };

  it("a lost lamp ground in the van's left door puts out what meets there, and feeds nothing on the right", () => {
    const fault: Fault = { kind: "open", link: "W237" };
    const state = allOn(van);
    const { failing, working: well } = complaint(van, state, fault);
    expect(failing).to.include.members(["L13", "L15"]);
    expect(well).to.include.members(["L11", "L14", "L12"]);
    // The dead ground floats up to the feed through the lamps.
    expect(volts(van, state, [fault], "S32")).to.be.above(10);
  });

  it("a sensor that shorts the van's reference A takes its users down together and leaves B alone", () => {
    const fault: Fault = { kind: "across", from: "CAM.P", to: "CAM.N", ohms: 1 };
    const state = allOn(van);
    expect(volts(van, state, [], "RPS.P", "RPS.N")).to.be.closeTo(5, 0.1);
    for (const p of ["RPS", "PED1"]) expect(volts(van, state, [fault], `${p}.P`, `${p}.N`), p).to.be.below(0.5);
    expect(volts(van, state, [fault], "BPS.P", "BPS.N")).to.be.closeTo(5, 0.1);
    // Unplugged, the rest comes back.
    const unplugged = { ...state, opened: ["W46"] };
    expect(volts(van, unplugged, [fault], "RPS.P", "RPS.N")).to.be.closeTo(5, 0.1);
  });

  it("a LIN line on ground silences the flaps; each has feed and ground all the same", () => {
    const state = allOn(estate);
    expect(silentModules(estate, state, [])).to.deep.equal([]);
    const fault: Fault = { kind: "short to ground", place: "S11", ohms: 0.5 };
    expect(silentModules(estate, state, [fault])).to.include.members(["FL1", "FL2", "FL3"]);
    expect(volts(estate, state, [fault], "FL2.1", "FL2.2")).to.be.above(11);
  });

  it("the gritter's charge lamp wire open: no lamp at rest, no charge when running", () => {
    const fault: Fault = { kind: "open", link: gritter.wires.find((w) => w.to.component === "ALT" && w.to.pin === "L")!.id };
    const rest = { ...REST_STATE, key: "run" as const };
    expect(working(gritter, rest, []).get("L1")).to.be.above(0.2);
    expect(working(gritter, rest, [fault]).get("L1")).to.be.below(0.01);
    const running = { ...rest, engine: "at speed" as const };
    expect(volts(gritter, running, [], "BAT.+")).to.be.within(27.5, 29);
    expect(volts(gritter, running, [fault], "BAT.+")).to.be.below(25.5);
  });

  it("the four-by-four does not crank with the range lock open, and the relay's coil says why", () => {
    const cranking = { ...REST_STATE, key: "crank" as const, engine: "cranking" as const, on: ["SW1", "SW2"] };
    const pulled = (faults: readonly Fault[], on: string[]): boolean => volts(brigg, { ...cranking, on }, faults, "R1.86", "R1.85") > 6;
    expect(pulled([], ["SW1", "SW2"])).to.equal(true);
    expect(pulled([], ["SW1"])).to.equal(false);
    expect(pulled([{ kind: "open", link: "SW2" }], ["SW1", "SW2"])).to.equal(false);
  });

  it("a strap between engine and body that is gone shows between block and battery while cranking, not at rest", () => {
    const cranking = { ...REST_STATE, key: "crank" as const, engine: "cranking" as const, on: ["SWC"] };
    const fault: Fault = { kind: "series", link: "G2", ohms: 0.05 };
    expect(volts(van, REST_STATE, [fault], "engine")).to.be.below(0.01);
    expect(volts(van, cranking, [fault], "engine")).to.be.above(1);
    expect(volts(van, cranking, [], "engine")).to.be.below(0.6);
  });
});

describe("slices of the fleet", () => {
  for (const [name, h] of [
    ["van", van],
    ["estate", estate],
    ["gritter", gritter],
    ["four-by-four", brigg],
  ] as const)
    it(`hold, for every load of the ${name}, its whole way and only wires that belong together`, () => {
      const links = new Map(linksOf(h).map((l) => [l.id, l]));
      for (const w of walksOf(h)) {
        const part = partOfLink(h, w.load)!;
        const { harness, core } = sliceOf(h, [part.id], { sharers: false });
        for (const hop of [...w.feed, ...w.ground]) expect(core.has(hop.link.id), `${part.id}: ${hop.link.id}`).to.equal(true);
        const here = new Set(harness.components.map((c) => c.id));
        for (const wire of harness.wires)
          for (const end of [wire.from, wire.to]) expect(here.has(end.component), `${part.id}: ${wire.id}`).to.equal(true);
        for (const id of core) expect(links.has(id), id).to.equal(true);
        expect(harness.components.length, part.id).to.be.below(90);
      }
    });

  it("name, for every load, only sharers that hang on something drawn", () => {
    for (const w of walksOf(estate)) {
      const part = partOfLink(estate, w.load)!;
      const { sharers, harness, core } = sliceOf(estate, [part.id]);
      const places = new Set<string>(harness.components.map((c) => c.id));
      for (const s of sharers)
        expect(core.has(s.shares) || places.has(s.shares), `${part.id}: ${s.load} shares ${s.shares}`).to.equal(true);
      expect(sharers.filter((s) => s.drawn).length).to.be.at.most(6);
    }
  });

  it("answer a place as its part, and a cavity as the loads behind it", () => {
    const byPlace = sliceOf(van, ["L13.1"], { sharers: false });
    expect(byPlace.core.has("L13")).to.equal(true);
    expect([...sliceOf(van, ["C30.2"], { sharers: false }).core]).to.include.members(["C30.2", "L13"]);
    expect([...sliceOf(van, ["W237"], { sharers: false }).core]).to.include.members(["W237", "L10", "L13", "G10"]);
  });
});
