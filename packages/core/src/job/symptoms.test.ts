import { expect } from "chai";
import { vehicleOf } from "../test/vehicles.ts";
import { symptomsIn, symptomState, wholeSymptoms } from "./symptoms.ts";

const van = vehicleOf("plover");
const offered = (words: string, vehicle = van): readonly string[] =>
  symptomsIn(vehicle, words).map((o) => o.lines.map((l) => `${l.part} ${l.word}${l.wrong ? "" : " as it should"}`).join(" + "));

describe("symptoms read from a customer's words", () => {
  const CASES: readonly (readonly [string, readonly string[]])[] = [
    ["stop light, left, is dead", ["L13 none"]],
    ["The left brake light does not come on.", ["L13 none"]],
    ["both high beams are dim", ["L5 weak + L6 weak"]],
    ["The blower in the cab has got weak.", ["BLO weak"]],
    ["It turns over so slowly that it hardly starts", ["STA weak"]],
    ["The horn sounds by itself", ["HRN full"]],
    ["Left window does not go down", ["WNL none"]],
    ["The wipers are slow in the rain", ["WIP weak"]],
    ["The indicator at the front left flickers now and then, but the rear one is odd", ["L17 flickers"]],
    ["L4 is too bright", ["L4 too much"]],
    ["The low beams are fine. The horn is dead", ["L3 full as it should", "L4 full as it should", "HRN none"]],
    ["My neighbour has a dog", []],
    ["", []],
  ];
  for (const [words, wanted] of CASES) it(words === "" ? "none from none" : words, () => expect(offered(words)).to.deep.equal(wanted));
  it("offers what a crank without a start may be, the pump first", () => {
    expect(offered("Turns over but does not start")[0]).to.equal("FPU none");
  });
  it("takes a charge lamp that stays dark for a lamp, and one that stays on for the charging", () => {
    const gritter = vehicleOf("gritter");
    expect(offered("The battery was flat, and the charge lamp does not come on with the key any more.", gritter)).to.deep.equal([
      "L1 none",
    ]);
    expect(offered("The charge lamp stays on", gritter)).to.deep.equal(["ALT none"]);
  });
  it("tells an engine that dies from one that does not start", () => {
    expect(symptomsIn(van, "It dies at the lights")[0]!.lines[0]).to.include({ part: "FPU", word: "flickers", engine: "idling" });
  });
  it("offers only what the vehicle at hand has", () => {
    expect(offered("The rear screen is weak", vehicleOf("ouse"))).to.deep.equal(["RS1 weak"]);
    expect(offered("The beacon is weak")).to.deep.equal([]);
  });
  it("names what the whole vehicle does only where it has a part for it, and offers a line for each", () => {
    for (const name of ["plover", "brigg", "ouse", "gritter", "rig-lamps"]) {
      const vehicle = vehicleOf(name);
      for (const words of wholeSymptoms(vehicle)) expect(offered(words, vehicle), `${name}: ${words}`).to.not.deep.equal([]);
    }
    expect(wholeSymptoms(van)).to.include.members(["does not crank", "only clicks", "battery goes flat", "misfires"]);
    expect(wholeSymptoms(vehicleOf("rig-lamps"))).to.deep.equal([]);
    expect(offered("The battery goes flat")).to.deep.equal(["ALT none"]);
  });
  it("puts a symptom into a state in which a sound part works, and what runs by itself into one in which nobody asks for it", () => {
    expect(symptomState(van, { part: "L13", word: "none", wrong: true })).to.deep.include({ key: "off", on: ["SW13"] });
    expect(symptomState(van, { part: "HRN", word: "full", wrong: true }).on).to.deep.equal([]);
    expect(symptomState(van, { part: "STA", word: "weak", wrong: true, engine: "cranking" })).to.include({
      key: "crank",
      engine: "cranking",
    });
  });
});
