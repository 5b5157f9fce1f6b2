import { expect } from "chai";
import { readdirSync } from "node:fs";
import { catalogueOf } from "../faults/index.ts";
import type { Harness } from "../harness/index.ts";
import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import { lookChance } from "../diagnosis/index.ts";
import { provingCircuit } from "../test/proving/cases.ts";
import { calibrationOf } from "./calibration.ts";
import { complaintOf } from "./complaint.ts";
import { peopleWhoErr, showsChance } from "./people.ts";
import { safetyOf, safetyTogether } from "./safety.ts";
import { practiseAll, truthsOf } from "./summary.ts";
import { practise, type Run } from "./technician.ts";
import { chanceOf, resultOf, type Truth } from "./truth.ts";

const truthIn = (h: Harness, id: string, severity: number): Truth => ({ fault: catalogueOf(h).find((f) => f.id === id)!, severity });

describe("people of the simulated world", () => {
  const h = provingCircuit("rear-cluster");
  it("see by figures of their own, not by what the engine believes of looks", () => {
    const truth = truthIn(h, "W4 short to ground", 0.5);
    const believed = lookChance(
      h,
      { index: 0, fault: truth.fault, severity: 0.5, supposed: truth.fault.faultAt(0.5), repair: 0, logPrior: 0 },
      "W4",
    );
    expect(showsChance(h, peopleWhoErr(1), truth, "W4")).not.to.equal(believed);
    expect(showsChance(h, peopleWhoErr(1), truth, "W5")).to.equal(0);
  });
  it("miss more the more they err", () => {
    const seen = (times: number): number => {
      const [chance, people] = [chanceOf(3), peopleWhoErr(times)];
      const test = {
        state: { ...complaintOf(h, [truthIn(h, "C1.1 open", 0).fault.faultAt(0)])!.state },
        observe: { kind: "look", at: "C1.1" },
      } as const;
      return Array.from({ length: 400 }, () => resultOf(h, test, [truthIn(h, "C1.1 open", 0)], true, chance, people)).filter(
        (r) => r.kind === "word" && r.word === "corroded",
      ).length;
    };
    expect(seen(0.25)).to.be.within(360, 390);
    expect(seen(1)).to.be.within(285, 340);
    expect(seen(4)).to.be.within(30, 70);
  });
});

describe("who notices", () => {
  const CASES: readonly (readonly [string, string, number, string, string])[] = [
    ["rear-cluster", "C1.1 open", 0, "driver", "TL1"],
    ["charge-lamp", "C1.4 open", 0, "lamp", "CHL"],
    ["sensor-return", "C1.3 open", 0, "scan", "P0118"],
    ["lin-seats", "C2.2 open", 0, "scan", "U1103"],
    ["cold-start", "G3 resistance", 0.0022, "nobody", ""],
    ["rear-cluster", "W9 short to ground", 2, "meter", "BAT"],
  ];
  for (const [name, id, severity, who, what] of CASES)
    it(`${name}, ${id}: ${who}`, () => {
      const harness = provingCircuit(name);
      const { fault } = truthIn(harness, id, severity);
      const found = complaintOf(harness, [fault.faultAt(severity)]);
      expect(found?.by ?? "nobody").to.equal(who);
      if (what !== "") expect(JSON.stringify(found!.evidence)).to.include(what);
    });
  it("is counted over all faults that were tried", () => {
    const harness = provingCircuit("wire-trim");
    const { noticed, cases } = practiseAll(harness, truthsOf(harness, 12, 3), 3, false);
    expect(Object.values(noticed).reduce((p, q) => p + q)).to.be.closeTo(1, 1e-3);
    expect(cases).to.equal(Math.round(12 * (1 - noticed.nobody)));
  });
});

describe("calibration", () => {
  const run = (answers: Run["answers"]): Run => ({ answers }) as Run;
  it("puts what was given beside how often it was right, and weighs by how many answers there are", () => {
    const half = Array.from({ length: 10 }, (_, i) => ({ probability: 0.55, right: i < 5 }));
    const sure = Array.from({ length: 30 }, (_, i) => ({ probability: 0.99, right: i < 27 }));
    const { bins, expectedError } = calibrationOf([run(half), run(sure), run([{ probability: 0.3, right: false }])]);
    expect(bins[0]).to.include({ from: 0.5, to: 0.6, count: 10, right: 0.5 });
    expect(bins.at(-1)).to.include({ count: 30, right: 0.9 });
    // (10·0.05 + 30·0.09)/40.
    expect(expectedError).to.be.closeTo(0.08, 1e-9);
  });
});

describe("every proposal of practice runs", () => {
  const NAMES = readdirSync(new URL("../test/proving/", import.meta.url)).flatMap((f) =>
    f.endsWith(".circuit") ? [f.replace(".circuit", "")] : [],
  );
  let leads = 0;
  for (const name of NAMES)
    it(`${name}: breaks no rule, and no lead that it puts on blows on the real vehicle`, () => {
      const h = provingCircuit(name);
      const runs = truthsOf(h, 6, 31).flatMap((truth, i) => practise(h, [truth], { chance: chanceOf(i), mostSteps: 6 }) ?? []);
      const safety = safetyTogether(runs.map((r) => r.safety));
      expect(safety.proposals).to.be.above(0);
      expect([safety.refused, safety.live, safety.blown]).to.deep.equal([[], [], []]);
      leads += safety.leads;
    });
  it("some of them put leads on", () => expect(leads).to.be.above(0));
  it("would be noticed if they did harm", () => {
    const h = provingCircuit("rear-cluster");
    const state: VehicleState = { ...REST_STATE, key: "run", on: ["SW1"], bridged: [["BAT.+", "G2"]] };
    const observe = { kind: "ohms", red: "TL1.1", black: "BAT.-" } as const;
    const safety = safetyOf(h, [{ state, observe }], []);
    // A lead from battery positive to ground, which blows as well, and ohms on a lamp that is lit.
    expect(safety.refused).to.have.length(1);
    expect(safety.refused[0]).to.match(/joins battery positive to ground/);
    expect(safety.live).to.deep.equal(["TL1.1 to BAT.-"]);
    expect(safety.blown).to.deep.equal(["BAT.+ to G2"]);
  });
});
