import { readFileSync } from "node:fs";
import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { resolveVariant } from "../../harness/index.ts";
import { predictReading } from "../../instruments/index.ts";
import { parseNotation } from "../../notation/index.ts";
import { deviationsOf } from "../../practice/index.ts";
import { ask, read, said } from "../../test/evidence.ts";
import { WIRE_COLOUR } from "../evidence/wire-colour.ts";
import { answerCase } from "./case-file.ts";

const drawn = resolveVariant(
  parseNotation(readFileSync(new URL("../../test/proving/rear-cluster.circuit", import.meta.url), "utf8")).harness!,
  [],
);
const state: VehicleState = { ...REST_STATE, on: ["SW1"] };
const open: readonly Fault[] = [{ kind: "open", link: "W5" }];

describe("a vehicle that is not as drawn", () => {
  const found = deviationsOf(drawn);
  const swapped = found.find((d) => d.words.startsWith("C1: what is drawn in cavity 2 is in 1"))!;

  it("is one that works as drawn: every part shows the same, and only the two cavities read otherwise", () => {
    expect(new Set(found.map((d) => d.kind))).to.deep.equal(new Set(["cavities swapped", "splice beyond the plug"]));
    const volts = (h: typeof drawn, red: string): number => {
      const shown = predictReading(h, state, [], { quantity: "volts", red, black: "BAT.-" });
      return shown.kind === "value" ? shown.value : NaN;
    };
    for (const { vehicle } of found)
      for (const pin of ["TL1.1", "TL2.1", "NPL.1", "BL1.1"]) expect(volts(vehicle, pin), pin).to.be.closeTo(volts(drawn, pin), 0.02);
    expect([volts(swapped.vehicle, "C1.1a"), volts(swapped.vehicle, "C1.2a")].map((v) => v > 6)).to.deep.equal([false, true]);
  });

  it("is named where two cavities the other way round explain readings that nothing explains as drawn", () => {
    const dead = said(state, { kind: "part", part: "TL1" }, "none", { source: "customer" });
    const readings = ["S1", "C1.1a", "C1.2a", "C1.2b"].map((red) => read(swapped.vehicle, state, red, "BAT.-", open));
    const { misfit } = answerCase(ask(drawn, ["TL1"], state, [dead, ...readings]), "none");
    expect(misfit).to.contain("at C1 with the diagram first: one fault explains all of this if cavities 1 and 2 are the other way round");
  });

  it("is not spoken of where it is as drawn, and not where a reading fits neither way", () => {
    const dead = said(state, { kind: "part", part: "TL1" }, "none", { source: "customer" });
    const good = ["S1", "C1.1a", "C1.2a", "C1.2b", "TL1.1"].map((red) => read(drawn, state, red, "BAT.-", open));
    expect(answerCase(ask(drawn, ["TL1"], state, [dead, ...good]), "none").misfit).to.equal(null);
    const slipped = { ...good[1]!, id: "slip", result: { kind: "value", value: 5.1, resolution: 0.01 } as const };
    const { misfit } = answerCase(ask(drawn, ["TL1"], state, [dead, ...good.toSpliced(1, 1, slipped)]), "none");
    expect(misfit).to.contain("does not fit");
    expect(misfit).not.to.contain("other way round");
  });

  it("seen by the colour of a wire: what was read there is set aside, said so, and not proposed again", () => {
    const dead = said(state, { kind: "part", part: "TL1" }, "none", { source: "customer" });
    // As drawn it looks as if the wire before the plug were open: 0 V in cavity 1, which holds the brake feed.
    const readings = ["S1", "C1.1a", "C1.1b", "TL1.1"].map((red) => read(swapped.vehicle, state, red, "BAT.-", open));
    const other = said(state, { kind: "check", at: "C1.1a", what: WIRE_COLOUR }, "otherwise");
    const top = (evidence: Parameters<typeof ask>[3]): readonly string[] =>
      answerCase(ask(drawn, ["TL1"], state, evidence), "none")
        .suspects.slice(0, 4)
        .map((s) => s.element);
    expect(top([dead, ...readings])[0]).to.equal("W4");
    expect(top([dead, ...readings, other])).to.include.members(["W4", "W5"]);
    const told = answerCase(ask(drawn, ["TL1"], state, [dead, ...readings, other]));
    expect(told.misfit).to.contain("not as drawn at C1.1: a wire of another colour is there");
    const reasons = told.suspects.flatMap((s) => [...s.for, ...s.against].map((r) => r.words));
    expect(reasons.some((r) => r.includes("TL1"))).to.equal(true);
    expect(reasons.filter((r) => r.includes("C1 "))).to.deep.equal([]);
    expect(told.enoughToAct.yes).to.equal(false);
    expect(told.next.length).to.be.above(0);
    for (const { observe: o } of told.next)
      if ("red" in o && "black" in o) expect([o.red, o.black].some((p) => p.startsWith("C1.1"))).to.equal(false);
  });
});
