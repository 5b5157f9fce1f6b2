import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { judgePath, type CaseAnswer } from "@rheonom/core/diagnosis";
import { foldJob, type JobView } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { COMPLAINT, LogWriter } from "../../../../../packages/core/src/test/log.ts";
import { afterPick, loadOptions, loadWords, marksOf, measuredByPlace, presenceSaid, proposalsOf } from "./trace-model.ts";
import { loadOnBench, questionOnBench } from "../../job/question-on-bench.ts";

const fan = parseNotation(
  'BAT.+ -- RD 4mm2 1m -- F1(30A) -- W2 RD 4mm2 1m -- FAN(motor 8A "cooling fan") -- BK 4mm2 1m -- G1\nBAT.- -- BK 16mm2 1m -- G1',
).harness!;

describe("the model of the Trace screen", () => {
  const fact = (id: string, red: string, volts: number) => ({ id, red, black: "BAT.-", volts, resolutionVolts: 0.01 });
  const judged = judgePath(fan, { ...REST_STATE, key: "run" }, "FAN", "usual", [
    fact("r1", "BAT.+", 12.4),
    fact("r2", "F1.2", 12.35),
    fact("r3", "FAN.1", 9.1),
  ]);
  if (!("stretches" in judged)) throw new Error(judged.message);

  it("names a load by itself and its label", () => {
    expect(loadWords(fan, "FAN")).to.equal("FAN cooling fan");
    expect(loadWords(fan, "FAN.winding")).to.equal("FAN cooling fan, winding");
  });
  it("gives what was measured by place, and the drop at the first link of a suspect stretch", () => {
    expect(measuredByPlace(judged).get("FAN.1")).to.be.closeTo(9.1, 1e-9);
    expect(measuredByPlace(judged).has("FAN.2")).to.equal(false);
    const [[link, mark] = [], ...others] = [...marksOf(judged, undefined).suspects];
    expect([link, others]).to.deep.equal(["W2", []]);
    expect(mark!.words).to.match(/^3\.25\sV drop$/);
    expect(mark!.share).to.equal(1);
    expect(measuredByPlace(undefined).size + marksOf(undefined, undefined).suspects.size).to.equal(0);
  });
  it("hatches by the ranking once there is one, and leaves a drop written where the ranking suspects nothing", () => {
    const ranking = (...suspects: (readonly [string, number])[]): CaseAnswer =>
      ({ suspects: suspects.map(([element, probability]) => ({ element, probability })) }) as unknown as CaseAnswer;
    const { suspects, notes } = marksOf(judged, ranking(["W2", 0.7], ["FAN", 0.295], ["G1", 0.005]));
    expect(suspects.get("W2")).to.deep.include({ share: 0.7 });
    expect(suspects.get("W2")!.words).to.match(/^70 %, 3\.25\sV drop$/);
    expect([suspects.get("FAN")?.words, suspects.has("G1")]).to.deep.equal(["30 %", false]);
    expect(notes.get("FAN.1")).to.match(/^9\.10\sV$/);
    expect(marksOf(judged, ranking(["FAN", 1])).suspects.get("W2")).to.deep.include({ share: undefined });
  });
  it("puts the armed lead where the drawing was tapped, and no lead where none goes", () => {
    const place = { kind: "place", id: "F1.2", name: "F1" } as const;
    const none = { red: "", black: "" };
    expect(afterPick({ mode: "volts", armed: "red", red: "", black: "F1.2" }, place)).to.deep.equal({ change: {}, focus: undefined });
    expect(afterPick({ mode: "volts", armed: "black", red: "F1.2", black: "" }, place)).to.deep.equal({ change: {}, focus: undefined });
    expect(afterPick({ mode: "volts", armed: "black", ...none }, place)).to.deep.equal({
      change: { black: "F1.2", armed: "red" },
      focus: "red",
    });
    expect(afterPick({ mode: "volts", armed: "red", ...none }, place)).to.deep.equal({ change: { red: "F1.2" }, focus: "value" });
    expect(afterPick({ mode: "amps", armed: "red", ...none }, place)).to.deep.equal({ change: {}, focus: undefined });
    expect(afterPick({ mode: "amps", armed: "red", ...none }, { kind: "link", id: "W2", name: "W2" }).change).to.deep.equal({
      around: "W2",
    });
  });
  it("says whether the trouble was there only where it comes and goes and somebody said so", () => {
    expect(presenceSaid(1, "absent")).to.deep.equal({});
    expect(presenceSaid(0.3, "not stated")).to.deep.equal({});
    expect(presenceSaid(0.3, "absent")).to.deep.equal({ present: false });
  });
  it("opens on what is complained of, whatever stands first in the circuit, unless another load is asked for", () => {
    const two = parseNotation(
      "BAT.+ -- RD 4mm2 1m -- F1(30A) -- RD 4mm2 1m -- LA(lamp 21W) -- BK 4mm2 1m -- G1\nF1 -- RD 4mm2 1m -- LB(lamp 21W) -- BK 4mm2 1m -- G1\nBAT.- -- BK 16mm2 1m -- G1",
    ).harness!;
    const said = (part: string, struck?: string): JobView["seen"][number] =>
      ({ struck, data: { wrong: true, word: "none", observe: { kind: "part", part }, state: REST_STATE } }) as JobView["seen"][number];
    const view = (...seen: JobView["seen"][number][]): JobView => ({ seen, scans: [] }) as unknown as JobView;
    expect(loadOnBench(two, view(), undefined)).to.equal("LA");
    expect(loadOnBench(two, view(said("LB")), undefined)).to.equal("LB");
    expect(loadOnBench(two, view(said("LB", "slip")), undefined)).to.equal("LA");
    expect(loadOnBench(two, view(said("LB")), "LA")).to.equal("LA");
    expect(loadOnBench(two, view(said("LB")), "gone")).to.equal("LB");
    expect(loadOptions(two, view(said("LB"))).map((o) => o.id)).to.deep.equal(["LB", "LA"]);
    expect(loadOptions(fan, view())).to.deep.equal([{ id: "FAN", text: "cooling fan, FAN" }]);
  });
  it("asks about codes alone, as long as nothing was repaired since", () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    const asked = () => {
      const view = foldJob(log.events)!;
      return questionOnBench(fan, view, [], "FAN", REST_STATE)?.evidence.map((e) => e.observe);
    };
    expect(asked()).to.equal(undefined);
    const scan = { format: "rheonom-scan", version: 1, takenAt: "2026-05-20T10:00:00.000Z", source: "typed", modules: [], codes: [] };
    log.add("codes-read", { scan, state: REST_STATE });
    expect(asked(), "a scan that found nothing is not a finding").to.equal(undefined);
    log.add("codes-read", { scan: { ...scan, codes: [{ module: "BCM", code: "U0100", status: "active" }] }, state: REST_STATE });
    expect(asked()).to.deep.equal([{ kind: "code", code: "U0100" }]);
    const practised = [...log.events, log.make("practice-begun", { advice: "off", clock: true, speaker: "" })];
    expect(questionOnBench(fan, foldJob(practised)!, [], "FAN", REST_STATE), "without advice nothing is asked").to.equal(undefined);
    log.add("mend-made", { at: "F1", found: "x", cause: "", method: "other", done: "x" });
    expect(asked()).to.equal(undefined);
  });
  it("has one proposal: the ranking's first, the path's among the others, each place once", () => {
    const test = (red: string): CaseAnswer["next"][number] => ({
      kind: "measure",
      words: `volts at ${red}`,
      state: REST_STATE,
      observe: { kind: "volts", red, black: "BAT.-" },
      minutes: 1,
      access: [],
      cautions: [],
      bits: 1,
      expected: { sound: "12 V", suspects: [] },
    });
    const answer = { next: [test("F1.2"), test("FAN.1")] } as unknown as CaseAnswer;
    const path = (red: string) => ({ leads: { red, black: "BAT.-" }, words: "on the path" });
    expect(proposalsOf(answer, path("BAT.+"), REST_STATE).map((p) => p.words)).to.deep.equal([
      "volts at F1.2",
      "volts at FAN.1",
      "on the path",
    ]);
    expect(proposalsOf(answer, path("FAN.1"), REST_STATE)).to.have.length(2);
    expect(proposalsOf(undefined, path("BAT.+"), REST_STATE).map((p) => p.words)).to.deep.equal(["on the path"]);
    expect(proposalsOf(undefined, undefined, REST_STATE)).to.deep.equal([]);
  });
});
