import { expect } from "chai";
import { shownBy } from "../../diagnosis/index.ts";
import type { Harness } from "../../harness/index.ts";
import { symptomsIn } from "../../job/symptoms.ts";
import { circuitOf } from "../../test/circuits.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import { asBuilt, misdrawnWords } from "../misdrawn.ts";
import { FAMILIES } from "./families.ts";
import { playScenario } from "./play.ts";
import { makeScenario, type Scenario } from "./scenario.ts";

/** Two work lamps behind a relay and a pump with a ground of its own: in no file of the fleet. */
const barge = circuitOf(`
BAT(12.6V) -- W1 RD 6mm2 0.8m -- S1
S1 -- W2 RD 4mm2 1m -- F1(20A) -- W3 RD/WH 2.5mm2 1.2m -- R1(relay "lamp relay").30
S1 -- W4 RD 1mm2 1m -- F2(5A) -- W5 RD/GN 1mm2 0.4m -- R1.86
R1.85 -- W6 BN/GN 1mm2 1.6m -- SW1(switch "lamp switch") -- W7 BN 1mm2 0.4m -- G2
R1.87 -- W8 BK/WH 2.5mm2 3m -- S2
S2 -- W9 BK/WH 1.5mm2 0.4m -- LA1(lamp 55W "work lamp, left") -- W10 BN 1.5mm2 0.4m -- S3
S2 -- W11 BK/WH 1.5mm2 1.4m -- LA2(lamp 55W "work lamp, right") -- W12 BN 1.5mm2 1.4m -- S3
S3 -- W13 BN 2.5mm2 0.6m -- G3
S1 -- W14 RD 2.5mm2 1m -- F3(15A) -- W15 RD/BU 2.5mm2 0.4m -- SW2(switch "pump switch") -- W16 BU 2.5mm2 2m -- PMP(motor 8A "bilge pump") -- W17 BN 2.5mm2 0.3m -- G4
G1 -- W18 BK 25mm2 0.5m -- BAT
`);
const faultsOf = (s: Scenario) => [...s.truth.map((t) => t.fault.faultAt(t.severity)), ...s.beside];
const made = (harness: Harness, family: (typeof FAMILIES)[number], seed = 1, difficulty = 0.4) =>
  makeScenario(harness, { family, seed, difficulty });

/** Three lamps of a trailer through one plug, wires of five colours. */
const trailer = circuitOf(`
BAT(12.6V) -- W1 RD 6mm2 0.8m -- S1
S1 -- W2 RD 2mm2 1m -- F1(10A) -- W3 GY 1mm2 0.4m -- SW1(switch "light switch") -- W4 GY 1mm2 3m -- C1(connector ways=4).1 -- W5 GY 1mm2 4m -- LA1(lamp 10W "tail light") -- W6 WH 1mm2 0.4m -- S2
S1 -- W7 RD 2mm2 1m -- F2(10A) -- W8 BK/RD 1mm2 0.4m -- SW2(switch "brake switch") -- W9 BK/RD 1mm2 3m -- C1.2 -- W10 BK/RD 1mm2 4m -- LA2(lamp 21W "stop light") -- W11 WH 1mm2 0.4m -- S2
S1 -- W12 RD 2mm2 1m -- F3(10A) -- W13 GN 1mm2 0.4m -- SW3(switch "fog switch") -- W14 GN 1mm2 3m -- C1.3 -- W15 GN 1mm2 4m -- LA3(lamp 21W "fog light") -- W16 WH 1mm2 0.4m -- S2
S2 -- W17 WH 2.5mm2 4m -- C1.4 -- W18 WH 2.5mm2 1m -- G2
G1 -- W19 BK 25mm2 0.5m -- BAT
`);

describe("a scenario", () => {
  const gritter = vehicleOf("gritter");
  const all = [barge, gritter].flatMap((h) =>
    FAMILIES.flatMap((family) => [1, 2].flatMap((seed) => made(h, family, seed, 0.3 * seed) ?? []).map((s) => [h, s] as const)),
  );

  it("is the same from the same seed, and another one from another", () => {
    const twice = [1, 1, 2].map((seed) => JSON.stringify(made(barge, "high resistance", seed)));
    expect(twice[0]).to.equal(twice[1]);
    expect(twice[0]).to.not.equal(twice[2]);
  });
  it("has a diagram that is wrong in one place where it may be: the vehicle works as drawn, the fault shows as before, and it is found all the same", () => {
    const all12 = Array.from({ length: 12 }, (_, i) =>
      makeScenario(trailer, { family: "open", difficulty: 0.5, seed: i + 1, misdrawn: true })!,
    );
    const wrong = all12.filter((s) => s.misdrawn !== undefined);
    expect(wrong.length).to.be.within(3, 11);
    expect(new Set(wrong.map((s) => s.misdrawn!.kind))).to.deep.equal(new Set(["cavities", "colour"]));
    expect(wrong.every((s) => s.difficulty.twists.includes("diagram wrong in one place"))).to.equal(true);
    for (const s of wrong) {
      const vehicle = asBuilt(trailer, s.misdrawn);
      const tried: readonly (readonly [string[], Scenario["beside"]])[] = [
        [[], []],
        [["SW1", "SW2", "SW3"], []],
        [[...s.complaint.state.on], faultsOf(s)],
      ];
      for (const [on, faults] of tried) {
        const shown = (h: Harness) =>
          JSON.stringify(
            ["LA1", "LA2", "LA3"].map((part) =>
              shownBy(h, { state: { ...s.complaint.state, on }, observe: { kind: "part", part } }, faults),
            ),
          );
        expect(shown(vehicle), misdrawnWords(trailer, s.misdrawn!)).to.equal(shown(trailer));
      }
      expect(playScenario(trailer, s).solved, `seed ${s.seed}: ${misdrawnWords(trailer, s.misdrawn!)}`).to.equal(true);
    }
    expect(misdrawnWords(trailer, { kind: "colour", wire: "W9", colour: "TQ" })).to.equal(
      "The diagram was wrong at W9: drawn BK/RD, on the vehicle TQ",
    );
  });
  it("is made of most families, also for a circuit that nobody has seen before", () => {
    const families = new Set(all.filter(([h]) => h === barge).map(([, s]) => s.family));
    expect([...families]).to.include.members([
      "open",
      "high resistance",
      "bad ground",
      "shared return",
      "short to ground",
      "wrong fuse",
      "drain",
      "intermittent",
    ]);
    expect(new Set(all.map(([, s]) => s.family)).size).to.be.at.least(12);
  });
  it("tells only what is so on its vehicle and not on a good one", () => {
    let told = 0;
    for (const [harness, s] of all) {
      if (s.complaint.by === "scan") continue;
      for (const e of s.complaint.evidence) {
        const test = { state: e.state, observe: e.observe };
        const [now, good] = [shownBy(harness, test, faultsOf(s)), shownBy(harness, test, [])];
        expect(now, `${s.family} ${s.seed}`).to.not.deep.equal(good);
        if (e.result.kind === "word") expect(now, `${s.family} ${s.seed}`).to.deep.equal(e.result);
        told++;
      }
    }
    expect(told).to.be.above(30);
  });
  it("belongs to its family", () => {
    for (const [harness, { family, truth, presence, complaint }] of all) {
      for (const { fault } of truth) {
        if (family === "short to ground") expect(fault.effect).to.equal("short to ground");
        if (family === "bad ground")
          expect(
            harness.components.some((c) => c.id === fault.link && c.kind === "ground"),
            fault.id,
          ).to.equal(true);
        if (family === "wrong fuse") expect(fault.mode).to.equal("wrong rating");
      }
      expect(presence < 1, family).to.equal(family === "intermittent");
      if (family === "no crank") expect(complaint.focus).to.include("STA");
      if (family === "drain") expect(complaint.by).to.equal("meter");
    }
  });
  it("is spoken of so that its words name a part that is complained of, for whoever reads them", () => {
    const spoken = all.filter(
      ([, s]) => s.complaint.evidence.some((e) => e.observe.kind === "part") && s.complaint.state.engine === "stopped",
    );
    const named = spoken.filter(([h, s]) =>
      symptomsIn(h, s.told.words).some((o) => o.lines.some((l) => s.complaint.focus.includes(l.part))),
    );
    expect(spoken.length).to.be.above(15);
    expect(named.length / spoken.length).to.be.above(0.8);
    for (const [, s] of all)
      expect(s.told.words, s.told.words)
        .to.match(/^[A-Z].*[.]$/)
        .and.not.match(/[{}]|undefined/);
  });
  it("comes nearer to a wish for harder, by what it is beside the fault", () => {
    const mean = (difficulty: number): number => {
      const values = [1, 2, 3, 4, 5, 6].flatMap(
        (seed) => makeScenario(gritter, { family: "open", difficulty, seed })?.difficulty.value ?? [],
      );
      return values.reduce((s, v) => s + v, 0) / values.length;
    };
    expect(mean(0.7)).to.be.above(mean(0.2) + 0.15);
    const easy = makeScenario(gritter, { family: "open", difficulty: 0.1, seed: 1 })!;
    expect(easy.difficulty.twists).to.deep.equal([]);
    expect(easy.beside).to.deep.equal([]);
  });
  it("is none where nothing can be noticed, and refuses numbers that mean nothing", () => {
    const bare = circuitOf("BAT(12.6V) -- W1 RD 6mm2 0.8m -- F1(20A) -- W2 RD 1mm2 0.3m -- S1\nG1 -- W3 BK 25mm2 0.5m -- BAT");
    expect(makeScenario(bare, { difficulty: 0.5, seed: 1 })).to.equal(undefined);
    expect(() => makeScenario(barge, { difficulty: 2, seed: 1 })).to.throw(RangeError, /0 to 1/);
    expect(() => makeScenario(barge, { difficulty: 0.5, seed: 1.5 })).to.throw(RangeError, /whole number/);
  });
  it("is solved by the simulated technician, two faults one after the other", () => {
    const hard = [1, 2, 3, 4, 5, 6, 7, 8].flatMap((seed) => makeScenario(barge, { family: "open", difficulty: 0.9, seed }) ?? []);
    const two = hard.find((s) => s.difficulty.twists.includes("two faults"));
    expect(two, "one with two faults").to.not.equal(undefined);
    const played = playScenario(barge, two!);
    expect(played.solved).to.equal(true);
    expect(played.runs.length).to.be.within(1, 2);
    expect(playScenario(barge, made(barge, "short to ground")!).solved).to.equal(true);
  });
});
