import { expect } from "chai";
import { REST_STATE } from "../../circuit/index.ts";
import type { Harness } from "../../harness/index.ts";
import { observe, predictAll, silentModules } from "../../instruments/index.ts";
import { parseNotation } from "../parse.ts";
import { answerProblems, fillTemplate, formOf, TEMPLATES } from "./index.ts";

/** Every choice of every field once, the others as by default. */
const fillings = TEMPLATES.flatMap((t) => [
  { t, answers: {} as Record<string, string> },
  ...t.fields.flatMap((f) => (f.choices ?? []).map((c) => ({ t, answers: { [f.id]: c.id } }))),
]);

const handSwitches = (h: Harness): string[] => h.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : []));

describe("templates", () => {
  for (const { t, answers } of fillings)
    it(`${t.id} ${JSON.stringify(answers)} gives a whole circuit that works`, () => {
      const text = fillTemplate(t, answers);
      const { harness, problems } = parseNotation(text);
      expect(problems, text).to.deep.equal([]);
      const state = { ...REST_STATE, key: "run" as const, engine: "idling" as const, on: handSwitches(harness!) };
      expect(predictAll(harness!, state, [])).to.have.property("volts");
      const seen = observe(harness!, state, []);
      if (!Array.isArray(seen)) throw new Error(JSON.stringify(seen));
      for (const { component, sight } of seen) {
        if (sight.kind === "fuse") expect(sight.blown, component).to.equal(false);
        if (sight.kind === "awake") expect(sight.yes, component).to.equal(true);
      }
      expect(silentModules(harness!, state, [])).to.deep.equal([]);
    });

  it("are opened again from their text, and say when the text was changed by hand", () => {
    const t = TEMPLATES.find((x) => x.id === "relay")!;
    const text = fillTemplate(t, { name: "Winch", amps: "22" });
    expect(formOf(TEMPLATES, text)).to.include({ template: t, edited: false });
    expect(formOf(TEMPLATES, text)?.answers).to.include({ name: "Winch", amps: "22" });
    expect(formOf(TEMPLATES, text + "# mine\n")?.edited).to.equal(true);
    expect(formOf(TEMPLATES, "BAT -- RD 1mm2 1m -- F1(3A)")).to.equal(undefined);
    expect(formOf(TEMPLATES, '# form relay {"amps":"-3"}')).to.equal(undefined);
  });

  it("say which answer cannot be", () => {
    const t = TEMPLATES.find((x) => x.id === "relay")!;
    expect(answerProblems(t, { amps: "a lot", load: "rocket", name: "" }).map((p) => p.field)).to.deep.equal(["name", "load", "amps"]);
    expect(() => fillTemplate(t, { amps: "0" })).to.throw(RangeError);
  });
});
