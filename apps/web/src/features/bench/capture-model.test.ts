import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { parseNotation } from "@rheonom/core/notation";
import { captureOf, otherEndsOf, type LeadPair } from "./capture-model.ts";
import { evidenceOf } from "./trace-evidence.ts";

const harness = parseNotation(`circuit "One lamp"
BAT(12.6V) -- W1 RD 2.5mm2 1m -- F1(10A) -- W2 RD 1mm2 1m -- C4.1 -- W3 RD 1mm2 1m -- LA(lamp 21W "stop lamp")
LA -- W4 BN 1mm2 1m -- G1
G1 -- W5 BK 16mm2 1m -- BAT`).harness!;
const read = (...pairs: LeadPair[]): string => {
  const made = captureOf(harness, REST_STATE, pairs, "50 ms");
  return made.kind === "wrong" ? made.why : made.leads.map((l) => `${l.red}/${l.black}`).join(" ");
};

describe("where a scope's leads are put", () => {
  it("is against the battery where nothing else is said, and probes without a red lead are left out", () => {
    expect(read({ red: "f1.2", black: "" }, { red: " ", black: "G1" }, { red: "LA.1", black: "g1" })).to.equal("F1.2/BAT.- LA.1/G1");
  });
  it("is asked again where it is nowhere, could be two, or is one and the same point", () => {
    expect(read({ red: "", black: "" })).to.match(/^Where is the red lead/);
    expect(read({ red: "X9", black: "" })).to.match(/^The red lead: there is no “X9” in this circuit/);
    expect(read({ red: "F1.2", black: "" }, { red: "F1.1", black: "C4.1" })).to.match(
      /^The black lead of probe 2: “C4.1” could be either of C4\.1a, C4\.1b/,
    );
    expect(read({ red: "G1", black: "G1" })).to.match(/always show 0/);
  });
});

describe("what a trace counts for", () => {
  const flat = { min: 12, max: 12.1, mean: 12.0412, rms: 12, peakToPeak: 0.1, low: 12, high: 12.1, edges: 0, samples: 9 };
  const none = {
    periodS: undefined,
    frequencyHz: undefined,
    duty: undefined,
    pulseS: undefined,
    riseS: undefined,
    fallS: undefined,
    jitterS: undefined,
  };
  const at = { red: "F1.2", black: "BAT.-" };
  const steady = { low: 0.3, high: 13.5, dutyPercent: 70 };
  const good = { unit: "V", measures: { ...none, ...flat, low: 0.4, high: 13.6, duty: 0.7 }, steady } as const;
  const counted = (m: object, of: object = good): unknown[] =>
    evidenceOf(at, REST_STATE, { ...none, ...flat, ...m }, { ...good, ...of }).map((e) => [e.observe.kind, e.value]);
  it("is one level of a line that stands, and both levels and the duty of one that pulses", () => {
    expect(counted({})).to.deep.equal([["level", 12.04]]);
    const pulsing = { low: 0.4, high: 13.6, edges: 20, duty: 0.69 };
    expect(counted(pulsing)).to.deep.equal([
      ["level", 13.6],
      ["level", 0.4],
      ["duty", 69],
    ]);
  });
  it("is nothing of what is not at rest in a good recording either: a coil's current rises all through its dwell", () => {
    const coil = { steady: { low: 4.26, high: 13.4, dutyPercent: 95 }, measures: { ...none, ...flat, low: 2.43, high: 13.65, duty: 0.95 } };
    expect(counted({ low: 2.4, high: 13.6, edges: 20, duty: 0.95 }, coil)).to.deep.equal([
      ["level", 13.6],
      ["duty", 95],
    ]);
    expect(counted({}, { steady: undefined })).to.deep.equal([]);
  });
});

describe("the other end of a wire", () => {
  const command = parseNotation(`circuit "Commanded fan"
BAT(12.6V) -- F1(10A) -- RD 1mm2 1m -- M.1
G1 -- BK 16mm2 1m -- BAT
M(module pin 1 supply, pin 2 ground, pin 5 high duty=0.6 hertz=100 when=key=run)
M.2 -- BN 1mm2 1m -- G1
M.5 -- WH 0.5mm2 1m -- C1.1 -- WH 0.5mm2 1m -- RES(resistor ohms=4700).1
RES.2 -- BN 0.5mm2 1m -- G1`);
  it("is the pin of another part on it, until a probe is there", () => {
    const h = command.harness;
    if (h === undefined) throw new Error(JSON.stringify(command.problems));
    const at = (...reds: string[]): readonly string[] =>
      otherEndsOf(
        h,
        reds.map((red) => ({ red, black: "" })),
      );
    expect(at("RES.1")).to.deep.equal(["M.5"]);
    expect(at("C1.1a")).to.deep.equal(["M.5", "RES.1"]);
    expect(at("RES.1", "M.5")).to.deep.equal([]);
    expect(at("", "nowhere")).to.deep.equal([]);
  });
});
