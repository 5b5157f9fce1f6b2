import { readFileSync } from "node:fs";
import { expect } from "chai";
import { REST_STATE } from "../../circuit/index.ts";
import { resolveVariant } from "../../harness/index.ts";
import { parseNotation } from "../../notation/index.ts";
import { catalogueOf } from "../../faults/index.ts";
import { chanceOf, practise } from "../../practice/index.ts";
import { resultWords } from "../evidence/describe.ts";
import type { Test } from "./oracle.ts";
import { shownBy } from "./shown.ts";

const seats = resolveVariant(
  parseNotation(readFileSync(new URL("../../test/proving/lin-seats.circuit", import.meta.url), "utf8")).harness!,
  [],
);

describe("an ohmmeter on a line that a fault leaves live", () => {
  const test: Test = { state: { ...REST_STATE, key: "run" }, observe: { kind: "ohms", red: "C1.2b", black: "SL.3" } };

  it("shows no resistance but that volts stand there, and never that the wire is sound", () => {
    // 10 Ω take less than 50 mV of the line at rest; over 1 MΩ the slave's own pull-up stands against the master's.
    const through = (ohms: number): ReturnType<typeof shownBy> => shownBy(seats, test, [{ kind: "series", link: "W12", ohms }]);
    const [little, much] = [through(10), through(1e6)];
    if (little.kind !== "value" || much.kind !== "swings") throw new Error(`${little.kind} ${much.kind}`);
    expect(little.value).to.be.closeTo(10, 0.2);
    expect(much.high).to.be.above(0.05);
    expect(resultWords(test.observe, much)).to.match(/^no resistance: 0\.\d\d V stand there$/);
  });

  it("does not send a technician to the module behind the wire", () => {
    const fault = catalogueOf(seats).find((f) => f.id === "W12 resistance")!;
    const run = practise(seats, [{ fault, severity: 1e6 }], { chance: chanceOf(3) })!;
    expect(run.element).to.equal("W12");
    expect(run.enough?.yes).to.equal(true);
  });
});
