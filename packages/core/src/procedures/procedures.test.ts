import { expect } from "chai";
import { REST_STATE, type Fault } from "../circuit/index.ts";
import { shownBy, type Evidence } from "../diagnosis/index.ts";
import { type Harness } from "../harness/index.ts";
import { offersFor, PROCEDURES, runProcedure, suggestionsFor, type ProcedureView, type Setting } from "./index.ts";
import { vehicleOf } from "../test/vehicles.ts";

const horn = vehicleOf("rig-horn");
const gritter = vehicleOf("gritter");
const ouse = vehicleOf("ouse");
const reference = vehicleOf("rig-reference");

const settingFor = (harness: Harness, target: string, chosen: Record<string, string> = {}): Setting => ({
  harness,
  target,
  chosen,
  rules: "usual",
  state: REST_STATE,
});
const named = (id: string) => PROCEDURES.find((p) => p.id === id)!;

/** Takes step after step on a vehicle with these faults until there is a verdict. Looks and checks show nothing. */
function work(
  id: string,
  setting: Setting,
  faults: readonly Fault[],
): { readonly view: ProcedureView; readonly evidence: readonly Evidence[] } {
  const evidence: Evidence[] = [];
  let view = runProcedure(named(id), setting, evidence);
  for (let next = view.steps.find((s) => s.status === "next"); next !== undefined && view.verdict === undefined;) {
    const { test } = next;
    evidence.push({ id: `e${evidence.length}`, ...test, result: shownBy(setting.harness, test, faults), source: "technician" });
    view = runProcedure(named(id), setting, evidence);
    next = view.steps.find((s) => s.status === "next");
  }
  return { view, evidence };
}
const pointsOf = (id: string, setting: Setting, ...faults: Fault[]): readonly string[] =>
  work(id, setting, faults).view.verdict?.points ?? [];

describe("tests of the trade", () => {
  for (const [name, harness, least] of [
    ["rig-horn", horn, 20],
    ["gritter", gritter, 120],
    ["rig-reference", reference, 40],
  ] as const)
    it(`find nothing on a sound ${name}, on any target and by every school`, () => {
      let done = 0;
      for (const { procedure, targets } of offersFor(harness))
        for (const target of targets)
          for (const option of procedure.choices[0]?.options ?? [{ id: "" }]) {
            const chosen = procedure.choices[0] === undefined ? {} : { [procedure.choices[0].id]: option.id };
            const { view } = work(procedure.id, settingFor(harness, target.element, chosen), []);
            expect(view.verdict?.sound, `${procedure.id} on ${target.element} ${option.id}: ${view.verdict?.words}`).to.equal(true);
            expect(view.steps.filter((s) => s.grade === "bad").map((s) => s.id)).to.deep.equal([]);
            done++;
          }
      expect(done).to.be.above(least);
    });

  it("are all of them on some vehicle of the fleet", () => {
    const brigg = vehicleOf("brigg");
    const offered = new Set([...offersFor(ouse), ...offersFor(gritter), ...offersFor(brigg)].map((o) => o.procedure.id));
    expect(PROCEDURES.map((p) => p.id).filter((id) => !offered.has(id))).to.deep.equal([]);
  });

  // Each a fault and what the verdict must point to, worked out by hand from the drawing.
  const CASES: readonly (readonly [string, Harness, string, Fault, string])[] = [
    ["battery", gritter, "BAT", { kind: "series", link: "W6", ohms: 3 }, ""],
    ["no-crank", gritter, "STA", { kind: "open", link: "W14" }, "W14"],
    ["no-crank", gritter, "STA", { kind: "series", link: "G3", ohms: 0.05 }, "G3"],
    ["charging", gritter, "ALT", { kind: "open", link: "F1" }, "F1"],
    ["charging", gritter, "ALT", { kind: "series", link: "G10", ohms: 0.3 }, "G10"],
    ["fuse-sides", gritter, "F8", { kind: "open", link: "F8" }, "F8"],
    ["blown-fuse", gritter, "F6", { kind: "across", from: "L7.1", to: "L7.2", ohms: 0.05 }, "L7"],
    ["ground", gritter, "G8", { kind: "series", link: "G8", ohms: 1 }, "G8"],
    ["ground", gritter, "G4", { kind: "series", link: "G6", ohms: 3 }, "G6"],
    ["drop-walk", gritter, "BLO", { kind: "series", link: "SW8", ohms: 0.3 }, "SW8"],
    ["drop-walk", gritter, "L5", { kind: "series", link: "G8", ohms: 2 }, "G8"],
    ["relay", gritter, "R2", { kind: "series", link: "R2.contact", ohms: 2 }, "R2"],
    ["give", gritter, "HRN", { kind: "open", link: "G9" }, "G9"],
    ["reference", ouse, "VCM.R1", { kind: "across", from: "PED.P", to: "PED.N", ohms: 1 }, "PED"],
    ["three-wire-sensor", ouse, "PED", { kind: "short to ground", place: "C1.7a", ohms: 2 }, "W38"],
    ["bus", ouse, "BCM.H", { kind: "open", link: "W96" }, "CLU"],
  ];
  for (const [id, harness, target, fault, points] of CASES)
    it(`${id} on ${target}: ${JSON.stringify(fault)} leads to ${points === "" ? "nothing there" : points}`, () => {
      const found = pointsOf(id, settingFor(harness, target), fault);
      if (points === "") expect(found).to.deep.equal([]);
      else expect(found).to.include(points);
    });

  it("open wire: ohms pass what a lamp through it does not", () => {
    const wire = offersFor(gritter).find((o) => o.procedure.id === "open-wire")!.targets[0]!.element;
    const bad: Fault = { kind: "series", link: wire, ohms: 8 };
    expect(pointsOf("open-wire", settingFor(gritter, wire), bad)).to.deep.equal([wire]);
    expect(work("open-wire", settingFor(gritter, wire, { repair: "overlay" }), [bad]).view.verdict?.words).to.match(/left dead/);
    // 0.4 Ω in a lead of a metre is within what an ohmmeter's leads and contacts add.
    const slight: Fault = { kind: "series", link: wire, ohms: 0.3 };
    expect(work("open-wire", settingFor(gritter, wire, { method: "ohms" }), [slight]).view.verdict?.sound).to.equal(true);
  });

  it("takes what was found before, whoever asked for it, and leaves out what it makes needless", () => {
    const setting = settingFor(gritter, "BLO");
    const { evidence } = work("drop-walk", setting, []);
    const again = runProcedure(named("drop-walk"), setting, [...evidence].reverse());
    expect(again.verdict?.sound).to.equal(true);
    expect(new Set(again.steps.map((s) => s.status))).to.deep.equal(new Set(["done", "left out"]));
    expect(
      runProcedure(named("drop-walk"), setting, [])
        .steps.map((s) => s.status)
        .slice(0, 2),
    ).to.deep.equal(["next", "later"]);
  });

  it("refuses the step that a rule about people forbids, and goes on with the rest", () => {
    const view = runProcedure(named("charging"), settingFor(ouse, "DCC"), []);
    const refused = view.steps.filter((s) => s.status === "refused");
    expect(refused.length).to.be.above(0);
    expect(refused.every((s) => s.refusals.some((r) => r.harm === "people" && r.instead !== ""))).to.equal(true);
    expect(view.steps.some((s) => s.status === "next")).to.equal(true);
  });

  it("says what is still fitted after the last step", () => {
    const wire = offersFor(gritter).find((o) => o.procedure.id === "open-wire")!.targets[0]!.element;
    const { view } = work("open-wire", settingFor(gritter, wire), []);
    expect(view.undo.filter((u) => u.includes("lamp"))).to.have.length(2);
    expect(view.undo.filter((u) => / is (unplugged|pulled)/.test(u))).to.have.length(2);
  });

  it("suggests what suits complaint and suspects, the complaint first", () => {
    const found = suggestionsFor(gritter, ["STA"], ["G8", "F6"], false);
    expect(found[0]!.target.element).to.equal("STA");
    expect(found.map((s) => s.procedure.id)).to.include.members(["no-crank", "ground"]);
    expect(suggestionsFor(gritter, ["L7"], [], false).map((s) => s.procedure.id)).not.to.include("wiggle");
    expect(suggestionsFor(gritter, ["L7"], [], true).map((s) => s.procedure.id)).to.include("wiggle");
  });
});
