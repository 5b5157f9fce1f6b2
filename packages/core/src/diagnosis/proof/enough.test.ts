import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { linkOf, type PlaceId } from "../../harness/index.ts";
import { observe as observeParts, predictReading } from "../../instruments/index.ts";
import { circuitOf } from "../../test/circuits.ts";
import { ask, read, said } from "../../test/evidence.ts";
import { minutesOf } from "../effort/cost.ts";
import { diagnose, isFirstAnswer } from "../answer/diagnose.ts";
import { dividersOf } from "../next-test/divide.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import { outcomesOf } from "../evidence/outcome.ts";
import { hypothesisSpaceOf } from "../hypotheses/space.ts";
import { shownBy } from "../predict/shown.ts";
import { workOf } from "../simulate/row.ts";
import { vehicleOf } from "../../test/vehicles.ts";

const lamps = vehicleOf("rig-lamps");
const stop: VehicleState = { ...REST_STATE, on: ["SW2"] };
const dark = said(stop, { kind: "part", part: "L2" }, "none");
const gritter = vehicleOf("gritter");
const lit: VehicleState = { ...REST_STATE, on: ["SW3"] };

describe("fuses in series", () => {
  const harness = circuitOf(`circuit "Two fuses"
G1("frame")
BAT(12.6V)
G1 -- BK 16mm2 0.5m -- BAT
BAT -- RD 4mm2 0.5m -- F1(40A) -- RD 2.5mm2 0.5m -- F2(5A) -- RD 1mm2 1m -- L1(lamp 21W) -- BK 1mm2 0.5m -- G1`);
  it("the one loaded most beyond its rating goes and spares the other, though the short is enough for both", () => {
    const seen = observeParts(harness, REST_STATE, [{ kind: "short to ground", place: "L1.1", ohms: 0.05 }]);
    if (!Array.isArray(seen)) throw new Error("no answer");
    const blown = Object.fromEntries(
      seen.flatMap(({ component, sight }) => (sight.kind === "fuse" ? [[component, sight.blown] as const] : [])),
    );
    // 12.6 V over some 0.1 Ω: 126 A is 3 times the larger's rating and 25 times the smaller's.
    expect(blown).to.deep.equal({ F1: false, F2: true });
  });
});

describe("severity", () => {
  it("is found between those that are solved: 37 Ω and 0.73 Ω from one reading each, within 5 %", () => {
    for (const ohms of [0.73, 37]) {
      const truth: Fault = { kind: "series", link: "W10", ohms };
      const e = read(lamps, stop, "L2.1", "BAT.-", [truth]);
      const { belief } = diagnose(ask(lamps, ["L2"], stop, [said(stop, { kind: "part", part: "L2" }, ohms > 10 ? "none" : "weak"), e]));
      const found = belief.alive
        .filter((c) => c.fault.id === "W10 resistance")
        .toSorted((p, q) => belief.posterior(q) - belief.posterior(p))[0]!;
      expect(belief.bestAt(found).severity, `${ohms} Ω`).to.be.within(0.95 * ohms, 1.05 * ohms);
    }
  });
  it("leads no straight line over a fuse that lets go: no short explains volts that stand at none of its degrees", () => {
    const harness = vehicleOf("ouse");
    const on: VehicleState = { ...REST_STATE, key: "run", on: ["SW4"] };
    // 2.5 Ω in the holder of the rear screen's fuse, 9.8 V over it.
    const truth: Fault = { kind: "series", link: "F5", ohms: 2.5 };
    const leads = [
      ["BAT.+", "R4.87"],
      ["R4.30", "R4.87"],
      ["BAT.+", "F5.2"],
      ["F5.1", "F5.2"],
    ] as const;
    const evidence = [
      said(on, { kind: "part", part: "RS1" }, "weak"),
      ...leads.map(([red, black]) => read(harness, on, red, black, [truth])),
    ];
    const { belief, enough } = diagnose(ask(harness, ["RS1"], on, evidence));
    const shorts = belief.alive.filter((c) => c.second === undefined && c.fault.effect === "short to ground");
    expect(shorts.reduce((sum, c) => sum + belief.posterior(c), 0)).to.be.below(1e-5);
    expect(enough?.element).to.equal("F5");
    // Nothing hangs on one reading, and a bad holder is no blown fuse, so that no lamp is asked for in its place.
    expect(enough?.missing.map((m) => m.words)).to.deep.equal([]);
  });
  it("treats alike what no meter can tell apart: pairs of wires on the same two nets hold the same", () => {
    const space = hypothesisSpaceOf(gritter, ["L3"], lit);
    const pairs = space.hypotheses.filter((c) => space.representative[c.index] !== c.index && c.severity === 0.5);
    const [one] = pairs;
    const alike = space.hypotheses.filter((c) => space.representative[c.index] === space.representative[one!.index] && c.severity === 0.5);
    const e = read(gritter, lit, "L3.1", "BAT.-", [one!.supposed]);
    const { belief } = diagnose(ask(gritter, ["L3"], lit, [e]));
    const rates = alike.map((c) => Math.log(belief.posterior(c)) - c.logPrior);
    expect(alike.length).to.be.above(1);
    expect(Math.max(...rates) - Math.min(...rates)).to.be.below(1e-6);
  });
});

describe("a lead on a wire that hangs in the air", () => {
  it("follows the other lead: with fuse and lamp out 0 V, as the full model shows", () => {
    const state: VehicleState = { ...stop, opened: ["F1", "L2"] };
    const { oracle } = diagnose(ask(lamps, ["L2"], stop, []));
    const test = { state, observe: { kind: "volts", red: "F1.1", black: "F1.2" } as const };
    const shown = predictReading(lamps, state, [], { quantity: "volts", red: "F1.1", black: "F1.2" });
    if (shown.kind !== "value") throw new Error("no value");
    expect(shown.value).to.be.closeTo(0, 0.01);
    expect(oracle.predict(test, undefined).value).to.be.closeTo(shown.value, 0.01);
    expect(oracle.predict({ ...test, observe: { ...test.observe, black: "BAT.-" } }, undefined).value).to.be.closeTo(12.6, 0.01);
  });
});

describe("a glance by tangents", () => {
  it("agrees with the changed circuit solved in full, or holds its tongue where a switch may move", () => {
    const { oracle } = diagnose(ask(gritter, ["L3"], lit, []));
    const view = oracle.view(lit)!;
    const pin = view.placeIndex.get("L3.1")!;
    let told = 0;
    for (const c of oracle.space.hypotheses.filter((x, i) => i % 7 === 0 && x.severity > 0)) {
      const move = view.firstOrderMove(c.supposed, "L3");
      if (move === undefined) continue;
      told++;
      const row = view.rowOf([c.supposed]);
      const moved = Math.abs(row.volts[pin]! - view.sound.volts[pin]!);
      expect(moved, `${c.fault.id} ${c.severity}`).to.be.at.most(move * 1.5 + 0.1);
      for (const fuse of ["F1", "F5"])
        if (view.partIndex.has(fuse)) expect(workOf(view, row, fuse), c.fault.id).to.equal(workOf(view, view.sound, fuse));
    }
    expect(told).to.be.above(40);
  });
});

describe("dividing what may be shorted", () => {
  const blown: VehicleState = { ...lit, opened: ["F5"] };
  const found = [
    said(lit, { kind: "part", part: "L3" }, "none"),
    said(lit, { kind: "part", part: "L5" }, "none"),
    said(blown, { kind: "lamp", red: "F5.1", black: "F5.2", watts: 21 }, "bright"),
  ];
  it("names plugs, fuses and wires beyond which about half of it lies, and offers a clamp at the lamp's current", () => {
    const d = diagnose(ask(gritter, ["L3", "L5"], lit, found));
    const list = dividersOf(gritter, d.belief, "F5.2" as PlaceId, lit.opened, new Set());
    expect(list.length).to.be.above(2);
    for (const { ids, kind } of list) for (const id of ids) expect(linkOf(gritter, id)?.kind === "wire", id).to.equal(kind === "wire");
    const clamp = d.next().find((t) => t.observe.kind === "amps" && t.state.lamps?.length === 1)!;
    expect(clamp.state.opened).to.include("F5");
    // Around a wire that leads to the short flows what the lamp lets through; 21 W at 24 V is 0.9 A.
    const shown = shownBy(gritter, clamp, [
      { kind: "short to ground", place: linkOf(gritter, (clamp.observe as { around: string }).around)!.b, ohms: 0.05 },
    ]);
    expect(shown.kind === "value" ? Math.abs(shown.value) : 0).to.be.closeTo(0.87, 0.12);
  });
});

describe("before a repair", () => {
  it("a rub is looked for once, comes first, and what was seen there is enough", () => {
    const truth: Fault = { kind: "short to ground", place: "C1.2b", ohms: 0.05 };
    const inPlace: Observable = { kind: "lamp", red: "F1.1", black: "F1.2", watts: 21 };
    const out = { ...stop, opened: ["F1"] };
    const told = [
      dark,
      said(out, inPlace, "bright"),
      said({ ...stop, opened: ["C1", "F1"] }, inPlace, "dark"),
      said({ ...stop, opened: ["F1", "L2"] }, inPlace, "bright"),
    ];
    expect(shownBy(lamps, { state: out, observe: inPlace }, [truth])).to.deep.include({ word: "bright" });
    const before = diagnose(ask(lamps, ["L2"], stop, told));
    expect(before.enough).to.include({ yes: false, element: "W10" });
    const [first] = before.next();
    expect(first!.observe).to.deep.equal({ kind: "look", at: "W10" });
    const after = diagnose(ask(lamps, ["L2"], stop, [...told, said(stop, { kind: "look", at: "W10" }, "rubbed")]));
    expect(after.enough).to.include({ yes: true, element: "W10" });
    expect(after.next().some((t) => t.observe.kind === "look" && t.observe.at === "W10")).to.equal(false);
  });
  it("green copper explains no short: what was seen must be what is supposed there", () => {
    const out = { ...stop, opened: ["F1"] };
    const told = [
      dark,
      said(out, { kind: "lamp", red: "F1.1", black: "F1.2", watts: 21 }, "bright"),
      said({ ...stop, opened: ["C1", "F1"] }, { kind: "lamp", red: "F1.1", black: "F1.2", watts: 21 }, "dark"),
    ];
    const shareWith = (word: "rubbed" | "corroded"): { readonly share: number; readonly yes: boolean } => {
      const d = diagnose(ask(lamps, ["L2"], stop, [...told, said(stop, { kind: "look", at: "W10" }, word)]));
      const i = d.oracle.space.repairs.findIndex((r) => r.element === "W10");
      return { share: d.belief.repairs[i]!, yes: d.enough?.yes === true };
    };
    const [rub, green] = [shareWith("rubbed"), shareWith("corroded")];
    expect(rub.yes).to.equal(true);
    expect(green.share).to.be.below(rub.share);
    expect(green.yes).to.equal(false);
  });
  it("a break is proven on both of its ends, so that two faults are not taken for one before them both", () => {
    const both: VehicleState = { ...REST_STATE, on: ["SW1", "SW2"] };
    const truth: readonly Fault[] = [
      { kind: "open", link: "W5" },
      { kind: "open", link: "W8" },
    ];
    const told = [
      said(both, { kind: "part", part: "L1" }, "none"),
      said(both, { kind: "part", part: "L2" }, "none"),
      ...(
        [
          ["C1.3b", "BAT.-"],
          ["C1.1a", "BAT.-"],
          ["F1.1", "F1.2"],
          ["BAT.+", "F1.2"],
          ["BAT.+", "F1.1"],
        ] as const
      ).map(([red, black]) => read(lamps, both, red, black, truth)),
    ];
    const d = diagnose(ask(lamps, ["L1"], both, told));
    const { a, b } = linkOf(lamps, "W3")!;
    expect(d.enough).to.include({ yes: false, element: "W3" });
    expect(d.enough!.missing.map((m) => m.words).join(" ")).to.match(/put the leads across it/);
    expect(d.next()[0]!.observe).to.deep.equal({ kind: "volts", red: a, black: b });
    const after = diagnose(ask(lamps, ["L1"], both, [...told, read(lamps, both, a, b, truth)]));
    expect(after.enough!.element === "W3" && after.enough!.yes).to.equal(false);
  });
  it("a fuse is not renewed on a lamp that stayed dim with the shorted part unplugged", () => {
    const out: VehicleState = { ...stop, opened: ["F1", "L2"] };
    const told = [
      dark,
      read(lamps, stop, "F1.1", "BAT.-", [{ kind: "open", link: "F1" }]),
      said(out, { kind: "lamp", red: "F1.1", black: "F1.2", watts: 21 }, "dark"),
    ];
    const { enough } = diagnose(ask(lamps, ["L2"], stop, told));
    expect(enough!.yes).to.equal(false);
    if (enough!.element === "F1") expect(enough!.missing.map((m) => m.what)).to.include("cause");
  });
});

describe("what is near the hand", () => {
  it("another fuse of the box takes a moment, another part of an open zone a minute", () => {
    const at = (red: string): { state: VehicleState; observe: Observable } => ({
      state: REST_STATE,
      observe: { kind: "volts", red, black: "BAT.-" },
    });
    const first = minutesOf(gritter, at("F5.2"), REST_STATE, new Set(["BAT"]));
    const next = minutesOf(gritter, at("F8.2"), REST_STATE, new Set(["BAT", "F5"]));
    expect(first - next).to.be.above(0.5);
    expect(next).to.be.closeTo(0.4 + 0.2, 1e-9);
  });
});

describe("a first answer at once", () => {
  it("leaves out wires against each other on a large vehicle, and nothing on a small one", () => {
    const brigg = vehicleOf("brigg");
    const [whole, rough] = [false, true].map((isRough) => hypothesisSpaceOf(brigg, ["L1"], REST_STATE, [], undefined, isRough));
    expect(rough!.hypotheses.every((c) => c.fault.where === undefined)).to.equal(true);
    expect(whole!.hypotheses.some((c) => c.fault.where !== undefined)).to.equal(true);
    const small = [false, true].map((isRough) => hypothesisSpaceOf(lamps, ["L2"], stop, [], undefined, isRough).hypotheses.length);
    expect(small[0]).to.equal(small[1]);
    expect(isFirstAnswer(ask(lamps, ["L2"], stop, [dark]))).to.equal(true);
    expect(isFirstAnswer(ask(lamps, ["L2"], stop, [dark, read(lamps, stop, "L2.1", "BAT.-", [])]))).to.equal(false);
  });
});

describe("outcomes of a meter", () => {
  it("shares a reading near a border between both sides, and the shares sum to 1", () => {
    const at = (value: number): readonly (readonly [number, number])[] =>
      outcomesOf({ kind: "volts", red: "a", black: "b" }, { value, low: value, high: value });
    for (const value of [-3, 0, 0.01, 4.2, 12.6]) expect(at(value).reduce((s, [, share]) => s + share, 0)).to.be.closeTo(1, 1e-6);
    // 1 mV apart: nearly the same shares of the same outcomes.
    const [p, q] = [new Map(at(4.2)), new Map(at(4.201))];
    for (const [outcome, share] of p) expect(q.get(outcome) ?? 0).to.be.closeTo(share, 0.02);
  });
});

describe("a finding that does not fit", () => {
  const both: VehicleState = { ...REST_STATE, on: ["SW1", "SW2"] };
  const dark = said(both, { kind: "part", part: "L2" }, "none");
  const burnt: readonly Fault[] = [{ kind: "open", link: "L2" }];
  const asked = ["L2.1", "L2.2", "C1.2a"].map((red) => read(lamps, both, red, "BAT.-", burnt));
  const still = said(both, { kind: "part", part: "L2" }, "none");
  // The other lamp on the same feed and ground is said to be dark as well, which a burnt lamp does not do.
  const wrongly = said(both, { kind: "part", part: "L1" }, "none", { source: "customer" });

  it("keeps a part from being bought until it was done again, and what comes out right then settles it", () => {
    const contradiction = (evidence: Parameters<typeof ask>[3]): readonly string[] =>
      (diagnose(ask(lamps, ["L2"], both, evidence)).enough?.missing ?? []).flatMap((m) =>
        m.words.includes("does not fit") ? [m.words] : [],
      );
    expect(contradiction([dark, still, ...asked])).to.deep.equal([]);
    const doubted = diagnose(ask(lamps, ["L2"], both, [dark, still, ...asked, wrongly]));
    expect(doubted.enough?.element).to.equal("L2");
    expect(doubted.enough?.yes).to.equal(false);
    expect(contradiction([dark, still, ...asked, wrongly])[0]).to.contain("L1");
    expect(doubted.next()[0]?.observe).to.deep.equal(wrongly.observe);
    expect(contradiction([dark, still, ...asked, wrongly, said(both, wrongly.observe, "full")])).to.deep.equal([]);
  });
  it("is forgiven once before a wire is mended, as a slip, but not twice", () => {
    const open: readonly Fault[] = [{ kind: "open", link: "W10" }];
    const proof = ["C1.2a", "C1.2b", "L2.1", "L2.2"].map((red) => read(lamps, both, red, "BAT.-", open));
    const across = read(lamps, both, "C1.2b", "L2.1", open);
    const odd = (red: string, value: number): (typeof proof)[number] => {
      const e = read(lamps, both, red, "BAT.-", open);
      return { ...e, result: { kind: "value", value, resolution: 0.01 } };
    };
    const enough = (more: Parameters<typeof ask>[3]): ReturnType<typeof diagnose>["enough"] =>
      diagnose(ask(lamps, ["L2"], both, [dark, still, ...proof, across, ...more])).enough;
    const slip = enough([odd("C1.3a", 3.1)]);
    expect(slip).to.include({ element: "W10", yes: true });
    const two = enough([odd("C1.3a", 3.1), odd("L1.1", 7.4)]);
    expect(two?.missing.filter((m) => /before anything is mended/.test(m.words))).to.have.length(2);
  });
});
