import { expect } from "chai";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { jobEvent } from "./events.ts";
import { withoutCustomer } from "./redact.ts";

describe("a log without its customer", () => {
  it("changes only the entries that tell of one, and each stays an entry of its type", () => {
    const log = new LogWriter();
    log.add("job-opened", { ...COMPLAINT, registration: "SKV 123", vin: "0NLSKERR0WT000001", words: "skv123 is slow" });
    const reading = log.read("12.1", "F1.2");
    log.add("circuit-set", { notation: "BAT -- SKV123 -- G1" });
    log.add("note-added", { text: "Mr Bolander rang about SKV  123." });
    log.add("estimate-made", { currency: "EUR", taxPercent: 0, lines: [{ kind: "part", text: "lamp", quantity: 1, unitPrice: 1 }] });
    log.add("estimate-answered", { answer: "accepted", who: "Mr Bolander" });
    const changed = withoutCustomer(log.events);
    expect(changed.map((e) => e.type)).to.deep.equal(["job-opened", "note-added", "estimate-answered"]);
    const whole = changed.map((c) => ({ ...log.events.find((e) => e.id === c.id)!, data: c.data }));
    expect(whole.every((e) => jobEvent.safeParse(e).success)).to.equal(true);
    const text = JSON.stringify(changed);
    for (const gone of [/skv\s*123/i, /0NLSKERR/, /Bolander/]) expect(text).not.to.match(gone);
    // What was measured and drawn is as it was.
    expect(changed.map((e) => e.id)).not.to.include(reading.id);
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
    expect(jobEvent.safeParse({ ...log.events[0]!, data: changed[0]!.data }).success).to.equal(true);
    expect(withoutCustomer(changed)).to.deep.equal([]);
  });

  it("finds the customer in entries that this version cannot read, too", () => {
    const log = new LogWriter();
    log.add("job-opened", { ...COMPLAINT, registration: "SKV 123" });
    const odd = { id: "1", type: "of-a-later-version", data: { told: ["for SKV123", 7, null], deep: { who: "x" } } };
    expect(withoutCustomer([...log.events, odd]).at(-1)).to.deep.equal({ ...odd, data: { told: ["for …", 7, null], deep: { who: "x" } } });
  });

  it("has nothing to change where nobody is told of", () => {
    const log = new LogWriter();
    log.add("job-opened", { ...COMPLAINT, registration: "", vin: "" });
    log.add("note-added", { text: "nothing" });
    expect(withoutCustomer(log.events)).to.deep.equal([]);
  });
});
