import { expect } from "chai";
import { leadsFor, readGauge, readTyped } from "./reading.ts";

describe("readTyped", () => {
  it("gives a bare number the unit the meter is set to, and keeps its digits", () => {
    expect(readTyped("12.31", "volts")).to.deep.equal({
      kind: "ok",
      shown: { kind: "value", quantity: "volts", value: 12.31 },
      text: "12.31 V",
    });
    expect(readTyped("0.40", "ohms")).to.deep.equal({ kind: "ok", shown: { kind: "value", quantity: "ohms", value: 0.4 }, text: "0.40 Ω" });
    expect(readTyped("-18.2", "amps")).to.deep.equal({
      kind: "ok",
      shown: { kind: "value", quantity: "amps", value: -18.2 },
      text: "-18.2 A",
    });
    expect(readTyped("440 mV", "volts")).to.deep.include({ kind: "ok", text: "440 mV" });
  });

  it("takes OL for ohms only: on volts and amperes the range is too low", () => {
    const typed = readTyped("OL", "ohms");
    if (typed.kind !== "ok") throw new Error(typed.message);
    expect(typed.shown).to.deep.equal({ kind: "over", quantity: "ohms" });
    expect(leadsFor(typed.shown, "F1.1", "F1.2", "")).to.deep.equal({ quantity: "ohms", red: "F1.1", black: "F1.2" });
    for (const mode of ["volts", "amps"] as const) {
      const refused = readTyped("OL", mode);
      expect(refused.kind === "bad" && refused.message, mode).to.match(/choose a higher/);
    }
  });

  it("asks when the unit and the meter differ", () => {
    const typed = readTyped("3 ohm", "volts");
    expect(typed.kind === "bad" && typed.message).to.match(/ohms.*volts/);
    expect(readTyped("12,3", "volts").kind).to.equal("bad");
  });

  it("puts a clamp around one thing", () => {
    expect(leadsFor({ kind: "value", quantity: "amps", value: 2 }, "", "", "W2")).to.deep.equal({ quantity: "amps", around: "W2" });
  });

  it("takes what stands beside a live value in its unit, whatever unit was typed, and nothing that is another quantity", () => {
    expect(readGauge("440 mV", "V")).to.be.closeTo(0.44, 1e-12);
    expect([readGauge("4.98", "V"), readGauge("OL", "V"), readGauge("3 A", "V")]).to.deep.equal([4.98, undefined, undefined]);
    expect(["21", "−5,5 °C", "80 C"].map((t) => readGauge(t, "°C"))).to.deep.equal([21, -5.5, 80]);
    expect(["440 mV", "21 %", "warm", ""].map((t) => readGauge(t, "°C"))).to.deep.equal([undefined, undefined, undefined, undefined]);
    expect([readGauge("45 %", "%"), readGauge("45", "%"), readGauge("45 °C", "%")]).to.deep.equal([45, 45, undefined]);
  });
});
