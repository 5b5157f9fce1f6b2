import { expect } from "chai";
import { ADVICE_GIVEN, practising, TOOLS, type PracticeResult } from "@rheonom/contract/practice";
import { INSTRUMENTS } from "@rheonom/core/diagnosis";
import { ADVICE } from "@rheonom/core/job";
import { familiesFor, FAMILIES, MOST_SEED, SKILL_IDS, SKILLS_OF } from "@rheonom/core/practice";
import { learningOf, nextFor, ratingOf } from "./learning.ts";

const DAY_MS = 86_400_000;
const START = Date.parse("2026-11-02T08:00:00Z");
const result = (day: number, family: string, grade: number, marks: PracticeResult["marks"]): PracticeResult => ({
  jobId: `job ${day} ${family}`,
  by: "Runa Skjold",
  at: new Date(START + day * DAY_MS).toISOString(),
  vehicle: "rig-horn",
  family,
  difficulty: 0.3,
  isFound: grade > 0.5,
  score: Math.round(100 * grade),
  grade,
  tests: 4,
  minutes: 8,
  marks,
});

describe("what is learned", () => {
  it("knows advice and instruments as the log does", () => {
    expect(ADVICE_GIVEN).to.deep.equal(ADVICE);
    expect(TOOLS).to.deep.equal(INSTRUMENTS);
    const ask = { by: "Inga", vehicle: { from: "bench", id: "rig-horn" } } as const;
    expect(practising.parse({ ...ask, seed: MOST_SEED }).seed).to.equal(MOST_SEED);
    expect(practising.safeParse({ ...ask, seed: MOST_SEED + 1 }).success).to.equal(false);
  });
  it("every family of faults practises something, and every skill that is sought has a family", () => {
    for (const f of FAMILIES) expect(SKILLS_OF[f].length, f).to.be.above(0);
    const unsought = SKILL_IDS.filter((id) => familiesFor(id).length === 0);
    expect(unsought).to.deep.equal(["reference", "tidy", "proof"]);
    expect(familiesFor("ground")[0]).to.equal("bad ground");
  });
  it("begins with the diagram and easy, and gets harder with success", () => {
    expect(nextFor([], new Date(START))).to.deep.include({ family: "open", difficulty: 0.2 });
    const well = [0, 1, 2].map((d) => result(d, "open", 1, { sheet: 1 }));
    const badly = [0, 1, 2].map((d) => result(d, "open", 0, { sheet: 0 }));
    const now = new Date(START + 3 * DAY_MS);
    expect(nextFor(well, now).difficulty).to.be.closeTo(0.8, 1e-9);
    expect(nextFor(badly, now).difficulty).to.equal(0.2);
    // What went well may rest: what was never asked for comes next, what most kinds of faults ask for first.
    expect(nextFor(well, now).words).to.match(/by unplugging: not practised yet$/);
  });
  it("comes back to what was forgotten, the least certain first", () => {
    const all = SKILL_IDS.filter((id) => familiesFor(id).length > 0);
    const once = all.map((id) => result(0, familiesFor(id)[0]!, 1, { [id]: id === "bus" ? 0.2 : 1 }));
    const later = learningOf(once, new Date(START + 6 * DAY_MS));
    const recall = new Map(later.skills.map((s) => [s.id, s.recall]));
    expect(recall.get("bus")!).to.be.below(recall.get("relay")!);
    expect(recall.get("tidy")).to.equal(undefined);
    expect(nextFor(once, new Date(START + 6 * DAY_MS))).to.deep.include({ family: "bus" });
  });
  it("tells the level of a skill with its error, by hand: marks of 0.5 and 1", () => {
    const { skills } = learningOf([result(0, "bus", 1, { bus: 0.5 }), result(1, "bus", 1, { bus: 1 })], new Date(START + 2 * DAY_MS));
    const bus = skills.find((s) => s.id === "bus")!;
    expect(bus.level).to.equal(0.75);
    expect(bus.error).to.be.closeTo(0.25, 1e-9);
    expect(bus.jobs).to.equal(2);
    // The curve is the same of the grades of all jobs: 0, 1, 1, 1, 1, 1, 1.
    const grades = [0, 1, 1, 1, 1, 1, 1].map((grade, i) => result(i, "bus", grade, {}));
    const { curve } = learningOf(grades, new Date(START));
    expect(curve[0]).to.deep.equal({ mean: 0, error: 0.25 });
    expect([curve[1]!.mean, curve[1]!.error]).to.deep.equal([0.5, 0.5]);
    expect([curve[4]!.mean, curve[4]!.error].map((x) => x.toFixed(3))).to.deep.equal(["0.800", "0.200"]);
    expect(curve[6]).to.deep.equal({ mean: 1, error: 0 });
    expect([0, 0.39, 0.4, 0.7, 0.9, 1].map(ratingOf)).to.deep.equal([1, 1, 2, 3, 4, 4]);
  });
});
