import { expect } from "chai";
import { REST_STATE, type Fault, type VehicleState } from "../../circuit/index.ts";
import { catalogueOf } from "../../faults/index.ts";
import type { Harness } from "../../harness/index.ts";
import { circuitOf } from "../../test/circuits.ts";
import { ask, read, said, shown } from "../../test/evidence.ts";
import { vehicleOf } from "../../test/vehicles.ts";
import { diagnose } from "../answer/diagnose.ts";
import { suspectsOf } from "../answer/explain.ts";
import type { Evidence } from "../evidence/evidence.ts";
import { scaled, sigmaOf } from "../evidence/likelihood.ts";
import type { Observable } from "../evidence/kinds/index.ts";
import { shownBy } from "./shown.ts";
import { faultsMoving } from "./moved-by.ts";

// Two circuits of one battery that share neither fuse nor ground.
const TWO = circuitOf(`circuit "Two lamps"
BAT(12.6V)
G1("frame")
G2("wing")
G3("sill")
G1 -- BK 16mm2 0.5m -- BAT
BAT -- RD 6mm2 0.5m -- F1(15A) -- W1 RD 1.5mm2 1m -- C1.1 -- W2 RD 1.5mm2 1m -- L1(lamp 21W) -- W3 BK 1.5mm2 1m -- G2
BAT -- RD 6mm2 0.5m -- F2(15A) -- W4 GN 1.5mm2 1m -- C2.1 -- W5 GN 1.5mm2 1m -- L2(lamp 55W) -- W6 BK 1.5mm2 1m -- G3
C1(connector "front")
C2(connector "rear")`);
const first = (harness: Harness, focus: string, evidence: readonly Evidence[]): string =>
  suspectsOf(diagnose(ask(harness, [focus], REST_STATE, evidence)), evidence)[0]!.element;

describe("what was observed away from the complaint", () => {
  it("brings in every fault that moves it, and none that does not", () => {
    const linkOfFault = new Map(catalogueOf(TWO).map((f) => [f.id, f.link]));
    const linksMoving = (red: string, black: string): readonly string[] => [
      ...new Set([...faultsMoving(TWO, read(TWO, REST_STATE, red, black, []))].map((id) => linkOfFault.get(id)!)),
    ];
    // The 10 mV over a sound cavity are within the noise: only its own resistance moves that.
    expect(linksMoving("C2.1a", "C2.1b")).to.deep.equal(["C2.1"]);
    const feed = linksMoving("L2.1", "BAT.-");
    expect(feed).to.include.members(["C2.1", "F2", "W4", "W5", "BAT"]);
    expect(feed).not.to.include.members(["C1.1", "W3", "G2"]);
  });

  // The complaint is about L1, which works on by and large; what is wrong is elsewhere.
  const CASES: readonly (readonly [string, Fault, readonly (readonly [string, string])[], string])[] = [
    [
      "a drop of 0.4 V that nobody notices",
      { kind: "series", link: "C2.1", ohms: 0.1 },
      [
        ["C2.1a", "C2.1b"],
        ["L2.1", "BAT.-"],
      ],
      "C2.1",
    ],
    [
      "a ground of another part that stands high",
      { kind: "series", link: "G3", ohms: 0.2 },
      [
        ["L2.2", "BAT.-"],
        ["G3", "BAT.-"],
        ["L1.2", "BAT.-"],
      ],
      "G3",
    ],
    [
      "a feed of another part that is open",
      { kind: "open", link: "W4" },
      [
        ["C2.1a", "BAT.-"],
        ["F2.2", "BAT.-"],
      ],
      "W4",
    ],
  ];
  for (const [words, fault, places, element] of CASES)
    it(`${words} is found though no suspect of the complaint explains it`, () => {
      const works = said(REST_STATE, { kind: "part", part: "L1" }, "full");
      const evidence = [works, ...places.map(([red, black]) => read(TWO, REST_STATE, red, black, [fault]))];
      expect(first(TWO, "L1", evidence)).to.equal(element);
      // Whoever is asked again from the same evidence says the same.
      expect(first(TWO, "L1", evidence)).to.equal(element);
    });

  it("holds for every fault and reading of a rig: what moves a reading by more than three σ is among what it brings in", () => {
    const harness = vehicleOf("rig-lamps");
    const state: VehicleState = { ...REST_STATE, on: ["SW1", "SW2"] };
    const catalogue = catalogueOf(harness);
    const observed: readonly Observable[] = [
      { kind: "volts", red: "F1.2", black: "BAT.-" },
      { kind: "volts", red: "L2.2", black: "BAT.-" },
      { kind: "part", part: "L1" },
    ];
    let moved = 0;
    for (const observe of observed) {
      const sound = shownBy(harness, { state, observe }, []);
      const brought = faultsMoving(harness, shown(harness, state, observe, []));
      for (const f of catalogue) {
        const now = shownBy(harness, { state, observe }, [f.faultAt(f.severities.at(-1)!)]);
        const isMoved =
          now.kind === "value" && sound.kind === "value"
            ? Math.abs(scaled(observe, now.value) - scaled(observe, sound.value)) > 3 * sigmaOf(observe, sound.value)
            : now.kind === "word" && sound.kind === "word" && now.word !== sound.word;
        if (!isMoved) continue;
        moved++;
        expect(brought.has(f.id), `${f.id} moves ${JSON.stringify(observe)}`).to.equal(true);
      }
    }
    expect(moved).to.be.above(40);
  });

  it("follows a look and a movement away from the complaint too", () => {
    const works = said(REST_STATE, { kind: "part", part: "L1" }, "full");
    expect(first(TWO, "L1", [works, said(REST_STATE, { kind: "look", at: "G3" }, "corroded")])).to.equal("G3");
    expect(first(TWO, "L1", [works, said(REST_STATE, { kind: "wiggle", at: "C2" }, "moves")])).to.match(/^C2/);
  });

  it("keeps to the reading itself on a whole vehicle", () => {
    const gritter = vehicleOf("gritter");
    const state: VehicleState = { ...REST_STATE, key: "run", on: ["SW3"] };
    const moving = faultsMoving(gritter, read(gritter, state, "G8", "BAT.-", []));
    expect([...moving].some((id) => id.startsWith("G8 "))).to.equal(true);
    expect(moving.size).to.be.below(catalogueOf(gritter).length / 4);
  });

  it("a slip of the hand does not: the one reading that fits nothing stays doubtful beside good ones", () => {
    const fault: Fault = { kind: "series", link: "C1.1", ohms: 3 };
    const evidence = [
      said(REST_STATE, { kind: "part", part: "L1" }, "weak"),
      read(TWO, REST_STATE, "C1.1a", "BAT.-", [fault]),
      read(TWO, REST_STATE, "C1.1b", "BAT.-", [fault]),
      read(TWO, REST_STATE, "L1.2", "BAT.-", [fault]),
      read(TWO, REST_STATE, "C1.1a", "C1.1b", [fault]),
      { ...read(TWO, REST_STATE, "L1.1", "BAT.-", []), id: "slip" },
    ];
    const d = diagnose(ask(TWO, ["L1"], REST_STATE, evidence));
    expect(suspectsOf(d, evidence)[0]!.element).to.equal("C1.1");
  });
});
