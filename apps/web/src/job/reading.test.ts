import { expect } from "chai";
import { leadsFor, readTyped } from "./reading.ts";

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

  it("takes OL for ohms, also with the meter on volts, and not for the clamp", () => {
    for (const mode of ["volts", "ohms"] as const) {
      const typed = readTyped("OL", mode);
      if (typed.kind !== "ok") throw new Error(typed.message);
      expect(typed.shown).to.deep.equal({ kind: "over", quantity: "ohms" });
      expect(leadsFor(typed.shown, "F1.1", "F1.2", "")).to.deep.equal({ quantity: "ohms", red: "F1.1", black: "F1.2" });
    }
    expect(readTyped("OL", "amps").kind).to.equal("bad");
  });

  it("asks when the unit and the meter differ", () => {
    const typed = readTyped("3 ohm", "volts");
    expect(typed.kind === "bad" && typed.message).to.match(/ohms.*volts/);
    expect(readTyped("12,3", "volts").kind).to.equal("bad");
  });

  it("puts a clamp around one thing", () => {
    expect(leadsFor({ kind: "value", quantity: "amps", value: 2 }, "", "", "W2")).to.deep.equal({ quantity: "amps", around: "W2" });
  });
});
