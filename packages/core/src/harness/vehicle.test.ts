import { expect } from "chai";
import { parseNotation } from "../notation/index.ts";
import {
  ampsFromDrop,
  applyEdit,
  besideCavity,
  busMap,
  diffHarness,
  editOfFinding,
  faceOf,
  findInHarness,
  focusOfCode,
  fuseMap,
  groundMap,
  harnessSchema,
  loomMap,
  moduleMap,
  neighboursOf,
  optionChanges,
  resolveVariant,
  sharedNodes,
  sliceOf,
  validateHarness,
  variantsOf,
  type Harness,
} from "./index.ts";
import { textOf, vehicleOf } from "../test/vehicles.ts";

const read = (text: string): Harness => {
  const { harness, problems } = parseNotation(text);
  if (harness === undefined) throw new Error(problems.map((p) => `${p.line}: ${p.message}`).join("\n"));
  return harness;
};
const van = vehicleOf("plover");

/** Two lamps and a fan behind one fuse; the lamps meet in a splice; a tow lamp by option, in the place of a blind plug. */
const SMALL = `circuit "small"
option tow "trailer"
zone boot "boot" 4min water
loom rear "rear loom" in boot rub crosses "latch"
G1(zone=boot tool="10 mm") -- BK 25mm2 0.4m -- BAT
BAT -- RD 6mm2 0.5m -- F1(20A box="main" slot=3) -- RD 2.5mm2 1m -- S1
via rear
S1 -- GY 1mm2 1m -- C1.1 -- GY 1mm2 0.3m -- LA(lamp 21W "stop, left") -- BN 1mm2 0.3m -- S2
S1 -- GY 1mm2 1m -- C1.2 -- GY/RD 1mm2 0.3m -- LB(lamp 21W "stop, right") -- BN 1mm2 0.3m -- S2
S2 -- BN 1.5mm2 0.5m -- C1.3b
C1.3a -- BN 1.5mm2 0.5m if=!tow -- G2(zone=boot tool="13 mm")
C1.3a -- BN 2.5mm2 0.6m if=tow -- G2
via
S1 -- OG 2.5mm2 1m -- FN(motor 8A "fan") -- BN 2.5mm2 0.4m -- G3
S1 -- WH 1mm2 2m if=tow -- LT(lamp 21W if=tow "trailer") -- BN 1mm2 1m if=tow -- G2
`;

describe("variants", () => {
  const whole = read(SMALL);
  it("says of an option what it changes", () => {
    const van = read(textOf("plover"));
    expect(optionChanges(van, "fridge")).to.match(/^adds cold body module, hold temperature, \d+ more parts$/);
    const small = read(`option lamp "work lamp"
option plain "no horn"
BAT -- RD 1mm2 1m -- H1(motor 4A if=!plain "horn") -- BK 1mm2 1m -- BAT
BAT -- RD 1mm2 1m -- L1(lamp 21W if=lamp "work lamp, left") -- BK 1mm2 1m -- BAT
BAT -- RD 1mm2 1m -- L2(lamp 21W if=lamp "work lamp, right") -- BK 1mm2 1m -- BAT`);
    expect(optionChanges(small, "lamp")).to.equal("adds work lamp, 1 more part");
    expect(optionChanges(small, "plain")).to.equal("takes away horn");
    expect(optionChanges(small, "other")).to.equal("only wires");
  });
  it("leave out what a vehicle has not got, and give the same object for the same options", () => {
    const without = resolveVariant(whole, []);
    expect(without.components.some((c) => c.id === "LT")).to.equal(false);
    expect(without.wires.filter((w) => w.from.component === "C1" && w.from.pin === "3a").map((w) => w.areaMm2)).to.deep.equal([1.5]);
    expect(resolveVariant(whole, ["tow"]).wires).to.have.length(without.wires.length + 2);
    expect(resolveVariant(whole, ["tow"])).to.equal(resolveVariant(whole, ["tow"]));
    expect(variantsOf(whole)).to.deep.equal([[], ["tow"]]);
  });
  it("take two wires in one cavity when no vehicle has both, and only then", () => {
    expect(validateHarness(whole)).to.deep.equal([]);
    expect(parseNotation(SMALL.replace("if=!tow ", "")).problems.map((p) => p.code)).to.include("cavity-shared");
  });
});

describe("checks of a document", () => {
  const whole = read(SMALL);
  const wire = whole.wires[0]!;
  const BAD: readonly (readonly [string, Harness, string, string])[] = [
    [
      "a pin of nobody",
      { ...whole, wires: [...whole.wires, { ...wire, id: "W90", to: { component: "QQ", pin: "1" } }] },
      "dangling-pin",
      "W90",
    ],
    [
      "a pin that a part has not got",
      { ...whole, wires: [...whole.wires, { ...wire, id: "W90", to: { component: "F1", pin: "7" } }] },
      "dangling-pin",
      "W90",
    ],
    ["one name for two", { ...whole, components: [...whole.components, { id: "w1", kind: "splice" }] }, "id-twice", "W1"],
    ["a colour of no standard", applyEdit(whole, { kind: "set", id: "W1", values: { colour: "ZZ" } }), "colour-unknown", "W1"],
    ["a zone nobody explained", applyEdit(whole, { kind: "set", id: "F1", values: { zone: "attic" } }), "name-unknown", "F1"],
    ["an option nobody explained", applyEdit(whole, { kind: "set", id: "F1", values: { when: "sunroof" } }), "name-unknown", "F1"],
    ["a cavity beyond the face", applyEdit(whole, { kind: "set", id: "C1", values: { ways: 2 } }), "cavity-unknown", "C1"],
    ["metal without a strap", applyEdit(whole, { kind: "set", id: "G3", values: { on: "frame" } }), "mass-without-return", "G3"],
  ];
  for (const [what, harness, code, at] of BAD)
    it(`name ${what} and its place, and what they offer mends it`, () => {
      const found = validateHarness(harness).find((p) => p.code === code);
      expect(found?.at).to.equal(at);
      if (found?.fix === undefined) {
        expect(["dangling-pin", "id-twice"]).to.include(code);
        return;
      }
      const mended = applyEdit(harness, found.fix.edit);
      expect(validateHarness(mended).filter((p) => p.code === code && p.at === at)).to.deep.equal([]);
      expect(harnessSchema.safeParse(mended).success).to.equal(true);
    });
});

describe("slices", () => {
  it("hold feed, load, return and control of what is asked, and no other circuit", () => {
    const { core, harness } = sliceOf(van, ["FPU"], { sharers: false });
    for (const id of ["F25", "R3.contact", "R3.coil", "C20.1", "FPU.winding", "C20.2", "G13", "G1", "ECM.A7 driver"])
      expect(core.has(id), id).to.equal(true);
    expect(harness.components.some((c) => c.id === "WIP" || c.id === "L3")).to.equal(false);
  });
  it("name what shares, nearest first", () => {
    const shares = sliceOf(van, ["L13"]).sharers;
    expect(shares.slice(0, 3).map((s) => s.load)).to.include.members(["L10", "L15"]);
    expect(shares.find((s) => s.load === "L10")?.shares).to.equal("S32");
  });
  it("follow a signal to its module and that one's feed", () => {
    const ids = sliceOf(van, ["RPS"]).harness.components.map((c) => c.id);
    expect(ids).to.include.members(["RPS", "S11", "C13", "ECM", "F21", "G5"]);
  });
  it("are found by words, and codes stand for what is at the pin", () => {
    expect(findInHarness(van, "stop left")[0]?.id).to.equal("L13");
    expect(findInHarness(van, "W21")[0]).to.include({ kind: "wire", id: "W21" });
    expect(findInHarness(van, "ecm.c3")[0]).to.include({ kind: "pin", id: "ECM.C3" });
    expect(sliceOf(van, ["ECM.C3"], { sharers: false }).harness.components.map((c) => c.id)).to.include.members(["RPS", "ECM", "F21"]);
    expect(findInHarness(van, "")).to.deep.equal([]);
    expect(focusOfCode(van, "P0193")).to.deep.equal(["RPS", "ECM.C3"]);
    expect(focusOfCode(van, "U0121")).to.deep.equal(["ABM"]);
    expect(sliceOf(van, ["NOBODY"]).harness.components).to.deep.equal([]);
  });
});

describe("shared nodes", () => {
  const top = (failing: string[], working: string[]): string => sharedNodes(van, failing, working)[0]!.id;
  it("put first what all failing share and no working one does", () => {
    expect(top(["L10", "L13", "L15"], ["L11", "L14"])).to.equal("S32");
    // The plate light is on the same stud but not in the door.
    expect(sharedNodes(van, ["L10", "L12"], ["L11"])[0]).to.deep.include({ kind: "ground", id: "G10" });
    expect(top(["RPS", "CAM", "PED1"], ["BPS", "EGP"])).to.equal("ECM.B1");
    expect(top(["IN1", "IN2", "IN3"], ["EGV", "FPU"])).to.match(/S15|F23|C14/);
    expect(top(["WIP", "MHL"], ["BLO"])).to.match(/S6|IGR/);
  });
  it("let each working item speak against a node", () => {
    const node = sharedNodes(van, ["L10", "L13"], ["L15"]).find((n) => n.id === "S32")!;
    expect(node.working).to.deep.equal(["L15"]);
  });
  it("know modules by their bus line, and refuse names of nothing", () => {
    expect(sharedNodes(van, ["BCM", "CLU", "ARM"], []).map((n) => n.kind)).to.include("bus");
    expect(() => sharedNodes(van, ["XYZ"], [])).to.throw(RangeError);
  });
});

describe("maps", () => {
  it("give each ground its place, tool, minutes and all that comes through it", () => {
    const g10 = groundMap(van).find((g) => g.id === "G10")!;
    expect(g10).to.deep.include({ minutes: 6, tool: "10 mm socket", on: "body", strap: false });
    expect(g10.serves.map((s) => s.id)).to.deep.equal(["L10", "L12", "L13", "L15", "L18"]);
    expect(groundMap(van).find((g) => g.id === "G1")?.strap).to.equal(true);
  });
  it("give each fuse its socket, both test points with the feed first, and the current from a drop", () => {
    const f15 = fuseMap(van).find((f) => f.id === "F15")!;
    expect(f15).to.deep.include({ box: "dash box", slot: "6", colour: "clear", testPoints: ["F15.1", "F15.2"] });
    expect(f15.serves.map((s) => s.id)).to.deep.equal(["WIP", "WSH"]);
    // A blade of 25 A has 2.5 mΩ cold: 10 mV over it are 4 A.
    expect(ampsFromDrop(0.01, f15)).to.be.closeTo(4, 1e-9);
  });
  it("list the members of each bus line, its splices, and each module's feed and ground", () => {
    const high = busMap(van).find((b) => b.sort === "can high")!;
    expect(high.members).to.deep.equal(["ABM.H", "ARM.H", "BCM.H", "CLU.H", "ECM.H"]);
    expect(high.others).to.deep.equal(["RT1", "RT2"]);
    expect(moduleMap(van).find((m) => m.id === "CLU")).to.deep.include({ feeds: ["F3", "F12"], grounds: ["G8", "G1"] });
  });
  it("say who runs beside whom", () => {
    const small = resolveVariant(read(SMALL), []);
    const rear = loomMap(small).find((l) => l.id === "rear")!;
    expect(rear).to.deep.include({ crosses: "latch", exposure: ["rub", "water"] });
    expect(neighboursOf(small, rear.wires[0]!.id)).to.have.length(rear.wires.length - 1);
  });
  it("mirror a face between wire side and mating side, and between the halves", () => {
    const numbers = (half: "a" | "b", look: "wire side" | "mating side"): string[] =>
      faceOf(van, "C14", half, look).rows.map((r) => r.map((c) => c.number).join(""));
    expect(numbers("a", "wire side")).to.deep.equal(["1234", "5678"]);
    expect(numbers("a", "mating side")).to.deep.equal(["4321", "8765"]);
    expect(numbers("b", "wire side")).to.deep.equal(["4321", "8765"]);
    expect(numbers("b", "mating side")).to.deep.equal(["1234", "5678"]);
    expect(besideCavity(faceOf(van, "C14", "a", "wire side"), "2").map((c) => c.number)).to.deep.equal(["1", "3", "6"]);
  });
});

describe("differences and notes from the vehicle", () => {
  const whole = read(SMALL);
  it("tell what changed by name and value, whatever the order of writing", () => {
    const turned = harnessSchema.parse(
      JSON.parse(JSON.stringify(whole), (_, v: unknown) =>
        typeof v === "object" && v !== null && !Array.isArray(v) ? Object.fromEntries(Object.entries(v).reverse()) : v,
      ),
    );
    expect(diffHarness(whole, turned)).to.deep.equal([]);
    const after = applyEdit(applyEdit(whole, { kind: "set", id: "W2", values: { colour: "OG" } }), { kind: "remove", id: "FN" });
    expect(diffHarness(whole, after).map((d) => d.words)).to.deep.equal([
      "part FN is gone (fan)",
      "wire W2: colour RD → OG",
      goneWords(whole, "FN", 0),
      goneWords(whole, "FN", 1),
    ]);
  });
  it("become changes where they can", () => {
    expect(editOfFinding(whole, "W2", "colour", "bk-wh")).to.deep.include({ values: { colour: "BK/WH" } });
    expect(editOfFinding(whole, "W2", "colour", "reddish")).to.equal(undefined);
    expect(editOfFinding(whole, "F1", "rating", "15 A")).to.deep.include({ values: { ratingAmps: 15 } });
    expect(editOfFinding(whole, "G2", "place", "behind the jack")).to.deep.include({ values: { at: "behind the jack" } });
    const cavity = whole.wires.find((w) => w.to.component === "C1" && w.to.pin === "2a")!;
    const edit = editOfFinding(whole, cavity.id, "cavity", "C1.5")!;
    expect(applyEdit(whole, edit).wires.find((w) => w.id === cavity.id)?.to.pin).to.equal("5a");
    expect(editOfFinding(whole, "W2", "other", "melted")).to.equal(undefined);
  });
});

/** Words for the n-th wire that ends at a part which was taken out. */
function goneWords(harness: Harness, part: string, n: number): string {
  const w = harness.wires.filter((x) => x.from.component === part || x.to.component === part)[n]!;
  return `wire ${w.id} is gone (${w.colour} ${w.from.component}.${w.from.pin} to ${w.to.component}.${w.to.pin})`;
}
