import { expect } from "chai";
import { readFileSync } from "node:fs";
import { REST_STATE } from "../circuit/index.ts";
import { answerCase, DEFAULT_QUESTION, type CaseAnswer, type Evidence } from "../diagnosis/index.ts";
import { resolveVariant, type Harness, type Wire } from "../harness/index.ts";
import { predictAll } from "../instruments/index.ts";
import { parseNotation } from "../notation/index.ts";
import {
  awgAreaMm2,
  awgFor,
  busPairOf,
  carriesAmps,
  checkFuse,
  checkPiece,
  comesWith,
  damagedThing,
  damagePlaces,
  decimalsOf,
  estimateSchema,
  findOrOverlay,
  formatMoney,
  fuseBefore,
  groundCandidates,
  jointChoices,
  likelyDamage,
  neighboursAtRisk,
  partProof,
  readMoney,
  repairSteps,
  totalsOf,
  WIRE_AREAS_MM2,
} from "./index.ts";

const vehicle = (name: string): Harness =>
  resolveVariant(parseNotation(readFileSync(new URL(`../../../../demo/vehicles/${name}.circuit`, import.meta.url), "utf8")).harness!, []);
const van = vehicle("plover");
const wireOf = (h: Harness, id: string): Wire => h.wires.find((w) => w.id === id)!;
const run = { ...REST_STATE, key: "run" as const };
const volts = ((): ReadonlyMap<string, number | undefined> => {
  const p = predictAll(van, run, []);
  return "volts" in p ? p.volts : new Map();
})();

describe("damage", () => {
  it("is what the place is prone to: where it crosses first, then its zone, then anywhere, each once", () => {
    const [first, ...rest] = likelyDamage(van, "W4", "main");
    expect(first).to.deep.include({ kind: "chafed through", cause: "rubs on the seam of the seat box" });
    expect(first!.remedies).to.include("edge guarded");
    expect(rest.map((d) => d.kind)).to.deep.equal(["earlier splice"]);
    const bellows = likelyDamage(van, "W222").map((d) => d.kind);
    expect(bellows[0]).to.equal("broken");
    expect(bellows).to.deep.equal([...new Set(bellows)]);
  });
  it("lies in a segment of the loom that the wire runs through, or that ends at the connector", () => {
    expect(damagePlaces(van, "W222").map((p) => p.segment)).to.deep.equal(["rear"]);
    expect(damagePlaces(van, "C10.3").map((p) => p.segment)).to.include.members(["dash", "engine"]);
  });
  it("knows wires, cavities, grounds and parts, and nothing of what the circuit does not hold", () => {
    expect(["W4", "C10.3", "G5", "ECM", "S1", "Q9"].map((at) => damagedThing(van, at))).to.deep.equal(
      ["wire", "cavity", "ground", "part", "wire", undefined], // prettier-ignore
    );
    expect(likelyDamage(van, "Q9")).to.deep.equal([]);
  });
});

describe("neighbours at risk", () => {
  const ask = (at: string, segment?: string, suspected: ReadonlyMap<string, number> = new Map()) =>
    neighboursAtRisk({ harness: van, at, segment, suspected, volts });
  it("are all wires of the segment and no other, those that would short first", () => {
    const found = ask("W4", "main");
    const inMain = van.wires.filter((w) => w.id !== "W4" && w.segments?.includes("main") === true);
    expect(new Set(found.map((n) => n.wire.id))).to.deep.equal(new Set(inMain.map((w) => w.id)));
    expect(found[0]!.why.join()).to.match(/12\.\d V apart/);
    expect(found.map((n) => n.risk)).to.deep.equal(found.map((n) => n.risk).sort((p, q) => q - p));
  });
  it("come first when they are suspected already, or the other line of the same bus", () => {
    const last = ask("W4", "main").at(-1)!.wire.id;
    expect(ask("W4", "main", new Map([[last, 0.8]]))[0]!.wire.id).to.equal(last);
    const pair = van.wires.filter((w) => busPairOf(van, w) !== undefined);
    expect(pair.length).to.be.above(6);
    const [one] = pair.filter((w) => (w.segments ?? []).length > 0);
    expect(ask(one!.id)[0]!.why).to.include("other line of the same bus");
  });
  it("of a cavity are the wires of the cavities around it, on both sides", () => {
    const around = ask("C10.3");
    expect(around.length).to.be.above(1);
    for (const n of around) expect(n.wire.from.component === "C10" || n.wire.to.component === "C10", n.wire.id).to.equal(true);
    for (const n of around)
      for (const end of [n.wire.from, n.wire.to]) if (end.component === "C10") expect(end.pin).to.not.match(/^3[ab]?$/);
    expect(ask("G5")).to.deep.equal([]);
  });
});

describe("wire sizes", () => {
  it("of AWG are those of its formula", () => {
    // Hand-worked: 0.127·92^(20/39) = 1.291 mm across for 16, 0.127·92^(24/39) = 2.053 mm for 12, 11.684 mm for 4/0.
    for (const [n, area] of [[16, 1.309], [12, 3.309], [-3, 107.2]] as const) expect(awgAreaMm2(n)).to.be.closeTo(area, area / 500); // prettier-ignore
    expect([0.75, 1.5, 2.5, 95, 200].map(awgFor)).to.deep.equal(["18", "14", "12", "4/0", undefined]);
  });
  it("carry more the thicker they are, and what their surface sheds", () => {
    const all = WIRE_AREAS_MM2.map(carriesAmps);
    expect(all).to.deep.equal([...all].sort((p, q) => p - q));
    // 1 mm²: R′ at 105 °C = 17.24 mΩ/m · 1.334 = 23.0 mΩ/m; D = 1.128·1.15 + 0.6 = 1.898 mm; 12·π·1.898e-3·45 = 3.22 W/m; √(3.22/0.0230) = 11.8 A.
    expect(carriesAmps(1)).to.be.closeTo(11.8, 0.1);
  });
  it("of a new piece are checked against the old one, the rule set and the fuse", () => {
    const wire = wireOf(van, "W39");
    const same = checkPiece({ harness: van, wire, areaMm2: 0.75, lengthM: 0.4, joints: 2, amps: 2, rules: "usual" });
    // 17.24e-3·0.4/0.75 = 9.19 mΩ, and two joints of 1 mΩ.
    expect(same.ohms).to.be.closeTo(0.01119, 1e-4);
    expect(same.dropVolts).to.be.closeTo(0.0224, 2e-4);
    expect(same.problems).to.deep.equal([]);
    const thin = checkPiece({ harness: van, wire, areaMm2: 0.35, lengthM: 6, joints: 2, amps: 2, rules: "usual" });
    expect(thin.problems.join("; ")).to.match(/thinner than drawn.*drops 0\.60 V.*F20 \(20 A\) does not protect it: take 2\.5 mm²/);
    expect(fuseBefore(van, wire)).to.deep.equal({ id: "F20", ratingAmps: 20 });
    expect(() => checkPiece({ harness: van, wire, areaMm2: 0, lengthM: 1, joints: 2, amps: 2, rules: "usual" })).to.throw(RangeError);
  });
});

describe("joints", () => {
  const allowed = (h: Harness, id: string, amps = 2): readonly string[] =>
    jointChoices(h, wireOf(h, id), amps).flatMap((c) => (c.not.length === 0 ? [c.method] : []));
  it("are not soldered where the loom bends, not sleeved where it is hot or the current is high, and keep a bus twisted", () => {
    expect(allowed(van, "W222")).to.not.include("solder and shrink");
    expect(allowed(van, "W39")).to.not.include("solder sleeve");
    expect(allowed(van, "W222", 2)).to.include("solder sleeve");
    expect(allowed(van, "W222", 20)).to.not.include("solder sleeve");
    const bus = van.wires.find((w) => busPairOf(van, w) !== undefined)!;
    expect(jointChoices(van, bus, 0.1)[0]!.how.join()).to.match(/at most 50 mm untwisted/);
  });
  it("are not made at all in a restraint circuit", () => {
    const wire = van.wires.find((w) => w.from.component === "SQ1" || w.to.component === "SQ1")!;
    expect(allowed(van, wire.id)).to.deep.equal([]);
    expect(repairSteps({ harness: van, at: wire.id, way: "wire", highVoltage: false }).map((s) => s.id)).to.include("restraint wait");
  });
});

describe("a fuse that was found", () => {
  it("is never larger than drawn, and a smaller one is told with what it has to carry", () => {
    expect(checkFuse(van, "F20", 20).kind).to.equal("as drawn");
    const larger = checkFuse(van, "F20", 30);
    expect(larger.kind === "larger" ? larger.words : "").to.match(/30 A fitted, 20 A drawn\. .*not protected: fit 20 A/);
    expect(checkFuse(van, "F20", 10).kind).to.equal("smaller");
    expect(checkFuse(van, "Q1", 10).kind).to.equal("unknown");
  });
});

describe("find it or overlay it", () => {
  const hidden = (minutes: number): Harness =>
    parseNotation(
      `zone roof "above the headlining" ${minutes}min\nloom rail "roof rail" in roof\nBAT -- W1 RD 2mm2 1m -- F1(10A) -- W2 RD 1mm2 3m via=rail -- LA(lamp 21W) -- BK 1mm2 1m -- G1\nG1 -- BK 16mm2 1m -- BAT`,
    ).harness!;
  const ways = (minutes: number, segment: string | undefined, neighbours = 0) => {
    const harness = hidden(minutes);
    return findOrOverlay({ harness, wire: wireOf(harness, "W2"), segment, neighbours });
  };
  it("opens the loom as long as that costs not much more than a new wire, for it shows the neighbours", () => {
    expect(wireOf(hidden(6), "W2").segments).to.deep.equal(["rail"]);
    expect(ways(6, "rail").proposed).to.equal("find");
    // 120 + 6·0.4 + 8 = 130 min against 2·5 + 12 + 3·3.5 (3.45 m rounded) = 32.5 min.
    const buried = ways(120, "rail", 5);
    expect([buried.find.minutes, buried.overlay.minutes, buried.overlay.lengthM, buried.proposed]).to.deep.equal([130, 33, 3.5, "overlay"]);
    expect(buried.overlay.leaves).to.match(/5 neighbours unseen/);
  });
  it("opens the whole run while nobody knows where the damage is", () => {
    expect(ways(6, undefined).find.minutes).to.be.above(ways(6, "rail").find.minutes);
  });
});

describe("a new ground", () => {
  it("goes to a stud of the same metal, no strap's, with a wire that drops little enough", () => {
    const found = groundCandidates(van, "G5", 8, run);
    expect(found[0]!.id).to.equal("G4");
    expect(found.map((c) => c.id)).to.not.include("G5");
    const body = van.components.find((c) => c.id === "G5")!;
    expect(found[0]!.on).to.equal(body.kind === "ground" ? body.on : "");
    for (const c of found) if (c.wireVolts !== undefined) expect(c.wireVolts, c.id).to.be.at.most(0.05);
    expect(found[0]!.serves).to.include("HRN");
    expect(() => groundCandidates(van, "F5", 8, run)).to.throw(RangeError, /F5 is not a ground/);
  });
});

describe("the proof that a part needs", () => {
  const pump = parseNotation(
    'BAT -- W1 RD 4mm2 1m -- F1(20A) -- W2 RD 2.5mm2 1m -- SW1 -- W3 RD 2.5mm2 2m -- PMP(motor 8A "pump, left")\nPMP -- W4 BK 2.5mm2 1m -- G1\nG1 -- W5 BK 25mm2 1m -- BAT',
  ).harness!;
  const state = { ...REST_STATE, key: "run" as const, on: ["SW1"] };
  const answerTo = (evidence: readonly Evidence[]): CaseAnswer =>
    answerCase({ ...DEFAULT_QUESTION, harness: pump, focus: ["PMP"], state, evidence, vehicleNow: state });
  const dead: Evidence = {
    id: "a",
    state,
    observe: { kind: "part", part: "PMP" },
    result: { kind: "word", word: "none" },
    source: "technician",
  };
  const read = (id: string, red: string, value: number): Evidence => ({
    id,
    state,
    observe: { kind: "volts", red, black: "BAT.-" },
    result: { kind: "value", value, resolution: 0.01 },
    source: "technician",
  });
  it("is missing before feed and ground were read, and says so one by one", () => {
    const proof = partProof(pump, "PMP", answerTo([dead]), [dead]);
    expect(proof.isAllowed).to.equal(false);
    expect(proof.proofs.map((p) => p.what)).to.deep.equal(["feed", "ground", "command"]);
    expect(proof.proofs.filter((p) => !p.isShown).every((p) => p.missing !== "")).to.equal(true);
    expect(proof.readings.map((r) => r.id)).to.deep.equal(["a"]);
  });
  it("is there with a good feed and a good ground under load, and names the readings and the price of being wrong", () => {
    const across: Evidence = { ...read("d", "PMP.1", 12.48), observe: { kind: "volts", red: "PMP.1", black: "PMP.2" } };
    const evidence = [dead, read("b", "PMP.1", 12.5), read("c", "PMP.2", 0.01), across];
    const proof = partProof(pump, "PMP", answerTo(evidence), evidence);
    expect([...proof.others, ...proof.proofs.map((p) => p.missing)].filter((w) => w !== "")).to.deep.equal([]);
    expect(proof.isAllowed).to.equal(true);
    expect(proof.proofs.every((p) => p.isShown)).to.equal(true);
    expect(proof.readings.map((r) => r.id)).to.deep.equal(["a", "b", "c", "d"]);
    expect(proof.wrong.chance).to.be.within(0, 0.05);
  });
  it("is none at all for a part that the findings do not point at", () => {
    const evidence = [dead, read("b", "PMP.1", 0.02)];
    const proof = partProof(pump, "PMP", answerTo(evidence), evidence);
    expect([proof.isAllowed, proof.proofs.some((p) => p.isShown && p.what === "feed")]).to.deep.equal([false, false]);
    expect(partProof(pump, "PMP", undefined, []).others).to.deep.equal(["no finding points at PMP"]);
  });
  it("tells what comes with a new one: coding, and its twin", () => {
    expect(comesWith(van, "ECM").join()).to.match(/coding/);
    expect(comesWith(van, "WS1").join()).to.match(/WS2 is of the same kind/);
    expect(comesWith(van, "Q1")).to.deep.equal([]);
  });
});

describe("steps of a repair", () => {
  const ids = (at: string, way: Parameters<typeof repairSteps>[0]["way"], highVoltage = false): readonly string[] =>
    repairSteps({ harness: van, at, way, highVoltage }).map((s) => s.id);
  it("take negative off first and put it on last, with memory kept before and settings after", () => {
    const steps = ids("W4", "wire");
    for (const [first, then] of [
      ["key off", "memory"],
      ["memory", "negative off"],
      ["negative off", "cut"],
      ["join", "negative on"],
      ["negative on", "clear"],
    ] as const)
      // prettier-ignore
      expect(steps.indexOf(first), `${first} before ${then}`).to.be.within(0, steps.indexOf(then) - 1);
    expect(ids("W222", "wire")).to.not.include("negative off");
    expect(ids("W222", "wire")).to.include.members(["unplug", "plug in"]);
  });
  it("carry their caution, high voltage before everything", () => {
    expect(ids("W222", "wire", true)[0]).to.equal("high voltage");
    const fuse = repairSteps({ harness: van, at: "F20", way: "fuse", highVoltage: false }).find((s) => s.id === "fuse")!;
    expect(fuse.caution).to.match(/larger fuse lets the wire burn/);
  });
});

describe("an estimate", () => {
  const lines = [
    { kind: "labour" as const, text: "trace and repair", quantity: 1.5, unitPrice: 7250 },
    { kind: "material" as const, text: "wire 2.5 mm²", quantity: 0.333, unitPrice: 190 },
  ];
  it("is summed line by line in the smallest unit, as it is printed", () => {
    // 108.75 + 0.63 (0.6327) = 109.38; 20 % = 21.876, rounded.
    expect(totalsOf({ currency: "EUR", taxPercent: 20, lines })).to.deep.equal({ lines: [10875, 63], net: 10938, tax: 2188, gross: 13126 });
  });
  it("keeps to the decimals of its currency, and knows what is none", () => {
    expect(["EUR", "JPY", "TND", "QQQ", "eu"].map(decimalsOf)).to.deep.equal([2, 0, 3, undefined, undefined]);
    expect(formatMoney(1234, "JPY")).to.match(/1,234/);
    expect(formatMoney(1234, "EUR")).to.match(/12\.34/);
    expect(() => formatMoney(1, "QQQ")).to.throw(RangeError);
    expect([
      readMoney("12,34", "EUR"),
      readMoney("12.3", "EUR"),
      readMoney("-5", "EUR"),
      readMoney("12.345", "EUR"),
      readMoney("12.3", "JPY"),
      readMoney("a", "EUR"),
    ]).to.deep.equal(
      [1234, 1230, -500, undefined, undefined, undefined], // prettier-ignore
    );
  });
  it("wants a line, and takes one of nothing", () => {
    expect(estimateSchema.safeParse({ currency: "EUR", taxPercent: 20, lines: [] }).success).to.equal(false);
    expect(estimateSchema.safeParse({ currency: "QQQ", taxPercent: 20, lines }).success).to.equal(false);
    expect(totalsOf(estimateSchema.parse({ currency: "JPY", taxPercent: 0, lines: [{ ...lines[0], unitPrice: 0 }] })).gross).to.equal(0);
  });
});
