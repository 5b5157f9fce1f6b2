import { expect } from "chai";
import { FAN, fanOn } from "../test/circuits.ts";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { closingBlockers } from "./closing.ts";
import { customerSections } from "./customer.ts";
import { stepKey } from "./fold.ts";
import { parseNotation } from "../notation/index.ts";
import { buildReport, report as reportSchema } from "./report.ts";
import { readCsv } from "../notation/csv.ts";
import { readingsCsv } from "./readings-csv.ts";
import { redacted } from "./redact.ts";
import { CLOSING, fan, MEND, tracedJob, viewOf } from "../test/fan-job.ts";

describe("report", () => {
  it("satisfies its published schema and holds what was found, measured, mended and proven", () => {
    const log = tracedJob();
    log.add("mend-made", MEND);
    for (const [text, red] of [
      ["11.99", "BAT.+"],
      ["11.88", "C1.4a"],
      ["11.88", "C1.4b"],
      ["11.86", "FAN.1"],
      ["0.010", "FAN.2"],
    ] as const)
      log.read(text, red, { state: fanOn });
    log.add("seen", { state: fanOn, observe: { kind: "part", part: "FAN" }, word: "full" });
    log.add("job-closed", { ...CLOSING, advice: "Look at it again in a year." });
    const made = buildReport(viewOf(log), fan, "2026-05-20T15:00:00.000Z");
    expect(reportSchema.parse(JSON.parse(JSON.stringify(made)))).to.deep.equal(made);
    expect(made.proof.outcome).to.equal("proven");
    expect(made.readings).to.have.length(9);
    expect(made.readings[1]).to.include({ text: "10.19", phase: "before", leadsWords: "FAN.1 against BAT.-" });
    // Sound, by hand: 12 V · (12.0083408 / 12.1266848).
    expect(made.readings[1]!.soundValue).to.be.closeTo(11.8829, 1e-3);
    expect(made.verdicts.map((v) => v.tone)).to.deep.equal(["fault", "sound"]);
    expect(made.closing?.advice).to.equal("Look at it again in a year.");
  });

  it("is made of a job that has barely begun, and of a circuit that has changed since", () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    expect(reportSchema.safeParse(buildReport(viewOf(log), undefined, "2026-05-20T15:00:00.000Z")).success).to.equal(true);
    const moved = tracedJob();
    moved.read("12", "X9.1");
    const made = buildReport(viewOf(moved), fan, "2026-05-20T15:00:00.000Z");
    expect(made.readings.at(-1)!.soundValue).to.equal(null);
  });
});

describe("repair in the log", () => {
  const repaired = (): LogWriter => {
    const log = tracedJob();
    log.add("mend-made", { ...MEND, damage: { kind: "green copper", segment: "", remedy: "sealed" } });
    return log;
  };
  const at = "2026-05-20T15:00:00.000Z";
  it("keeps what was found and not repaired, the estimate with its answer, the drive and the watch, and reports them", () => {
    const log = repaired();
    log.add("finding-kept", { at: "G1", found: "rust beginning", outcome: "declined", risk: "dim lights", why: "next service" });
    log.add("estimate-made", {
      currency: "EUR",
      taxPercent: 20,
      lines: [{ kind: "labour", text: "trace and repair", quantity: 1.5, unitPrice: 7200 }],
    });
    log.add("estimate-answered", { answer: "accepted in part", who: "the owner", how: "by phone", note: "without G1" });
    log.add("driven", { met: ["rain"], unmet: ["full load"], outcome: "fault did not appear", seen: "", minutes: 20, from: 100, to: 112 });
    log.add("return-watched", { until: "2026-06-20", distance: "", what: "does the fan run" });
    const view = viewOf(log);
    expect(view.findings.map((f) => f.data.at)).to.deep.equal(["G1"]);
    const r = buildReport(view, fan, at);
    expect(r.findings[0]).to.deep.include({ place: "G1", outcome: "declined", risk: "dim lights" });
    expect(r.estimate).to.deep.include({ net: 10800, tax: 2160, gross: 12960 });
    expect(r.estimate!.answer).to.deep.include({ answer: "accepted in part", who: "the owner" });
    expect(r.drives[0]).to.deep.include({ minutes: 20, from: 100, to: 112, unmet: ["full load"] });
    expect(r.watch!.until).to.equal("2026-06-20");
    expect(r.mends[0]!.damage).to.deep.equal({ kind: "green copper", segment: "", fromEndM: null, remedy: "sealed" });
    log.add("return-watched", { until: "", distance: "", what: "" });
    expect(viewOf(log).watch).to.equal(undefined);
    // A new estimate has no answer yet.
    log.add("estimate-made", { currency: "EUR", taxPercent: 0, lines: [{ kind: "part", text: "fan", quantity: 1, unitPrice: 0 }] });
    expect(viewOf(log).estimate!.answer).to.equal(undefined);
  });
  it("is told to the customer in plain words, without what has nothing to say", () => {
    const log = repaired();
    const titles = (): readonly string[] => customerSections(buildReport(viewOf(log), fan, at), fan).map((s) => s.title);
    expect(titles()).to.deep.equal(["You told us", "What was wrong", "What we did", "Does it work now?"]);
    log.add("finding-kept", { at: "G1", found: "rust beginning", outcome: "declined", risk: "dim lights", why: "" });
    log.add("job-closed", { safeToDrive: "with advice", advice: "back in a month", withoutProof: "the customer took the car" });
    const told = customerSections(buildReport(viewOf(log), fan, at), fan).map((s) => `${s.title}: ${s.lines.join(" ")}`);
    expect(told.join("\n")).to.include("What was wrong: Connector C1 cavity 4");
    expect(told.join("\n")).to.include("Green socket.");
    expect(told.join("\n")).to.include("Not everything could be verified yet. The customer took the car.");
    expect(told.join("\n")).to.match(/You declined: .*Rust beginning\. What may come of it: dim lights\./);
    expect(told.at(-1)).to.equal("What to watch: The vehicle may be driven; please read the advice. Back in a month.");
  });
  it("has a copy without whose vehicle it is, also where the plate stands in somebody's words", () => {
    const log = new LogWriter();
    log.add("job-opened", {
      ...COMPLAINT,
      registration: "SKV 7",
      vin: "0NLSKERR0WT000001",
      words: "Mr Oddly says that SKV7 stops (skv 7!).",
    });
    log.add("circuit-set", { notation: FAN });
    log.add("estimate-made", {
      currency: "EUR",
      taxPercent: 0,
      lines: [{ kind: "part", text: "fan for SKV 7", quantity: 1, unitPrice: 1 }],
    });
    log.add("estimate-answered", { answer: "accepted", who: "Mr Oddly", how: "", note: "" });
    const report = buildReport(viewOf(log), fan, at, "ab".repeat(32));
    const copy = redacted(report);
    expect(reportSchema.safeParse(copy).success).to.equal(true);
    expect(JSON.stringify({ ...copy, circuit: null })).to.not.match(/skv ?7|oddly|WT000001/i);
    expect(copy.complaint.words).to.equal("[removed] says that [removed] stops ([removed]!).");
    expect([copy.estimate!.gross, copy.job.chainHash, copy.circuit]).to.deep.equal([
      report.estimate!.gross,
      report.job.chainHash,
      report.circuit,
    ]);
    expect(redacted(buildReport(viewOf(repaired()), fan, at)).complaint.vehicle).to.equal(COMPLAINT.vehicle);
  });
  it("has its readings as a table, one row each, struck ones with their reason", () => {
    const log = repaired();
    const wrong = log.read("1.19", "F1.2", { state: fanOn });
    log.add("struck", { target: wrong.id, why: 'mistyped, said "no"' });
    const report = buildReport(viewOf(log), fan, at);
    const { rows } = readCsv(readingsCsv(report));
    expect(rows).to.have.length(report.readings.length + 1);
    expect(rows[0]!.slice(0, 6)).to.deep.equal(["at", "by", "phase", "quantity", "red", "black"]);
    expect(rows.at(-1)!.slice(4, 6)).to.deep.equal(["F1.2", "BAT.-"]);
    expect(rows.at(-1)!.at(-1)).to.equal('mistyped, said "no"');
  });
  it("ticks steps and takes the tick away again", () => {
    const log = repaired();
    log.add("step-ticked", { of: "C1.4", step: "key off", done: true });
    log.add("step-ticked", { of: "C1.4", step: "open", done: true });
    log.add("step-ticked", { of: "C1.4", step: "open", done: false });
    expect(viewOf(log).ticked).to.deep.equal([stepKey("C1.4", "key off")]);
  });
  it("does not end with neighbours of spreading damage unseen, unless it is said why, nor with a nicked one left", () => {
    const loom = parseNotation(
      'loom sill "left sill" rub\nBAT -- RD 4mm2 1m -- F1(30A) -- W2 RD 4mm2 1m via=sill -- FAN(motor 20A) -- W3 BK 4mm2 1m via=sill -- G1\nF1 -- W4 GN 1mm2 1m via=sill -- LA(lamp 21W) -- BK 1mm2 1m -- G1\nBAT.- -- BK 16mm2 1m -- G1',
    ).harness!;
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("circuit-set", { notation: "BAT" });
    log.add("mend-made", { ...MEND, at: "W2", method: "wire joined", damage: { kind: "chafed through", segment: "sill" } });
    const blockers = (): readonly string[] =>
      closingBlockers(viewOf(log), loom, { safeToDrive: "yes", advice: "", withoutProof: "x" }).map((b) => b.message);
    expect(blockers().join()).to.match(/W3, W4 not looked at/);
    log.add("neighbour-told", { of: "W2", wires: ["W3"], verdict: "sound" });
    expect(blockers().join()).to.match(/: W4 not looked at/);
    log.add("neighbour-told", { of: "W2", wires: ["W4"], verdict: "nicked" });
    expect(blockers().join()).to.match(/W4 beside W2 nicked and not repaired/);
    log.add("neighbour-told", { of: "W2", wires: ["W4"], verdict: "mended" });
    expect(blockers()).to.deep.equal([]);
    log.add("mend-made", { ...MEND, at: "W3", method: "wire joined", damage: { kind: "chafed through", segment: "" } });
    expect(blockers().join()).to.match(/Beside W3/);
    log.add("neighbours-left", { of: "W3", why: "behind the tank" });
    expect(blockers()).to.deep.equal([]);
  });
});
