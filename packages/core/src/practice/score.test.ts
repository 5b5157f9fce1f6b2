import { expect } from "chai";
import type { Evidence } from "../diagnosis/index.ts";
import type { Fault } from "../circuit/index.ts";
import { catalogueOf } from "../faults/index.ts";
import { foundOnHeater as found, heater, heaterFault as truth, heaterPlayed as played, volts } from "../test/heater-played.ts";
import type { Act } from "./debrief.ts";
import { scoreOf, SCORED_IDS, USUAL_WEIGHTS, weightsBy, weightsFrom, type Conduct, type Score, type Weights } from "./score.ts";
import { typesOf } from "./fault-type.ts";
import { truthFrom } from "./truth-from.ts";

const GOOD: Conduct = { isVerified: true, leftOnVehicle: 0, isRecorded: true, asked: 0, cranked: 0 };
const scored = (evidence: readonly Evidence[], acts: readonly Act[], conduct: Conduct = GOOD, weights: Weights = USUAL_WEIGHTS): Score =>
  scoreOf(heater, played(evidence, acts), evidence, truth, conduct, weights);
const proven = () => [found(volts("BAT.+", "HTR.1")), found(volts("BAT.+", "SW3.2")), found(volts("C5.2a", "C5.2b"))];
const row = (s: Score, id: string) => s.rows.find((r) => r.id === id)!;
const mended: Act = { at: "C5.2", isReplaced: false, after: 3, fault: { type: "high resistance", ohms: 0.5 } };

describe("a score", () => {
  it("is all of it for good work, and says nothing against it", () => {
    const good = scored(proven(), [mended]);
    for (const r of good.rows) if (r.id !== "minutes") expect(r.points, r.id).to.equal(r.most);
    expect(good.total).to.be.at.least(90);
    expect(good.rows.reduce((s, r) => s + r.most, 0)).to.be.closeTo(100, 0.2);
    expect(good.cost.parts).to.deep.equal([]);
  });
  it("is little for parts that were guessed: the place, the parts and the knowledge", () => {
    const guessed = scored(
      [found(volts("BAT.+"))],
      [
        { at: "HTR", isReplaced: true, after: 1 },
        { at: "F7", isReplaced: true, after: 1 },
      ],
      { ...GOOD, isVerified: false, leftOnVehicle: 2, isRecorded: false },
    );
    expect(
      ["found", "remedy", "minutes", "evidence", "parts", "proof", "putBack", "record"].map((id) => row(guessed, id).points),
    ).to.deep.equal([0, 0, 0, 0, 0, 0, 0, 0]);
    expect(row(guessed, "parts").why).to.equal("HTR, F7");
    expect(guessed.cost.parts).to.deep.equal(["HTR", "F7"]);
    // A fuse is nothing beside what it protects.
    expect(guessed.cost.partsHours).to.be.within(0.2, 5);
    expect(scored([], [{ at: "F7", isReplaced: true, after: 0 }]).cost.partsHours).to.be.below(0.05);
    expect(guessed.total).to.equal(15);
  });
  it("tells a lucky guess from knowledge", () => {
    const lucky = scored([found(volts("BAT.+"))], [{ ...mended, after: 1 }]);
    expect(row(lucky, "found").points).to.equal(30);
    expect(row(lucky, "evidence")).to.include({ points: 0, why: "right, and not proven when it was repaired" });
    // One good reading across it is no luck, and no proof yet.
    const once = scored([found(volts("C5.2a", "C5.2b"))], [{ ...mended, after: 1 }]);
    expect(row(once, "evidence").points).to.equal(6);
    expect(row(once, "evidence").why).to.match(/^rests on one reading/);
  });
  it("counts ohms on a live circuit as harm, and a black lead on a point that nobody measured", () => {
    const live = scored([...proven(), found({ kind: "ohms", red: "F7.1", black: "BAT.-" })], [{ ...mended, after: 4 }]);
    expect(row(live, "harm").points).to.equal(0);
    expect(row(live, "harm").why).to.match(/live/);
    const loose = [found(volts("F7.1", "HTR.2")), ...proven()];
    expect(row(scored(loose, [{ ...mended, after: 4 }]), "reference").why).to.contain("HTR.2");
    // Once that point was measured itself, it is known.
    const known = [found(volts("HTR.2")), ...loose];
    expect(row(scored(known, [{ ...mended, after: 5 }]), "reference").points).to.equal(5);
  });
  it("counts a larger fuse and cranking unasked as harm, and a fuse of the drawn rating as none", () => {
    const harmed = (fuseAmps: number, cranked: number) => {
      const { points, why } = row(
        scored(proven(), [{ at: "F7", isReplaced: false, after: 1, fuseAmps }, mended], { ...GOOD, cranked }),
        "harm",
      );
      return [points, why];
    };
    expect(harmed(40, 0)).to.deep.equal([0, "a fuse of 40 A where 25 A are drawn, F7"]);
    expect(harmed(25, 0)).to.deep.equal([10, ""]);
    expect(harmed(25, 1)).to.deep.equal([0, "the engine was cranked before anybody had checked that it may turn"]);
  });
  it("tells the place from what is wrong there: 24 of 30, its type 4.5, its resistance within half a decade 1.5", () => {
    const found = (fault: Act["fault"]) => {
      const { points, why } = row(scored(proven(), [{ ...mended, fault }]), "found");
      return [points, why];
    };
    expect(found(undefined)).to.deep.equal([24, "fault type not stated on Repair"]);
    expect(found({ type: "open circuit" })).to.deep.equal([24, "another type of fault"]);
    expect(found({ type: "high resistance" })).to.deep.equal([28.5, "its resistance was not stated, or is another one"]);
    expect(found({ type: "high resistance", ohms: 6 })[0]).to.equal(28.5);
    expect(found({ type: "high resistance", ohms: 0.2 })).to.deep.equal([30, ""]);
    const types = (fault: Fault) => typesOf(heater, fault);
    expect(types({ kind: "open", link: "W3" })).to.deep.equal(["open circuit"]);
    expect(types({ kind: "open", link: "HTR" })).to.include("defective part");
    expect(types({ kind: "settings", component: "F7", settings: { ratingAmps: 5 } })).to.deep.equal(["wrong rating"]);
    expect(types({ kind: "across", from: "C5.2a", to: "W5.1", ohms: 5 } as Fault)).to.deep.equal(["short between wires"]);
  });
  it("takes off for advice, ten at most, and weighs as it is told to", () => {
    const asked = scored(proven(), [mended], { ...GOOD, asked: 3 });
    expect(row(asked, "advice")).to.include({ points: -6, why: "3 times" });
    expect(row(scored(proven(), [mended], { ...GOOD, asked: 30 }), "advice").points).to.equal(-10);
    const few = weightsBy((id) => (id === "found" ? 1 : id === "proof" ? 3 : 0));
    const only = scored(proven(), [mended], { ...GOOD, isVerified: false }, few);
    expect(only.total).to.equal(25);
    const dear = weightsFrom({ advice: 7 });
    expect(row(scored(proven(), [mended], { ...GOOD, asked: 2 }, dear), "advice").points).to.equal(-14);
    expect(dear.found).to.equal(30);
    const free = scored(proven(), [mended], { ...GOOD, asked: 2 }, weightsFrom({ advice: 0 }));
    expect(free.rows.some((r) => r.id === "advice")).to.equal(false);
    // Where nothing is left to count, the usual does.
    expect(weightsFrom({ ...Object.fromEntries(SCORED_IDS.map((id) => [id, 0])), advice: 3 })).to.deep.equal(USUAL_WEIGHTS);
  });
});

describe("a fault as it can be seen and moved", () => {
  it("lies where the catalogue has it", () => {
    const odd = catalogueOf(heater).filter((f) => {
      const { link, other } = truthFrom(heater, f.faultAt(f.severities[0]!)).fault;
      return f.effect !== "lead" && ![link, other].includes(f.link) && !f.link.startsWith(link);
    });
    expect(odd.map((f) => f.id)).to.deep.equal([]);
  });
});
