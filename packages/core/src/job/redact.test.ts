import { expect } from "chai";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { jobEvent } from "./events.ts";
import { withoutCustomer } from "./redact.ts";

describe("a log without its customer", () => {
  it("changes only the entries that tell of one, and each stays an entry of its type", () => {
    const log = new LogWriter();
    log.add("job-opened", { ...COMPLAINT, registration: "SKV 123", vin: "WVWZZZ1JZXW000001", words: "skv123 is slow" });
    const reading = log.read("12.1", "F1.2");
    log.add("circuit-set", { notation: "BAT -- SKV123 -- G1" });
    log.add("note-added", { text: "Mr Bolander rang about SKV  123." });
    log.add("estimate-made", { currency: "EUR", taxPercent: 0, lines: [{ kind: "part", text: "lamp", quantity: 1, unitPrice: 1 }] });
    log.add("estimate-answered", { answer: "accepted", who: "Mr Bolander" });
    const changed = withoutCustomer(log.events);
    expect(changed.map((e) => e.type)).to.deep.equal(["job-opened", "note-added", "estimate-answered"]);
    expect(changed.every((e) => jobEvent.safeParse(e).success)).to.equal(true);
    const text = JSON.stringify(changed);
    for (const gone of [/skv\s*123/i, /WVWZZZ/, /Bolander/]) expect(text).not.to.match(gone);
    // What was measured and drawn is as it was.
    expect(changed).not.to.include(reading);
    expect(text).to.include("is slow").and.to.include("rang about");
  });

  it("takes a short plate out of its own field, and leaves words alone that merely hold it", () => {
    const log = new LogWriter();
    log.add("job-opened", { ...COMPLAINT, registration: "A1", words: "A1 quality, C1.A1 is loose" });
    const [opened] = withoutCustomer(log.events);
    expect(opened!.data).to.deep.include({ registration: "[removed]", words: "A1 quality, C1.A1 is loose" });
  });

  it("makes no text longer than its entry allows, and changes nothing a second time", () => {
    const log = new LogWriter();
    log.add("job-opened", { ...COMPLAINT, registration: "ABC", words: "ABC ".repeat(500).trim() });
    const changed = withoutCustomer(log.events);
    expect(changed).to.have.length(1);
    expect(JSON.stringify(changed)).not.to.match(/\bABC\b/);
    expect(withoutCustomer(changed)).to.deep.equal([]);
  });

  it("has nothing to change where nobody is told of", () => {
    const log = new LogWriter();
    log.add("job-opened", { ...COMPLAINT, registration: "", vin: "" });
    log.add("note-added", { text: "nothing" });
    expect(withoutCustomer(log.events)).to.deep.equal([]);
  });
});
