import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import { FAN, fanOn } from "../test/circuits.ts";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { closingBlockers, refusalOf, type LogEnd } from "./closing.ts";
import { readingsAroundMend } from "./evidence.ts";
import { buildProof, checkWords, pairWords } from "./proof.ts";
import type { Scan } from "../codes/index.ts";
import { buildReport } from "./report.ts";
import { pathsOfJob } from "./paths.ts";
import { CLOSING, fan, MEND, tracedJob, viewOf, SCAN } from "../test/fan-job.ts";

describe("proof", () => {
  it("is open until the failed test is repeated in the same state, then proven", () => {
    const log = tracedJob();
    expect(buildProof(fan, viewOf(log)).outcome).to.equal("no mend");
    log.add("mend-made", MEND);
    const open = buildProof(fan, viewOf(log));
    expect(open.outcome).to.equal("open");
    expect(open.pairs.map((p) => [p.before.fromPlace, p.before.toPlace, p.outcome])).to.deep.equal([["C1.4a", "C1.4b", "not repeated"]]);
    expect(open.pairs[0]!.readings.map((r) => r.before.data.text)).to.have.members(["11.90", "10.20"]);
    // Another state proves nothing.
    log.read("11.86", "C1.4a", { state: { ...fanOn, key: "off" } });
    log.read("11.86", "C1.4b", { state: { ...fanOn, key: "off" } });
    expect(buildProof(fan, viewOf(log)).outcome).to.equal("open");
    for (const [text, red] of [
      ["11.99", "BAT.+"],
      ["11.87", "FAN.1"],
      ["11.88", "C1.4a"],
      ["11.88", "C1.4b"],
    ] as const)
      log.read(text, red, { state: fanOn });
    // A good drop of a circuit that is off, or broken elsewhere, reads the same: something has to show that current flowed.
    const unloaded = buildProof(fan, viewOf(log));
    expect([unloaded.outcome, unloaded.pairs[0]!.outcome]).to.deep.equal(["open", "no current"]);
    expect(unloaded.checks.map((c) => [c.what, c.before, c.outcome])).to.deep.equal([["FAN", "not said", "not repeated"]]);
    log.add("seen", { state: fanOn, observe: { kind: "part", part: "FAN" }, word: "full" });
    const proven = buildProof(fan, viewOf(log));
    expect(proven.outcome).to.equal("proven");
    expect(proven.pairs[0]!.loadedBy).to.equal("FAN works");
    expect(proven.pairs[0]!.before.dropVolts).to.be.closeTo(1.7, 1e-9);
    expect(proven.pairs[0]!.after!.dropVolts).to.be.closeTo(0, 1e-9);
    expect(proven.pairs[0]!.readings.map((r) => r.after?.data.text)).to.have.members(["11.88", "11.88"]);
  });

  it("takes a clamp on the path for current, if it shows enough", () => {
    const withClamp = (amps: number): unknown => {
      const log = tracedJob();
      log.add("mend-made", MEND);
      for (const place of ["BAT.+", "C1.4a", "C1.4b"]) log.read("11.90", place, { state: fanOn });
      log.add("reading-taken", {
        leads: { quantity: "amps", around: "W2" },
        state: fanOn,
        load: "FAN",
        text: `${amps} A`,
        shown: { kind: "value", quantity: "amps", value: amps },
        instrument: "typed",
      });
      return buildProof(fan, viewOf(log)).pairs.map((p) => [p.outcome, p.loadedBy]);
    };
    expect(withClamp(0.97)).to.deep.equal([["proven", "clamp: 0.97 A"]]);
    expect(withClamp(0.3)).to.deep.equal([["no current", undefined]]);
  });

  it("takes a reason for what cannot be repeated, and keeps it with the test", () => {
    const log = tracedJob();
    log.add("mend-made", MEND);
    const { pairs, checks } = buildProof(fan, viewOf(log));
    for (const test of [...pairs.map(pairWords), ...checks.map(checkWords)])
      log.add("test-excused", { test, why: "the customer took the car" });
    const excused = buildProof(fan, viewOf(log));
    expect([...excused.pairs, ...excused.checks].map((p) => p.outcome)).to.deep.equal(["excused", "excused"]);
    // Reasons alone prove nothing; beside a test that was repeated they do not stand in its way.
    expect(excused.outcome).to.equal("open");
    expect(closingBlockers(viewOf(log), fan, CLOSING).map((b) => b.code)).to.deep.equal(["proof"]);
    log.add("seen", { state: fanOn, observe: { kind: "part", part: "FAN" }, word: "full" });
    expect(buildProof(fan, viewOf(log)).outcome).to.equal("proven");
    expect(buildReport(viewOf(log), fan, "2026-05-20T15:00:00.000Z").proof.pairs[0]!.excuse).to.equal("the customer took the car");
  });

  it("repeats every test that was off: a lamp, a reading by itself, judged by the same rule before and after", () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("circuit-set", { notation: FAN });
    const lamp = { kind: "lamp", red: "F1.2", black: "BAT.-", watts: 5 } as const;
    log.add("seen", { state: fanOn, observe: lamp, word: "dark" });
    log.read("12.4", "BAT.+", { state: REST_STATE });
    log.read("3.1", "F1.2", { state: REST_STATE });
    log.add("mend-made", MEND);
    const checks = (): unknown[] => buildProof(fan, viewOf(log)).checks.map((c) => [c.kind, c.before, c.sound, c.after, c.outcome]);
    const [first] = checks() as string[][];
    expect(first!.slice(0, 3)).to.deep.equal(["test", "dark", "bright"]);
    expect(checks()).to.have.length(2);
    log.add("seen", { state: fanOn, observe: lamp, word: "bright" });
    log.read("12.4", "F1.2", { state: REST_STATE });
    expect((checks() as string[][]).map((c) => c[4])).to.deep.equal(["proven", "proven"]);
    log.read("9.0", "F1.2", { state: REST_STATE });
    expect((checks() as string[][]).map((c) => c[4])).to.deep.equal(["proven", "still failing"]);
  });

  it("asks for the same movement again that moved a reading", () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("circuit-set", { notation: FAN });
    const leads = { quantity: "volts", red: "C1.4b", black: "BAT.-" } as const;
    const watched = (value: (s: number) => number): void =>
      void log.add("wiggled", {
        state: fanOn,
        leads,
        samples: Array.from({ length: 80 }, (_, i) => [i * 100, value(i / 10)] as [number, number]),
        marks: [
          [0, ""],
          [3000, "C1"],
        ],
        instrument: "connected",
      });
    watched((s) => (s > 5 && s < 6 ? 9 : 12));
    log.add("mend-made", MEND);
    const checks = (): unknown[] => buildProof(fan, viewOf(log)).checks.map((c) => [c.what, c.before, c.sound, c.after, c.outcome]);
    expect(checks()).to.deep.equal([["moved C1", "moves", "steady", undefined, "not repeated"]]);
    watched((s) => (s > 7 && s < 7.5 ? 9 : 12));
    expect((checks() as string[][])[0]![4]).to.equal("still failing");
    watched(() => 12);
    expect((checks() as string[][])[0]![4]).to.equal("proven");
  });

  it("says so when the same test still fails", () => {
    const log = tracedJob();
    log.add("mend-made", MEND);
    for (const [text, red] of [
      ["11.99", "BAT.+"],
      ["11.9", "C1.4a"],
      ["10.3", "C1.4b"],
    ] as const)
      log.read(text, red, { state: fanOn });
    expect(buildProof(fan, viewOf(log)).pairs.map((p) => p.outcome)).to.deep.equal(["still failing"]);
  });

  it("asks whether it works now, by the last word on it, and judges by what a sound one does", () => {
    const log = tracedJob();
    const fanDoes = (word: string, more: object = {}): void =>
      void log.add("seen", { state: fanOn, observe: { kind: "part", part: "FAN" }, word, ...more });
    fanDoes("weak", { wrong: true, source: "customer" });
    // In a state in which a sound one stands still it is no complaint that can be checked.
    log.add("seen", { state: REST_STATE, observe: { kind: "part", part: "FAN" }, word: "none", wrong: true });
    log.add("mend-made", MEND);
    const checks = (): unknown[] => buildProof(fan, viewOf(log)).checks.map((c) => [c.what, c.before, c.sound, c.after, c.outcome]);
    expect(checks()).to.deep.equal([["FAN", "weak", "full", undefined, "not repeated"]]);
    log.read("11.99", "BAT.+", { state: fanOn });
    log.read("11.87", "FAN.1", { state: fanOn });
    for (const place of ["C1.4a", "C1.4b"]) log.read("11.88", place, { state: fanOn });
    expect(buildProof(fan, viewOf(log)).outcome, "a drop alone is not all that was wrong").to.equal("open");
    fanDoes("weak");
    expect(checks()).to.deep.equal([["FAN", "weak", "full", "weak", "still failing"]]);
    fanDoes("full");
    expect(checks()).to.deep.equal([["FAN", "weak", "full", "full", "proven"]]);
    expect(buildProof(fan, viewOf(log)).outcome).to.equal("proven");
    expect(buildReport(viewOf(log), fan, "2026-05-20T15:00:00.000Z").proof.checks.map((c) => c.outcome)).to.deep.equal(["proven"]);
  });

  it("reads codes again: a fault found by codes alone is proven by a scan without them", () => {
    const log = new LogWriter();
    log.add("job-opened", COMPLAINT);
    log.add("circuit-set", { notation: FAN });
    const scan = (codes: Scan["codes"], answers: boolean): void =>
      void log.add("codes-read", {
        scan: { ...SCAN, codes, modules: SCAN.modules.map((m) => ({ ...m, answers: m.answers || answers })) },
        state: fanOn,
      });
    scan(SCAN.codes, false);
    log.add("mend-made", MEND);
    const view = (): { readonly outcome: string; readonly all: readonly string[] } => {
      const { outcome, checks } = buildProof(fan, viewOf(log));
      return { outcome, all: checks.map((c) => c.outcome) };
    };
    expect(view().all.length).to.be.above(0);
    expect(new Set(view().all)).to.deep.equal(new Set(["not repeated"]));
    scan(SCAN.codes, false);
    expect(view().all).to.include("still failing");
    expect(view().outcome).to.equal("open");
    scan([], true);
    expect(view().outcome).to.equal("proven");
  });

  it("takes no scan for proof that could not have shown the code", () => {
    const after = (status: "active" | "stored", next: Partial<Scan>, state = fanOn): readonly (string | undefined)[] => {
      const log = new LogWriter();
      log.add("job-opened", COMPLAINT);
      log.add("circuit-set", { notation: FAN });
      const heard = { ...SCAN, modules: [{ id: "BCM", answers: true }] };
      log.add("codes-read", { scan: { ...heard, codes: [{ ...SCAN.codes[0]!, status }] }, state: fanOn });
      log.add("mend-made", MEND);
      log.add("codes-read", { scan: { ...heard, ...next }, state });
      const [check] = buildProof(fan, viewOf(log)).checks;
      return [check!.before, check!.after, check!.outcome];
    };
    const stored = [{ ...SCAN.codes[0]!, status: "stored" as const }];
    expect(after("active", { codes: [] })).to.deep.equal(["active", "absent", "proven"]);
    expect(after("active", { codes: stored })).to.deep.equal(["active", "stored", "proven"]);
    expect(after("stored", { codes: stored }), "remembered then and now").to.deep.equal(["stored", "stored", "still failing"]);
    const mute = { codes: [], modules: [{ id: "BCM", answers: false }] };
    expect(after("active", mute), "its module does not answer").to.deep.equal(["active", undefined, "not repeated"]);
    const off = { ...fanOn, key: "off" as const };
    expect(after("active", { codes: [] }, off), "another key position").to.deep.equal(["active", undefined, "not repeated"]);
  });

  it("takes readings before and after a struck mend as one phase", () => {
    const log = tracedJob();
    const mend = log.add("mend-made", MEND);
    log.read("11.9", "F1.2", { state: fanOn });
    log.add("struck", { target: mend.id, why: "wrong job" });
    expect(buildProof(fan, viewOf(log)).outcome).to.equal("no mend");
    expect(pathsOfJob(fan, viewOf(log)).map((t) => t.when)).to.deep.equal(["before"]);
    expect(readingsAroundMend(viewOf(log), "after").length, "all five count for the trace at hand").to.equal(5);
  });
});

describe("closing", () => {
  it("waits for the tray and the proof", () => {
    const log = tracedJob();
    log.add("mend-made", MEND);
    const item = log.add("temporary-made", { kind: "unplugged", at: "C1", to: "", note: "" });
    const codes = (): string[] => closingBlockers(viewOf(log), fan, CLOSING).map((b) => b.code);
    expect(codes()).to.deep.equal(["tray", "proof"]);
    log.add("temporary-explained", { target: item.id, why: "left for the next shift" });
    expect(codes()).to.deep.equal(["proof"]);
    expect(closingBlockers(viewOf(log), fan, { ...CLOSING, withoutProof: "vehicle left" })).to.deep.equal([]);
  });

  it("refuses entries in a closed job, a second opening, and a log that begins with anything else", () => {
    const log = tracedJob();
    const codes = (end: LogEnd, type: "job-opened" | "note-added" | "rules-chosen" | "job-reopened", data: object): string[] =>
      refusalOf(end, log.make(type, data)).map((b) => b.code);
    const [closed, open, empty] = [
      { isEmpty: false, isClosed: true },
      { isEmpty: false, isClosed: false },
      { isEmpty: true, isClosed: false },
    ];
    expect(codes(closed, "rules-chosen", { rules: "strict" })).to.deep.equal(["closed"]);
    expect(codes(closed, "note-added", { text: "x" })).to.deep.equal([]);
    expect(codes(closed, "job-reopened", { why: "x" })).to.deep.equal([]);
    expect(codes(closed, "job-opened", COMPLAINT)).to.deep.equal(["opened"]);
    expect(codes(open, "rules-chosen", { rules: "strict" })).to.deep.equal([]);
    expect(codes(empty, "job-opened", COMPLAINT)).to.deep.equal([]);
    expect(codes(empty, "note-added", { text: "x" })).to.deep.equal(["opened"]);
  });
});
