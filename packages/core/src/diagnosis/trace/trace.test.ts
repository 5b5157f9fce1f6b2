import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { linksOf, type Harness } from "../../harness/index.ts";
import { displayText, parseReading, predictReading } from "../../instruments/index.ts";
import type { RuleSet } from "../../limits/index.ts";
import { circuitOf, demoCircuits, FAN, fanOn, loadedState } from "../../test/circuits.ts";
import { judgePath, type ClampFact, type PathJudgement } from "./judge.ts";
import { joinPotentials, type VoltFact } from "./potentials.ts";
import { buildStaircase } from "./staircase.ts";
import { answerPath, type PathAnswer } from "./verdict.ts";
import { nextWords, wordVerdict } from "./words.ts";

const fan = circuitOf(FAN);

/** What the meter shows on the faulty circuit, rounded to its digits. */
function measure(harness: Harness, state: VehicleState, faults: readonly Fault[], red: string, black = "BAT.-"): VoltFact {
  const reading = predictReading(harness, state, faults, { quantity: "volts", red, black });
  if (reading.kind !== "value") throw new Error(`no reading at ${red}`);
  const text = displayText("volts", reading.value);
  const read = parseReading(text);
  if (read.kind !== "value") throw new Error(text);
  const decimals = /\.(\d+)/.exec(text)?.[1]?.length ?? 0;
  return { id: `${red}~${black}`, red, black, volts: read.value, resolutionVolts: 10 ** -decimals * (text.endsWith("mV") ? 1e-3 : 1) };
}

function judged(
  harness: Harness,
  state: VehicleState,
  load: string,
  facts: readonly VoltFact[],
  clamps: ClampFact[] = [],
  rules: RuleSet = "usual",
): { trace: PathJudgement; answer: PathAnswer } {
  const trace = judgePath(harness, state, load, rules, facts, clamps);
  if (!("stretches" in trace)) throw new Error(trace.message);
  return { trace, answer: answerPath(harness, state, trace) };
}

/** Follows the tool's own proposals on a faulty circuit until it has an answer. */
function followProposals(
  harness: Harness,
  state: VehicleState,
  load: string,
  faults: readonly Fault[],
): { trace: PathJudgement; answer: PathAnswer; count: number } {
  const facts: VoltFact[] = [];
  for (;;) {
    const { trace, answer } = judged(harness, state, load, facts);
    if (answer.next === undefined || facts.length > 25) return { trace, answer, count: facts.length };
    facts.push(measure(harness, state, faults, answer.next.red, answer.next.black));
  }
}

describe("staircase", () => {
  it("descends from the battery's voltage to zero when the circuit is sound and loaded", () => {
    for (const { harness, file } of demoCircuits) {
      for (const load of harness.components.filter((c) => c.kind === "load")) {
        const staircase = buildStaircase(harness, loadedState(harness), load.id, "usual");
        if (staircase.kind !== "staircase") throw new Error(staircase.message);
        const volts = staircase.soundVolts.map((v) => v ?? Number.NaN);
        volts.slice(1).forEach((v, i) => expect(v, `${file} ${staircase.steps[i]!.link.id}`).to.be.at.most(volts[i]! + 1e-9));
        expect(volts.at(-1)).to.equal(0);
        const sum = staircase.steps.reduce((total, s) => total + s.soundDropVolts, 0);
        expect(sum, "drops add up to the source").to.be.closeTo(volts[0]!, 1e-9);
      }
    }
  });
});

describe("joinPotentials", () => {
  const fact = (id: string, red: string, black: string, volts: number): VoltFact => ({ id, red, black, volts, resolutionVolts: 0.01 });

  it("joins readings against different references, like a survey", () => {
    const { difference } = joinPotentials([
      fact("1", "A", "BAT", 12),
      fact("2", "A", "B", 0.5),
      fact("3", "block", "BAT", 0.2),
      fact("4", "C", "block", 3),
    ]);
    expect(difference("B", "BAT")?.volts).to.be.closeTo(11.5, 1e-9);
    expect(difference("A", "C")?.volts).to.be.closeTo(8.8, 1e-9);
    expect(difference("A", "nowhere")).to.equal(undefined);
  });

  it("lets the later of two readings count and names the one that the others contradict", () => {
    const later = joinPotentials([fact("old", "A", "BAT", 9), fact("new", "BAT", "A", -12)]);
    expect(later.difference("A", "BAT")?.volts).to.equal(12);
    const odd = joinPotentials([fact("1", "A", "B", 5), fact("2", "A", "BAT", 12), fact("3", "B", "BAT", 11)]);
    expect(odd.conflicts).to.deep.equal([{ reading: "1", expectedVolts: 1 }]);
  });
});

describe("judging", () => {
  it("leads by its own proposals to the faulty link, on every demo circuit and every conductor of every load's path", () => {
    let cases = 0;
    for (const { harness, file } of demoCircuits) {
      const state = loadedState(harness);
      for (const load of harness.components.filter((c) => c.kind === "load")) {
        const staircase = buildStaircase(harness, state, load.id, "usual");
        if (staircase.kind !== "staircase") throw new Error(file);
        for (const step of staircase.steps) {
          if (step.side === "load") continue;
          // Enough to lose about 1.5 V at the sound current, and an open.
          const ohms = 1.5 / Math.abs(step.soundAmps);
          for (const fault of [{ kind: "series", link: step.link.id, ohms } as const, { kind: "open", link: step.link.id } as const]) {
            const { answer, count } = followProposals(harness, state, load.id, [fault]);
            const found =
              answer.verdict.kind === "found"
                ? answer.verdict.stretch.steps.map((i) => staircase.steps[i]!.link.id)
                : [answer.verdict.kind];
            expect(found, `${file} ${load.id} ${fault.kind} ${step.link.id}`).to.include(step.link.id);
            expect(found.length, `${file} ${fault.kind} ${step.link.id}: ${found}`).to.equal(1);
            expect(count).to.be.at.most(14);
            cases++;
          }
        }
      }
    }
    expect(cases).to.be.above(100);
  });

  it("calls a sound circuit sound after battery, feed and ground", () => {
    for (const { harness, file } of demoCircuits) {
      const load = harness.components.find((c) => c.kind === "load")!;
      const { answer, trace } = followProposals(harness, loadedState(harness), load.id, []);
      expect(answer.verdict.kind, file).to.equal("path sound");
      expect(trace.stretches.filter((s) => s.verdict === "suspect")).to.deep.equal([]);
    }
  });

  it("tells the resistance that follows from drop and current", () => {
    const fault: Fault = { kind: "series", link: "C1.4", ohms: 2 };
    const facts = ["BAT.+", "FAN.1", "FAN.2", "C1.4a", "C1.4b"].map((p) => measure(fan, fanOn, [fault], p));
    const { answer, trace } = judged(fan, fanOn, "FAN", facts);
    if (answer.verdict.kind !== "found") throw new Error(answer.verdict.kind);
    const s = answer.verdict.stretch;
    expect(s.fromPlace).to.equal("C1.4a");
    expect(s.ohms).to.be.closeTo(2.002, 0.04);
    expect(s.ampsFrom).to.equal("voltage at the load");
    const words = wordVerdict(fan, trace, answer);
    expect(words.tone).to.equal("fault");
    expect(words.headline).to.contain("C1.4a").and.contain("C1.4b");
    expect(words.detail, "names the step").to.match(/^Connector C1 cavity 4\. At /);
    // The line with that resistance passes through the measured points.
    trace.measuredVolts.forEach((v, i) => {
      const explained = trace.explainedVolts?.[i];
      if (v !== undefined && explained !== undefined) expect(explained).to.be.closeTo(v, 0.03);
    });
  });

  it("takes the clamp's current when there is one", () => {
    const fault: Fault = { kind: "series", link: "W5", ohms: 3 };
    const facts = ["BAT.+", "FAN.2", "G1"].map((p) => measure(fan, fanOn, [fault], p));
    const { answer } = judged(fan, fanOn, "FAN", facts, [{ id: "c", around: "W1", amps: 0.79 }]);
    if (answer.verdict.kind !== "found") throw new Error(answer.verdict.kind);
    expect(answer.verdict.stretch).to.include({ ampsFrom: "clamp" });
    expect(answer.verdict.stretch.amps).to.be.closeTo(0.79, 1e-6);
  });

  it("withholds judgement where nothing flows, and says what would load it", () => {
    const { answer, trace } = judged(fan, REST_STATE, "FAN", [
      measure(fan, REST_STATE, [{ kind: "series", link: "W1", ohms: 500 }], "SW1.1"),
    ]);
    expect(answer.verdict).to.deep.equal({ kind: "unloaded", close: ["SW1 on"] });
    expect(wordVerdict(fan, trace, answer).headline).to.equal("No current flows, so this reading does not test the wire.");
    const pulled = { ...fanOn, opened: ["F1"] };
    expect(judged(fan, pulled, "FAN", []).answer.verdict).to.deep.equal({ kind: "unloaded", close: ["F1 back in"] });
  });

  it("wants a black lead that is not at battery negative measured first, and uses the reading then", () => {
    const lost: Fault[] = [{ kind: "series", link: "G2", ohms: 4 }];
    // Black on the body, whose strap is bad: the feed seems to lose what the ground loses.
    const first = measure(fan, fanOn, lost, "FAN.1", "G1");
    const { answer, trace } = judged(fan, fanOn, "FAN", [measure(fan, fanOn, lost, "BAT.+"), first]);
    expect(answer.verdict).to.deep.include({ kind: "reference", black: "G1" });
    expect(answer.next).to.include({ red: "G1", black: "BAT.-" });
    expect(wordVerdict(fan, trace, answer).detail).to.contain("The reference is itself measured first");
    const tied = judged(fan, fanOn, "FAN", [measure(fan, fanOn, lost, "BAT.+"), first, measure(fan, fanOn, lost, "G1")]);
    expect(tied.trace.referenceNotes).to.deep.equal([]);
    expect(tied.answer.verdict.kind).to.equal("narrowed");
    expect(tied.answer.verdict.kind === "narrowed" && tied.answer.verdict.stretch.fromPlace).to.equal("G1");
  });

  it("notices swapped leads instead of believing a potential that rises", () => {
    const facts = [measure(fan, fanOn, [], "BAT.+"), { ...measure(fan, fanOn, [], "F1.1", "F1.2"), volts: -0.4 }];
    const { answer } = judged(fan, fanOn, "FAN", facts);
    expect(answer.verdict.kind).to.equal("unclear");
    expect(answer.verdict.kind === "unclear" && answer.verdict.stretch.why).to.equal("rises along the path");
  });

  it("judges by the chosen rule set: 0.25 V over one wire is too much for “usual”, not for “lenient”", () => {
    const facts = [measure(fan, fanOn, [], "BAT.+"), { ...measure(fan, fanOn, [], "F1.2", "SW1.1"), volts: 0.25, resolutionVolts: 0.001 }];
    const verdictBy = (rules: RuleSet): string =>
      judged(fan, fanOn, "FAN", facts, [], rules).trace.stretches.find((s) => s.fromPlace === "F1.2")!.verdict;
    expect([verdictBy("strict"), verdictBy("usual"), verdictBy("lenient")]).to.deep.equal(["suspect", "suspect", "sound"]);
  });

  it("does not condemn a thin long wire that drops what such a wire must drop", () => {
    // 20 m of 0.75 mm²: 0.46 Ω; at 2 A nearly 0.9 V, far over the 0.2 V of the rule, and sound.
    const thin = circuitOf("BAT(12V 0.01ohm) -- W1 RD 0.75mm2 20m -- HORN(load 2A) -- W2 BK 2.5mm2 1m -- G1\nG2 -- W3 BK 25mm2 1m -- BAT");
    const { trace } = judged(
      thin,
      REST_STATE,
      "HORN",
      ["BAT.+", "HORN.1", "HORN.2"].map((p) => measure(thin, REST_STATE, [], p)),
    );
    const wire = trace.stretches.find((s) => s.fromPlace === "BAT.+")!;
    expect(wire.dropVolts).to.be.above(0.8);
    expect(wire.verdict).to.equal("sound");
  });

  it("doubles the rules on 24 V and judges heavy cables by theirs while cranking", () => {
    const starter = demoCircuits.find((d) => d.file.startsWith("brigg-starter"))!.harness;
    const cranking = buildStaircase(starter, loadedState(starter), "STM", "usual");
    const limits = new Map(cranking.kind === "staircase" ? cranking.steps.map((s) => [s.link.id, s.limitVolts]) : []);
    expect(limits.get("W1")).to.equal(0.5);
    expect(limits.get("W30")).to.equal(0.3);
    const valve = demoCircuits.find((d) => d.file.startsWith("gritter"))!.harness;
    const at24 = buildStaircase(valve, loadedState(valve), "V1", "usual");
    expect(at24.kind === "staircase" && at24.steps.find((s) => s.link.id === "W5")!.limitVolts).to.equal(0.4);
  });

  it("words every proposal with places that the technician can find", () => {
    const { answer } = judged(fan, fanOn, "FAN", []);
    expect(nextWords(fan, answer.next!)).to.equal(
      "Red on BAT.+ (battery positive post), black on BAT.- (battery negative post): the source comes first.",
    );
  });

  it("finds every link of the demo circuits on some load's path or says nothing of it", () => {
    for (const { harness } of demoCircuits) {
      const all = new Set(linksOf(harness).map((l) => l.id));
      for (const load of harness.components.filter((c) => c.kind === "load")) {
        const s = buildStaircase(harness, loadedState(harness), load.id, "strict");
        if (s.kind !== "staircase") throw new Error(s.message);
        for (const step of s.steps) expect(all.has(step.link.id)).to.equal(true);
        expect(s.places[0]).to.equal("BAT.+");
      }
    }
  });
});
