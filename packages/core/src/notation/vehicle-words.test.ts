import { expect } from "chai";
import { applyEdit } from "../harness/index.ts";
import { parseNotation } from "./parse.ts";
import { printNotation } from "./print.ts";

describe("notation of a vehicle", () => {
  const MODULE =
    'ECM(module awakeAmps=0.5 zone=bay pin 1 supply, pin 2 ground, pin 3 low duty=0.3 when=4<2&key=run/crank|!engine=stopped, pin 4 input pull=down, pin H canh "engine module")';
  it("reads modules in words, and prints them so", () => {
    const text = `zone bay "engine bay" 3min heat\nBAT -- RD 1mm2 1m -- F1(10A) -- RD 1mm2 1m -- ${MODULE}.1\nECM.2 -- BN 1mm2 1m -- G1\nG1 -- BK 16mm2 1m -- BAT`;
    const { harness } = parseNotation(text);
    const ecm = harness!.components.find((c) => c.id === "ECM")!;
    expect(ecm).to.deep.include({ kind: "device", zone: "bay", label: "engine module" });
    expect((ecm as unknown as { settings: unknown }).settings).to.deep.equal({
      awakeAmps: 0.5,
      pins: {
        "1": { sort: "supply" },
        "2": { sort: "ground" },
        "3": { sort: "low", duty: 0.3 },
        "4": { sort: "input", pull: "down" },
        H: { sort: "can high" },
      },
      rules: [
        { pin: "3", when: { any: [{ all: [{ pin: "4", below: 2 }, { key: ["run", "crank"] }] }, { not: { engine: ["stopped"] } }] } },
      ],
    });
    const printed = printNotation(harness!);
    expect(printed).to.include("pin 3 low duty=0.3 when=4<2&key=run/crank|!engine=stopped");
    expect(parseNotation(printed).harness).to.deep.equal(harness);
  });

  it("prints what words cannot say as JSON, and reads that again as the same", () => {
    const { harness } = parseNotation(
      "BAT -- RD 1mm2 1m -- ECM(module pin 1 supply, pin 2 ground, pin 3 low, pin 4 low).1\nECM.2 -- BN 1mm2 1m -- G1\nG1 -- BK 16mm2 1m -- BAT",
    );
    const nested = { all: [{ any: [{ pin: "3", above: 1 }, { inputAbove: 2 }] }, { not: { all: [{ key: ["run"] }] } }] };
    const changed = {
      ...harness!,
      components: harness!.components.map((c) =>
        c.kind === "device"
          ? {
              ...c,
              settings: {
                ...c.settings,
                rules: [
                  { pin: "4", when: nested },
                  { pin: "3", when: { key: ["run"] } },
                ],
              },
            }
          : c,
      ),
    } as typeof harness;
    expect(parseNotation(printNotation(changed!)).harness).to.deep.equal(changed);
  });

  const WRONG: readonly (readonly [string, RegExp])[] = [
    ["option", /short name comes first/],
    ['option a "x"\noption a "y"', /explained twice/],
    ['zone z "x" soon', /says nothing about a zone/],
    ['zone z "x" plan', /Where it is on the plan: plan 60,-90,20/],
    ['zone z "x" plan 60,-190,20', /Where it is on the plan/],
    [`zone z "x" plan ${"1,1,1 ".repeat(9)}`, /at most 8 places/],
    ["code P01 ECM", /not a trouble code/],
    ["code P0118", /Which module sets P0118/],
    ['vehicle "Selwick"', /make and model in quotes/],
    ["if fridge&", /is not an option/],
    ["ECM(module pin 1 suply)", /"suply" is not a sort of pin/],
    ["ECM(module pin 1 supply, pin 1 ground)", /Pin 1 is said twice/],
    ["ECM(module pin 1 low when=soon)", /is not a condition/],
    ["C1(connector ways=0).1 -- RD 1mm2 1m -- G1", /ways=0 cannot be/],
    ["BAT -- RD 1mm2 1m if=! -- G1", /"!" is not an option/],
    ["via 9", /cannot name a segment/],
  ];
  for (const [text, words] of WRONG)
    it(`says what is wrong with ${JSON.stringify(text)}`, () =>
      expect(
        parseNotation(text)
          .problems.map((p) => p.message)
          .join(" "),
      ).to.match(words));

  it("offers a mending with a problem that has one", () => {
    const read = parseNotation(
      "BAT -- RD 1mm2 1m -- F1(10A) -- RD 1mm2 1m -- LP(lamp 5W) -- BN 1mm2 1m -- G2(on frame)\nG1 -- BK 16mm2 1m -- BAT",
    );
    const problem = read.problems.find((p) => p.code === "mass-without-return")!;
    expect(read.harness).to.equal(undefined);
    const mended = parseNotation(printNotation(applyEdit(read.draft!, problem.fix!.edit)));
    expect(mended.problems.filter((p) => p.severity === "error")).to.deep.equal([]);
  });
});
