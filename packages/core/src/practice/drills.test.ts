import { expect } from "chai";
import { shownBy } from "../diagnosis/index.ts";
import { circuitOf } from "../test/circuits.ts";
import { vehicleOf } from "../test/vehicles.ts";
import { DRILL_KINDS, makeDrill } from "./drills.ts";

const barge = circuitOf(`
BAT(12.6V) -- W1 RD 6mm2 0.8m -- S1
S1 -- W2 RD 4mm2 1m -- F1(20A) -- W3 RD/WH 2.5mm2 1.2m -- SW1(switch "lamp switch") -- W8 BK/WH 2.5mm2 3m -- S2
S2 -- W9 BK/WH 1.5mm2 0.4m -- LA1(lamp 55W "work lamp, left") -- W10 BN 1.5mm2 0.4m -- S3
S2 -- W11 BK/WH 1.5mm2 1.4m -- LA2(lamp 55W "work lamp, right") -- W12 BN 1.5mm2 1.4m -- S3
S3 -- W13 BN 2.5mm2 0.6m -- G3
S1 -- W14 RD 2.5mm2 1m -- F3(15A) -- W15 RD/BU 2.5mm2 0.4m -- SW2(switch "pump switch") -- W16 BU 2.5mm2 2m -- PMP(motor 8A "bilge pump") -- W17 BN 2.5mm2 0.3m -- G4
G1 -- W18 BK 25mm2 0.5m -- BAT
`);

describe("a drill", () => {
  const drills = [barge, vehicleOf("gritter"), vehicleOf("rig-lamps")].flatMap((h) =>
    DRILL_KINDS.flatMap((kind) => [1, 2, 3, 4].flatMap((seed) => makeDrill(h, kind, seed) ?? [])),
  );

  it("has four choices that differ, and one of them is right", () => {
    expect(new Set(drills.map((d) => d.kind)).size).to.equal(DRILL_KINDS.length);
    for (const d of drills) {
      expect(d.choices, d.question).to.have.length(4);
      expect(new Set(d.choices.map((c) => c.text)).size, d.question).to.equal(4);
      expect(d.choices.filter((c) => c.isRight)).to.have.length(1);
      for (const c of d.choices) expect(c.why).to.match(/\.$/);
    }
  });
  it("is the same from the same seed, and the right one is not always in the same place", () => {
    expect(makeDrill(barge, "black lead", 7)).to.deep.equal(makeDrill(barge, "black lead", 7));
    const places = new Set(drills.map((d) => d.choices.findIndex((c) => c.isRight)));
    expect(places.size).to.be.at.least(3);
  });
  it("wants the black lead on the battery, and proves a ground with current flowing", () => {
    for (const d of drills) {
      const right = d.choices.find((c) => c.isRight)!.text;
      if (d.kind === "black lead") expect(right).to.match(/^BAT\.-/);
      if (d.kind === "proves the ground") expect(right).to.match(/^working: .*black on battery negative$/);
    }
  });
  it("says of a reading what the circuit says", () => {
    const one = [1, 2, 3, 4, 5, 6].flatMap((seed) => makeDrill(barge, "what reads", seed) ?? [])[0]!;
    const spot = /(?:wire |ground )?\b([WG]\d+)/.exec(one.question)![1]!;
    const place = /show at (\S+) /.exec(one.question)![1]!;
    const on = [...one.question.matchAll(/(SW\d) on/g)].map((m) => m[1]!);
    const state = { key: "off" as const, engine: "stopped" as const, on, temperatureC: 20, opened: [], bridged: [] };
    const shown = shownBy(barge, { state, observe: { kind: "volts", red: place, black: "BAT.-" } }, [{ kind: "open", link: spot }]);
    const said = one.choices.find((c) => c.isRight)!.text;
    const value = Number(/([\d.]+)/.exec(said)![1]!) * (said.includes("m") ? 0.001 : 1);
    expect(shown.kind === "value" ? Math.abs(shown.value) : NaN).to.be.closeTo(value, 0.02 * Math.max(1, value));
  });
  it("is none where a circuit has nothing to ask", () => {
    const bare = circuitOf("BAT(12.6V) -- W1 RD 6mm2 0.8m -- F1(20A) -- W2 RD 1mm2 0.3m -- S1\nG1 -- W3 BK 25mm2 0.5m -- BAT");
    for (const kind of DRILL_KINDS) expect(makeDrill(bare, kind, 1), kind).to.equal(undefined);
  });
});
