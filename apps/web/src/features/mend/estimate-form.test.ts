import { expect } from "chai";
import { linesFor, readEstimate, type EstimateForm } from "./estimate-form.ts";

const FORM: EstimateForm = {
  currency: "eur",
  tax: "20",
  lines: [
    { kind: "labour", text: "Trace", quantity: "0,5", price: "72.50" },
    { kind: "part", text: "", quantity: "", price: "x" },
  ],
};

describe("the form of an estimate", () => {
  it("reads amounts in the currency's smallest unit, and passes over lines without words", () => {
    expect(readEstimate(FORM)).to.deep.equal({
      kind: "ok",
      data: { currency: "EUR", taxPercent: 20, lines: [{ kind: "labour", text: "Trace", quantity: 0.5, unitPrice: 7250 }] },
    });
    const yen = readEstimate({ ...FORM, currency: "JPY", lines: [{ kind: "part", text: "Fan", quantity: "", price: "1200" }] });
    expect(yen.kind === "ok" ? yen.data.lines[0] : yen).to.deep.include({ quantity: 1, unitPrice: 1200 });
  });
  it("says what is wrong, and in which line", () => {
    const wrong = (change: Partial<EstimateForm>): string => {
      const read = readEstimate({ ...FORM, ...change });
      return read.kind === "bad" ? `${read.line} ${read.message}` : "fine";
    };
    expect(wrong({ currency: "QQQ" })).to.match(/0 “QQQ” is not a currency/);
    expect(wrong({ tax: "120" })).to.match(/from 0 to 100/);
    expect(wrong({ lines: [] })).to.match(/at least one line/);
    expect(wrong({ currency: "JPY" })).to.match(/1 Line 1: “72\.50” is not an amount in JPY\. Type whole numbers/);
    expect(wrong({ lines: [{ kind: "part", text: "Fan", quantity: "two", price: "1" }] })).to.match(/a quantity is a number/);
  });
  it("offers labour and what goes with the method", () => {
    expect(linesFor("FAN", "part renewed", undefined, "70").map((l) => l.kind)).to.deep.equal(["labour", "labour", "part", "labour"]);
  });
});
