import { expect } from "chai";
import { circuitOf, demoCircuits, FAN } from "../test/circuits.ts";
import { describeLink, describePlace } from "./describe.ts";
import { linksOf, pathOfLoad } from "./graph.ts";
import { allPlaces, parsePlace } from "./places.ts";
import { harness as harnessSchema } from "./schema.ts";
import { validateHarness } from "./validate.ts";

const fan = circuitOf(FAN);

describe("lead places", () => {
  const READ: readonly (readonly [string, string])[] = [
    ["-", "BAT.-"],
    ["−", "BAT.-"],
    ["+", "BAT.+"],
    ["pos", "BAT.+"],
    ["f1.2", "F1.2"],
    ["C1.4A", "C1.4a"],
    [" g1 ", "G1"],
    ["body", "body"],
    ["fan.1", "FAN.1"],
  ];
  for (const [typed, place] of READ)
    it(`“${typed}” is ${place}`, () => expect(parsePlace(fan, typed)).to.deep.equal({ kind: "place", place }));

  it("asks which of two sides is meant", () => {
    expect(parsePlace(fan, "F1")).to.deep.equal({ kind: "ambiguous", choices: ["F1.1", "F1.2"] });
    expect(parsePlace(fan, "C1.4")).to.deep.equal({ kind: "ambiguous", choices: ["C1.4a", "C1.4b"] });
    expect(parsePlace(fan, "w3")).to.deep.equal({ kind: "ambiguous", choices: ["SW1.2", "C1.4a"] });
  });

  it("offers what is near when nothing fits", () => {
    const answer = parsePlace(fan, "F9.1");
    expect(answer.kind).to.equal("unknown");
    expect(answer.kind === "unknown" && answer.nearest).to.include("F1.1");
    expect(parsePlace(fan, "").kind).to.equal("unknown");
  });

  it("are said in trade words", () => {
    expect(describePlace(fan, "C1.4a")).to.equal("C1 cavity 4, side a (W3 RD/GN)");
    expect(describePlace(fan, "BAT.-")).to.equal("battery negative post");
    expect(describePlace(fan, "body")).to.equal("bare metal of the body");
    for (const { harness } of demoCircuits) for (const link of linksOf(harness)) expect(describeLink(harness, link)).to.match(/\S/);
  });
});

describe("path of a load", () => {
  it("runs from battery positive through the load to battery negative", () => {
    const path = pathOfLoad(fan, "FAN");
    if (path.kind !== "path") throw new Error(path.kind);
    expect(path.feed.map((h) => h.link.id)).to.deep.equal(["W1", "F1", "W2", "SW1", "W3", "C1.4", "W4"]);
    expect(path.ground.map((h) => h.link.id)).to.deep.equal(["W5", "G1", "G2", "W6"]);
  });

  it("goes round other loads where there is a way, whichever way the load is drawn", () => {
    const two = circuitOf(`BAT -- RD 4mm2 1m -- S1 -- RD 1mm2 1m -- A(lamp 5W) -- BK 1mm2 1m -- S2 -- BK 1mm2 1m -- G1
      S2 -- BK 1mm2 1m -- B(lamp 5W) -- RD 1mm2 1m -- S1
      G2 -- BK 25mm2 0.5m -- BAT`);
    const path = pathOfLoad(two, "B");
    if (path.kind !== "path") throw new Error(path.kind);
    expect(path.load).to.include({ from: "B.2", to: "B.1" });
    expect([...path.feed, ...path.ground].map((h) => h.link.id)).to.not.include("A");
  });

  it("covers each demo circuit end to end, hop by hop", () => {
    for (const { harness } of demoCircuits) {
      for (const load of harness.components.filter((c) => c.kind === "load")) {
        const path = pathOfLoad(harness, load.id);
        if (path.kind !== "path") throw new Error(`${load.id}: ${path.kind}`);
        const hops = [...path.feed, path.load, ...path.ground];
        hops.slice(1).forEach((hop, i) => expect(hop.from).to.equal(hops[i]!.to));
        expect([hops[0]!.from, hops.at(-1)!.to]).to.deep.equal(["BAT.+", "BAT.-"]);
      }
    }
  });
});

describe("validation", () => {
  it("finds nothing wrong with the demo circuits, which satisfy their schema", () => {
    expect(demoCircuits.length).to.be.at.least(3);
    for (const { file, harness } of demoCircuits) {
      expect(validateHarness(harness), file).to.deep.equal([]);
      expect(harnessSchema.parse(harness)).to.deep.equal(harness);
      expect(new Set(allPlaces(harness)).size).to.equal(allPlaces(harness).length);
    }
  });

  it("names the load whose feed or ground is missing", () => {
    const cut = (wire: string): string[] =>
      validateHarness({ ...fan, wires: fan.wires.filter((w) => w.id !== wire) }).map((p) => `${p.code} ${p.at}`);
    expect(cut("W2")).to.include("load-without-feed FAN");
    expect(cut("W5")).to.include("load-without-ground FAN");
    expect(cut("W6")).to.include("mass-without-return G1");
  });

  it("knows one battery only", () => {
    const second = { ...fan.components[0]!, id: "BAT2" };
    expect(validateHarness({ ...fan, components: [...fan.components, second] }).map((p) => p.code)).to.deep.equal(["two-batteries"]);
    expect(validateHarness({ ...fan, components: fan.components.slice(1), wires: [] }).map((p) => p.code)).to.deep.equal(["no-battery"]);
  });
});
