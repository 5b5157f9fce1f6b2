import { expect } from "chai";
import { REST_STATE, type Fault } from "../../circuit/index.ts";
import { circuitOf } from "../../test/circuits.ts";
import { diagnose, DEFAULT_QUESTION } from "../answer/diagnose.ts";
import { shownBy } from "../predict/shown.ts";
import type { Evidence } from "./evidence.ts";
import type { Observable } from "./kinds/index.ts";
import { wordShares } from "./likelihood.ts";
import { exactly } from "./predicted.ts";
import { readWord } from "./typed-word.ts";

const pump = circuitOf(`
BAT(12.6V) -- W1 RD 6mm2 0.8m -- F7(25A) -- W2 RD/BU 2.5mm2 2.4m -- SW3 -- W3 BU 2.5mm2 1.6m -- C5.2 -- W4 BU 2.5mm2 0.9m -- PMP(motor 8A "bilge pump")
PMP -- W5 BK 2.5mm2 0.7m -- G6
G1 -- W6 BK 25mm2 0.5m -- BAT
`);
const on = { ...REST_STATE, on: ["SW3"] };
/** The fuse pulled and the pump unplugged: nothing leads around the wire. */
const dead = { ...REST_STATE, opened: ["F7", "PMP"] };
const across: Observable = { kind: "continuity", red: "C5.2b", black: "PMP.1" };
const beepOf = (ohms: number): number => wordShares(across, exactly(ohms)).beeps!;

describe("the beeper of a meter", () => {
  it("sounds below 30 to 50 Ω, whatever the meter", () => {
    expect(beepOf(5)).to.be.above(0.98);
    // Half of them at √(30 × 50) = 38.7 Ω, and 2 % of words are mistaken.
    expect(beepOf(38.7)).to.be.closeTo(0.54, 0.02);
    expect(beepOf(30)).to.be.within(0.8, 0.9);
    expect(beepOf(200)).to.be.below(0.02);
    expect(wordShares(across, { ...exactly(5), oscillating: true }).beeps, "live").to.be.closeTo(0.5, 1e-9);
  });
  it("finds a wire that is broken, and passes one that carries no current", () => {
    const told: Evidence = {
      id: "c",
      state: on,
      observe: { kind: "part", part: "PMP" },
      result: { kind: "word", word: "none" },
      source: "customer",
    };
    const shareOf = (fault: Fault): readonly [shown: unknown, share: number] => {
      const result = shownBy(pump, { state: dead, observe: across }, [fault]);
      const evidence: Evidence[] = [told, { id: "b", state: dead, observe: across, result, source: "technician" }];
      const { belief, oracle } = diagnose({ ...DEFAULT_QUESTION, harness: pump, focus: ["PMP"], state: on, evidence });
      const repair = oracle.space.repairs.find((r) => r.element === "W4")!;
      return [result, belief.repairs[repair.index]!];
    };
    const [silent, broken] = shareOf({ kind: "open", link: "W4" });
    expect(silent).to.deep.equal({ kind: "word", word: "silent" });
    const [beeps, corroded] = shareOf({ kind: "series", link: "W4", ohms: 20 });
    expect(beeps).to.deep.equal({ kind: "word", word: "beeps" });
    // No open circuit is left in the wire after a beep, but the resistance that stops a pump is.
    expect(broken).to.be.above(0.7);
    expect(corroded, "still a suspect").to.be.within(0.005, 0.6);
  });
  it("is answered as people type it", () => {
    const read = (typed: string) => {
      const r = readWord(across, typed);
      return r.kind === "word" ? r.word : r.kind;
    };
    expect(["beep", "Beeps", "no beep", "silent", "12"].map(read)).to.deep.equal(["beeps", "beeps", "silent", "silent", "other"]);
  });
});
