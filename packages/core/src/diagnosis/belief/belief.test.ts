import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { believe } from "./belief.ts";
import { answerCase, questionOf } from "../answer/case-file.ts";
import { minutesOf } from "../effort/cost.ts";
import { accessOf, cautionsOf } from "../effort/cautions.ts";
import { diagnose, DEFAULT_QUESTION, type Question } from "../answer/diagnose.ts";
import { evidence as evidenceSchema, type Evidence } from "../evidence/evidence.ts";
import type { Observable, ResultWord } from "../evidence/kinds/index.ts";
import { foreseen } from "../answer/foresee.ts";
import { likelihood, wordShares } from "../evidence/likelihood.ts";
import { ownDoing } from "../predict/own-doing.ts";
import { factorOf } from "../hypotheses/priors.ts";
import { shownBy } from "../predict/shown.ts";
import { vehicleOf } from "../../test/vehicles.ts";

const horn = vehicleOf("rig-horn");
const pressed: VehicleState = { ...REST_STATE, on: ["SW1"] };

let made = 0;
const word = (observe: Observable, w: ResultWord, state = pressed): Evidence => ({
  id: `e${++made}`,
  state,
  observe,
  result: { kind: "word", word: w },
  source: "technician",
});
const volts = (red: string, black: string, value: number, state = pressed): Evidence => ({
  id: `e${++made}`,
  state,
  observe: { kind: "volts", red, black },
  result: { kind: "value", value, resolution: 0.01 },
  source: "technician",
});
const ask = (evidence: readonly Evidence[], more: Partial<Question> = {}): Question => ({
  ...DEFAULT_QUESTION,
  harness: horn,
  focus: ["HRN"],
  state: pressed,
  evidence,
  ...more,
});
const weak = word({ kind: "part", part: "HRN" }, "weak");
const battery = volts("BAT.+", "BAT.-", 12.6);

/** What a meter shows on a horn rig with these faults. */
function measured(red: string, black: string, truth: readonly Fault[]): Evidence {
  const e = volts(red, black, 0);
  const shown = shownBy(horn, e, truth);
  if (shown.kind !== "value") throw new Error("no value");
  return { ...e, result: { kind: "value", value: Number(shown.value.toFixed(2)), resolution: 0.01 } };
}

describe("likelihood", () => {
  const o: Observable = { kind: "volts", red: "a", black: "b" };
  it("weighs a reading against one that says nothing: 1/(σ√2π) × 20 V at its middle", () => {
    // At 0 V the model's 20 mV and the meter's 0.2 mV: 1/(0.02 × 2.5066) × 20 = 399.
    const p = { value: 0, low: 0, high: 0 };
    expect(likelihood(o, { kind: "value", value: 0 }, p)).to.be.closeTo(399, 2);
    // Two standard deviations off: e⁻² of that.
    expect(likelihood(o, { kind: "value", value: 0.04 }, p)).to.be.closeTo(399 * Math.exp(-2), 2);
  });
  it("spreads over what lies between severities, or takes the best of it", () => {
    const p = { value: 5, low: 4, high: 6 };
    // Even over 2 V: 1/2 × 20 = 10 anywhere well inside.
    expect(likelihood(o, { kind: "value", value: 5.5 }, p)).to.be.closeTo(10, 0.1);
    expect(likelihood(o, { kind: "value", value: 5.5 }, p, "best")).to.be.above(90);
    expect(likelihood(o, { kind: "value", value: 5.5 }, p, "point")).to.be.below(1e-6);
  });
  it("gives every word a share, which sum to 1", () => {
    for (const value of [0, 0.05, 0.3, 0.7, 1])
      for (const observe of [
        { kind: "part", part: "x" },
        { kind: "lamp", red: "a", black: "b", watts: 21 },
        { kind: "answers", module: "m" },
        { kind: "look", at: "W1" },
      ] as Observable[])
        expect(
          Object.values(wordShares(observe, { value, low: value, high: value })).reduce((s, x) => s + x, 0),
          observe.kind,
        ).to.be.closeTo(1, 1e-9);
  });
  it("refuses a word where a number is wanted, and the other way about", () => {
    expect(evidenceSchema.safeParse({ ...weak, observe: o }).success).to.equal(false);
    expect(evidenceSchema.safeParse({ ...battery, observe: { kind: "part", part: "HRN" } }).error!.issues[0]!.message).to.match(
      /full, weak, none, flickers/,
    );
  });
});

describe("belief", () => {
  // The horn of the rig takes 5 A at 12 V: 2.4 Ω. With 3 Ω in W9 it gets 12.6 × 2.4/(2.4 + 3 + wires) ≈ 5.5 V.
  const found = [weak, battery, volts("R1.87", "BAT.-", 12.5), volts("C1.1a", "BAT.-", 5.55)];

  it("is the same for the same findings, however often and with what others they were asked for in between", () => {
    const found = [word({ kind: "part", part: "HRN" }, "weak"), volts("HRN.1", "HRN.2", 8.4), volts("HRN.2", "BAT.-", 2.9)];
    const shares = (q: Question): readonly number[] => [...diagnose(q).belief.repairs];
    const first = shares(ask(found));
    const seldom = shares(ask(found, { presence: 0.3 }));
    expect(seldom).not.to.deep.equal(first);
    shares(ask([...found, volts("HRN.1", "BAT.-", 11.3)]));
    // From another place they come as copies.
    expect(shares(ask(structuredClone(found)))).to.deep.equal(first);
    expect(shares(ask(structuredClone(found), { presence: 0.3 }))).to.deep.equal(seldom);
  });
  it("sums to 1, and does not care for the order", () => {
    const { oracle } = diagnose(ask(found));
    const sum = (b: ReturnType<typeof believe>): number => b.posteriors.reduce((s, x) => s + x, b.unlisted);
    const [there, back] = [believe(oracle, found), believe(oracle, [...found].reverse())];
    expect(sum(there)).to.be.closeTo(1, 1e-9);
    there.repairs.forEach((p, i) => expect(back.repairs[i]).to.be.closeTo(p, 1e-4));
  });
  it("finds the wire between a good and a bad reading, and its ohms", () => {
    const a = answerCase(ask([...found, volts("R1.87", "C1.1a", 6.96)]));
    expect(a.suspects[0]).to.include({ element: "W9", mode: "resistance" });
    expect(a.suspects[0]!.probability).to.be.above(0.95);
    expect(Number(/about ([\d.]+) Ω/.exec(a.suspects[0]!.severity!)![1])).to.be.closeTo(3, 0.3);
    expect(a.enoughToAct).to.include({ yes: true, act: "mend", element: "W9" });
    expect(a.suspects[0]!.for.map((r) => r.measured)).to.include("5.55 V");
    const fuse = a.discarded.find((x) => x.element === "F1")!;
    expect(fuse.reason.words, "what put the fuse out").to.match(/R1 horn relay, terminal 87|C1 cavity 1/);
  });
  it("takes a struck reading back as if it had never been", () => {
    const wrong = volts("R1.87", "BAT.-", 0.02);
    answerCase(ask([...found, wrong]));
    expect(answerCase(ask(found)).suspects[0]!.element).to.equal("W9");
  });
  it("names the reading that fits nothing else, and stays right", () => {
    const slip = volts("R1.30", "BAT.-", 3.3);
    const a = answerCase(ask([...found, slip, volts("C1.1b", "BAT.-", 5.52)]));
    expect(a.suspects[0]!.element).to.equal("W9");
    expect(a.doubtful.map((x) => x.evidence)).to.deep.equal([slip.id]);
    expect(a.misfit).to.match(/One reading does not fit/);
  });
  it("doubts a reading that one fault does not explain, and thinks of two once it is taken again", () => {
    const truth = [
      { kind: "series", link: "W4", ohms: 0.8 },
      { kind: "series", link: "W9", ohms: 2 },
    ] as const;
    const measure = (red: string, black: string): Evidence => measured(red, black, truth);
    const found = [weak, battery, measure("BAT.+", "R1.30"), measure("R1.87", "HRN.1"), measure("BAT.+", "F1.2")];
    expect(diagnose(ask(found)).belief.doubt[2]).to.be.above(0.5);
    const again = ask([...found, measure("BAT.+", "R1.30")]);
    const { belief, oracle } = diagnose(again);
    const share = (...ids: string[]): number =>
      ids.reduce((s, id) => s + belief.repairs[oracle.space.repairs.find((r) => r.element === id)!.index]!, 0);
    // Upstream of R1.30 behind the fuse's second blade there is W4 alone; downstream W9, C1.1 and W10 are one to these leads.
    expect(share("W4")).to.be.above(0.8);
    expect(share("W9", "C1.1", "W10")).to.be.above(0.8);
    expect(belief.unlisted + belief.alive.reduce((s, c) => s + belief.posterior(c), 0)).to.be.closeTo(1, 1e-6);
    expect(answerCase(again).suspects.find((s) => s.element === "W4")!.with).to.match(/high resistance/);
  });
  it("lets nothing hang on one reading: another is asked for, as if that had not been taken", () => {
    // 3 Ω in the plug with a horn of 2.4 Ω: 12.5 V × 3/5.4 ≈ 6.9 V across it.
    const truth = [{ kind: "series", link: "C1.1", ohms: 3 }] as const;
    const found = [weak, battery, measured("C1.1a", "C1.1b", truth)];
    expect(found[2]!.result).to.deep.include({ kind: "value" });
    const first = diagnose(ask(found));
    expect(first.enough!.element).to.equal("C1.1");
    expect(first.enough!.probability).to.be.above(0.95);
    expect(first.enough!.missing.map((m) => m.what)).to.deep.equal(["confirmation"]);
    // A belief without a reading is the belief of the others.
    const less = believe(first.oracle, found.slice(0, 2));
    const at = first.oracle.space.repairs.findIndex((r) => r.element === "C1.1");
    expect(first.belief.without(2, at)).to.be.closeTo(less.repairs[at]!, 0.05);
    // The next test is chosen for what it tells without it, and a reading or two that show the same are enough.
    const more = [...found];
    for (let d = first; d.enough!.yes !== true && more.length < 6; d = diagnose(ask(more))) {
      const next = d.next()[0]!;
      more.push({
        id: `next ${more.length}`,
        state: next.state,
        observe: next.observe,
        result: shownBy(horn, next, truth),
        source: "technician",
      });
    }
    expect(diagnose(ask(more)).enough).to.deep.include({ yes: true, element: "C1.1" });
  });
  it("tells what it costs to be wrong", () => {
    const { ifWrong, element } = diagnose(ask([weak, battery, volts("BAT.+", "HRN.1", 3.9)])).enough!;
    expect(ifWrong.chance).to.be.within(0, 1);
    expect(ifWrong.minutes).to.be.above(19);
    expect(ifWrong.instead).not.to.equal(element);
  });
  it("says so when no single fault fits", () => {
    // Full voltage at the relay's input and output, none behind the plug, and yet the horn sounds weak: and the ground is bad too.
    const odd = [
      weak,
      battery,
      volts("R1.87", "BAT.-", 9.1),
      volts("R1.30", "BAT.-", 12.5),
      volts("HRN.1", "BAT.-", 3.1),
      volts("HRN.2", "BAT.-", 1.9),
      volts("C1.1a", "BAT.-", 8.7),
    ];
    const a = answerCase(ask(odd));
    expect(a.misfit).to.match(/two (faults|together)/);
    expect(a.doubtful.length).to.be.within(1, 3);
  });
  it("does not let one reading taken while the fault was away clear the wire", () => {
    const away = { ...volts("C1.1a", "BAT.-", 12.3), present: false };
    const q = ask(
      [weak, battery, { ...volts("C1.1a", "BAT.-", 5.55), present: true }, { ...volts("R1.87", "BAT.-", 12.5), present: true }, away],
      { presence: 0.3 },
    );
    expect(answerCase(q).suspects[0]!.element).to.equal("W9");
  });
  it("lets circumstances raise what they speak for", () => {
    const van = vehicleOf("plover");
    const wet = factorOf(van, [{ kind: "condition", what: "rain" }]);
    const zone = van.zones!.find((z) => z.exposure.includes("water"))!;
    const there = van.components.find((c) => c.zone === zone.id)!;
    expect(wet(there.id)).to.be.above(5 * factorOf(van, [])(there.id) - 1e-9);
    expect(factorOf(van, [{ kind: "replaced", part: "STA" }])("STA")).to.be.below(0.2);
    expect(factorOf(van, [{ kind: "similar", at: "W3", cases: 4 }])("W3") / factorOf(van, [])("W3")).to.equal(5);
  });
  it("tells with a suspect what made it likelier from the start, and by how much", () => {
    const dead = word({ kind: "part", part: "HRN" }, "none");
    const without = answerCase(ask([dead, battery])).suspects.find((s) => s.element === "HRN")!;
    const similar = { ...ask([dead, battery]), circumstances: [{ kind: "similar" as const, at: "HRN", cases: 1 }] };
    const told = answerCase(similar).suspects.find((s) => s.element === "HRN")!;
    expect(without.background).to.deep.equal([]);
    expect(told.background).to.deep.equal(["1 similar closed job ended here: twice as likely from the start"]);
    const odds = (p: number): number => p / (1 - p);
    expect(odds(told.probability) / odds(without.probability)).to.be.closeTo(2, 0.05);
  });
});

describe("enough to act", () => {
  it("withholds a new part until its feed and ground are measured", () => {
    const dead = word({ kind: "part", part: "HRN" }, "none");
    const a = answerCase(ask([dead, battery, volts("HRN.1", "HRN.2", 12.4)]));
    expect(a.suspects[0]!.element).to.equal("HRN");
    const unproven = answerCase(ask([dead, battery]));
    expect(unproven.enoughToAct.yes).to.equal(false);
    const proven = answerCase(
      ask([dead, battery, volts("HRN.1", "HRN.2", 12.4), volts("HRN.2", "BAT.-", 0.0), volts("HRN.1", "BAT.-", 12.4)]),
    );
    expect(proven.enoughToAct).to.include({ yes: true, act: "renew", element: "HRN" });
  });
  it("wants a part that takes a fuse with it unplugged before it is renewed", () => {
    const lamps = vehicleOf("rig-lamps");
    const on: VehicleState = { ...REST_STATE, on: ["SW2"] };
    const lit: VehicleState = { ...on, opened: ["F1"] };
    const inPlace: Observable = { kind: "lamp", red: "F1.1", black: "F1.2", watts: 21 };
    const found = [
      word({ kind: "part", part: "L2" }, "none", on),
      word(inPlace, "bright", lit),
      word(inPlace, "dark", { ...lit, opened: ["C1", "F1"] }),
      word({ kind: "look", at: "W10" }, "nothing", on),
      word({ kind: "look", at: "W9" }, "nothing", on),
      word({ kind: "look", at: "W8" }, "nothing", on),
    ];
    const q = ask(found, { harness: lamps, focus: ["L2"], state: on });
    const before = answerCase(q);
    expect(before.suspects[0]!.element).to.equal("L2");
    expect(before.enoughToAct.yes).to.equal(false);
    expect(before.enoughToAct.missing.some((m) => m.what === "isolation" || m.what === "belief")).to.equal(true);
    const after = answerCase({ ...q, evidence: [...found, word(inPlace, "dark", { ...lit, opened: ["F1", "L2"] })] });
    expect(after.enoughToAct.missing.map((m) => m.what)).not.to.include("isolation");
  });
});

describe("next test", () => {
  it("offers what tells most a minute, safe and not done yet, with what it would show", () => {
    const found = [word({ kind: "part", part: "HRN" }, "none"), battery];
    const { next } = answerCase(ask(found));
    expect(next.length).to.be.above(3);
    expect(next[0]!.bits / next[0]!.minutes).to.be.at.least(next[1]!.bits / next[1]!.minutes - 1e-9);
    expect(next[0]!.expected.suspects.some((s) => s.shows !== next[0]!.expected.sound)).to.equal(true);
    for (const t of next) expect(t.observe).not.to.deep.equal(battery.observe);
  });
  it("proposes only what the shop has instruments for", () => {
    const { next } = answerCase(ask([weak, battery], { instruments: [] }));
    expect(next.map((t) => t.observe.kind)).not.to.include("volts");
    expect(next.map((t) => t.kind)).not.to.include("give a feed");
  });
  it("says how to get there, what is pierced, and what to beware of", () => {
    const gritter = vehicleOf("gritter");
    const test = {
      state: { ...REST_STATE, opened: ["L7"], engine: "idling" as const },
      observe: { kind: "volts" as const, red: "G8", black: "S8" },
    };
    const access = accessOf(gritter, test);
    expect(access.find((a) => a.startsWith("G8"))).to.match(/frame, rear lamps|lamps, 4 min/);
    expect(access.at(-1)).to.match(/^S8: .*seal it/);
    expect(cautionsOf(gritter, test).join(" ")).to.match(/engine runs.*unplugging/);
    expect(cautionsOf(gritter, { state: REST_STATE, observe: { kind: "volts", red: "G8", black: "BAT.-" } })).to.deep.equal([]);
  });
  it("foresees the likeliest outcomes of its own proposal, each once", () => {
    const q = ask([weak, battery]);
    const d = diagnose(q);
    const ahead = foreseen(q, d);
    expect(ahead.length).to.be.within(1, 3);
    const [first] = d.next();
    for (const a of ahead) expect(a.evidence.at(-1)).to.deep.include({ observe: first!.observe, state: first!.state });
    expect(new Set(ahead.map((a) => JSON.stringify(a.evidence.at(-1)!.result))).size).to.equal(ahead.length);
    expect(foreseen(q, { ...d, next: () => [] })).to.deep.equal([]);
  });
  it("counts the walk to a place once", () => {
    const test = { state: pressed, observe: { kind: "volts", red: "HRN.1", black: "BAT.-" } } as const;
    expect(minutesOf(horn, test, pressed, new Set(["HRN", "BAT"]))).to.be.below(minutesOf(horn, test, pressed, new Set()));
    const idle = { ...test, state: REST_STATE };
    expect(minutesOf(horn, idle, pressed, new Set(["HRN", "BAT"]))).to.be.above(minutesOf(horn, test, pressed, new Set(["HRN", "BAT"])));
  });
  it("asks the same file the same question as the worker", () => {
    const file = {
      notation: "",
      complaint: { words: "", focus: ["HRN"], state: pressed, presence: 1 },
      evidence: [weak, battery],
      circumstances: [],
      instruments: [...DEFAULT_QUESTION.instruments],
    };
    expect(answerCase(questionOf(file, horn)).suspects[0]!.element).to.equal(answerCase(ask([weak, battery])).suspects[0]!.element);
  });
});

describe("what a scan finds", () => {
  const brigg = vehicleOf("brigg");
  const run: VehicleState = { ...REST_STATE, key: "run" };
  const scanned = (observe: Observable, w: ResultWord): Evidence => ({ ...word(observe, w, run), source: "scan" });
  const asked = (evidence: readonly Evidence[]): Question => ({
    ...DEFAULT_QUESTION,
    harness: brigg,
    focus: ["ECM"],
    state: run,
    evidence,
  });
  it("says which of the faults of a silent module it is that the codes speak for", () => {
    const silent = scanned({ kind: "answers", module: "ECM" }, "no");
    const first = diagnose(asked([silent]));
    expect(first.belief.unlisted).to.be.below(0.2);
    // Its fuse takes its supply with it; a splice of the cluster does not.
    const share = (id: string): number => first.belief.repairs[first.oracle.space.repairs.find((r) => r.element === id)?.index ?? -1] ?? 0;
    expect(share("F4")).to.be.above(0.02);
  });
  it("puts aside what lies beside the complaint, or is not a part of this vehicle", () => {
    const plain = diagnose(asked([scanned({ kind: "answers", module: "ECM" }, "no")])).belief;
    const more = diagnose(
      asked([
        scanned({ kind: "answers", module: "ECM" }, "no"),
        scanned({ kind: "answers", module: "ABC" }, "no"),
        scanned({ kind: "code", code: "B1234" }, "active"),
        scanned({ kind: "code", code: "P0301" }, "stored"),
      ]),
    ).belief;
    expect(more.unlisted).to.be.closeTo(plain.unlisted, 1e-6);
    expect(more.doubt.every((d) => d < 0.5)).to.equal(true);
  });
});

describe("ownDoing", () => {
  it("names what is unplugged as the cause of the code that it sets, and leaves the others", () => {
    const brigg = vehicleOf("brigg");
    const run: VehicleState = { ...REST_STATE, key: "run" };
    const silent = brigg.monitors!.find((m) => m.silent !== undefined);
    const ranged = brigg.monitors!.filter((m) => m.pin !== undefined);
    const monitor = silent ?? ranged[0]!;
    const off = monitor.silent ?? "ECT";
    const state = { ...run, opened: [off] };
    const code = (id: string, s: VehicleState): Evidence => word({ kind: "code", code: id }, "active", s);
    const evidence = [code(monitor.code, state), code(monitor.code, run)];
    const d = diagnose({ ...DEFAULT_QUESTION, harness: brigg, focus: ["L1"], state: run, evidence });
    expect(ownDoing(d.oracle, evidence)).to.deep.equal([{ code: monitor.code, because: [`${off} unplugged or pulled`] }]);
  });
});
