import { expect } from "chai";
import { REST_STATE } from "../circuit/index.ts";
import fc from "fast-check";
import { circuitOf, FAN, fanOn } from "../test/circuits.ts";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { cautionsFor, cautionsOfJob } from "./cautions.ts";
import { closingBlockers, refusalOf, type LogEnd } from "./closing.ts";
import { customerSections } from "./customer.ts";
import { describeEvent } from "./describe.ts";
import { uuidV7 } from "./event-id.ts";
import { JOB_EVENT_TYPES, jobEvent, uuid7 } from "./events.ts";
import { readingsAroundMend, resolutionOf, trayInModel, voltFacts } from "./evidence.ts";
import { foldJob, openTray, stepKey, type JobView } from "./fold.ts";
import { buildProof, checkWords, pairWords } from "./proof.ts";
import type { Scan } from "../codes/index.ts";
import { parseNotation } from "../notation/index.ts";
import { evidenceOf, questionOfJob, scanBeforeClear } from "./question.ts";
import { buildReport, report as reportSchema } from "./report.ts";
import { pathsOfJob } from "./paths.ts";
import { readCsv } from "../notation/csv.ts";
import { readingsCsv } from "./readings-csv.ts";
import { redacted } from "./redact.ts";

const fan = circuitOf(FAN);
const MEND = { at: "C1.4", found: "Green socket", cause: "", method: "terminal renewed", done: "New terminal" };
const CLOSING = { safeToDrive: "yes", advice: "", withoutProof: "" } as const;

const viewOf = (log: LogWriter): JobView => {
  const view = foldJob(log.events);
  if (view === undefined) throw new Error("empty log");
  return view;
};

/** A job on the fan with 2 Ω in C1.4: readings as the model shows them there (0.8497 A). */
function tracedJob(): LogWriter {
  const log = new LogWriter();
  log.add("job-opened", COMPLAINT);
  log.add("circuit-set", { notation: FAN });
  for (const [text, red] of [
    ["11.99", "BAT.+"],
    ["10.19", "FAN.1"],
    ["11.90", "C1.4a"],
    ["10.20", "C1.4b"],
  ] as const)
    log.read(text, red, { state: fanOn });
  return log;
}

describe("event ids", () => {
  it("are UUIDs of version 7 that sort by time", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 2 ** 47 }),
        fc.uint8Array({ minLength: 10, maxLength: 10 }),
        fc.uint8Array({ minLength: 10, maxLength: 10 }),
        (ms, r1, r2) => {
          const [early, late] = [uuidV7(ms, r1), uuidV7(ms + 1, r2)];
          expect(uuid7.safeParse(early).success).to.equal(true);
          expect(early < late).to.equal(true);
          // The first 48 bits are the time (RFC 9562, section 5.7).
          expect(Number.parseInt(early.replaceAll("-", "").slice(0, 12), 16)).to.equal(ms);
        },
      ),
    );
    expect(() => uuidV7(-1, new Uint8Array(10))).to.throw(RangeError);
    expect(() => uuidV7(0, new Uint8Array(9))).to.throw(RangeError);
  });
});

describe("fold", () => {
  it("is a pure function of the log: same events, same view; nothing before an event changes", () => {
    const log = tracedJob();
    const before = JSON.stringify(log.events);
    expect(foldJob(log.events)).to.deep.equal(foldJob(log.events));
    expect(JSON.stringify(log.events)).to.equal(before);
    expect(foldJob([])).to.equal(undefined);
  });

  it("strikes by a later event and keeps what was struck", () => {
    const log = tracedJob();
    const wrong = log.read("1.19", "F1.2", { state: fanOn });
    log.add("struck", { target: wrong.id, why: "mistyped" });
    const view = viewOf(log);
    expect(view.readings).to.have.length(5);
    expect(view.readings.at(-1)!.struck).to.equal("mistyped");
    expect(voltFacts(view.readings, fanOn).map((f) => f.red)).to.not.include("F1.2");
  });

  it("knows the stage from what is still missing", () => {
    const log = new LogWriter();
    const stages: string[] = [];
    const step = (type: (typeof JOB_EVENT_TYPES)[number], data: unknown): void => {
      log.add(type, data);
      stages.push(viewOf(log).stage);
    };
    step("job-opened", COMPLAINT);
    step("circuit-set", { notation: FAN });
    step("mend-made", MEND);
    log.read("0.1", "FAN.1");
    stages.push(viewOf(log).stage);
    step("job-closed", CLOSING);
    step("job-reopened", { why: "came back" });
    expect(stages).to.deep.equal(["circuit", "trace", "prove", "record", "closed", "record"]);
  });

  it("keeps people, complaint changes and rule set", () => {
    const log = tracedJob();
    log.add("complaint-changed", { ...COMPLAINT, words: "The fan stops." }, "Pell");
    log.add("rules-chosen", { rules: "strict" }, "Pell");
    log.add("note-added", { text: "Customer waits." }, "Morag");
    const view = viewOf(log);
    expect(view.people).to.deep.equal(["Inga", "Pell", "Morag"]);
    expect(view.complaint.words).to.equal("The fan stops.");
    expect(view.rules).to.equal("strict");
  });

  it("keeps what was found different with the job, and where it went", () => {
    const log = tracedJob();
    const vehicle = { id: "plover", version: 3, options: ["fridge"] };
    log.add("circuit-set", { notation: FAN, vehicle });
    const note = log.add("found-different", { at: "W2", what: "colour", drawn: "RD", found: "OG" });
    const wrong = log.add("found-different", { at: "W9", what: "other", found: "nothing" });
    log.add("found-promoted", { target: note.id, version: 4 });
    log.add("struck", { target: wrong.id, why: "mistaken" });
    const view = viewOf(log);
    expect(view.circuit?.vehicle).to.deep.equal(vehicle);
    expect(view.found.map((f) => [f.data.at, f.promoted, f.struck])).to.deep.equal([
      ["W2", 4, undefined],
      ["W9", undefined, "mistaken"],
    ]);
    const report = buildReport(view, undefined, "2026-05-20T15:00:00.000Z");
    expect(report.found.map((f) => [f.place, f.drawn, f.found])).to.deep.equal([["W2", "RD", "OG"]]);
  });

  it("describes every type of event", () => {
    const log = tracedJob();
    const note = log.add("found-different", { at: "W2", what: "colour", drawn: "RD", found: "OG" });
    log.add("found-promoted", { target: note.id, version: 2 });
    log.add("seen", { state: fanOn, observe: { kind: "part", part: "FAN" }, word: "none", wrong: true });
    const made = log.add("temporary-made", { kind: "jumpered", at: "F1.1", to: "F1.2", note: "" });
    log.add("temporary-explained", { target: made.id, why: "x" });
    log.add("temporary-undone", { target: made.id });
    log.add("struck", { target: made.id, why: "x" });
    log.add("complaint-changed", COMPLAINT);
    log.add("rules-chosen", { rules: "strict" });
    log.add("presence-told", { share: 0.3 });
    log.add("planned", { whose: "Inga", waits: "part", until: "2026-12-01" });
    log.add("codes-read", { scan: SCAN, state: fanOn });
    log.add("codes-cleared", { note: "" });
    const leads = { quantity: "volts", red: "FAN.1", black: "BAT.-" } as const;
    log.add("wiggled", {
      state: fanOn,
      leads,
      samples: [
        [0, 1],
        [1, 1],
        [2, 1],
      ],
      marks: [[0, "C1"]],
      instrument: "typed",
    });
    log.add("mend-made", MEND);
    log.add("finding-kept", { at: "G1", found: "rust", outcome: "advised", risk: "", why: "" });
    log.add("neighbour-told", { of: "C1.4", wires: ["W2"], verdict: "sound" });
    log.add("neighbours-left", { of: "C1.4", why: "x" });
    log.add("step-ticked", { of: "C1.4", step: "key off", done: true });
    log.add("estimate-made", { currency: "EUR", taxPercent: 0, lines: [{ kind: "part", text: "x", quantity: 1, unitPrice: 100 }] });
    log.add("estimate-answered", { answer: "declined", who: "x", how: "", note: "" });
    log.add("test-excused", { test: "x", why: "x" });
    log.add("driven", { met: ["rain"], unmet: [], outcome: "fault did not appear", seen: "" });
    log.add("return-watched", { until: "2026-12-24", distance: "500 km", what: "" });
    log.add("note-added", { text: "x" });
    log.add("job-closed", CLOSING);
    log.add("job-reopened", { why: "x" });
    expect(new Set(log.events.map((e) => e.type))).to.deep.equal(new Set(JOB_EVENT_TYPES));
    for (const e of log.events) expect(describeEvent(e)).to.match(/\S/);
  });
});

describe("event schema", () => {
  const good = tracedJob().events[2]!;
  it("takes an event as it was made and refuses what is not one", () => {
    expect(jobEvent.safeParse(good).success).to.equal(true);
    const spoilt: readonly object[] = [
      { type: "reading-guessed" },
      { id: "x" },
      { id: good.id.toUpperCase() },
      { at: "yesterday" },
      { by: "  " },
      { data: {} },
    ];
    for (const change of spoilt) expect(jobEvent.safeParse({ ...good, ...change }).success, JSON.stringify(change)).to.equal(false);
  });

  it("refuses numbers that are none", () => {
    if (good.type !== "reading-taken") throw new Error(good.type);
    for (const value of [Number.NaN, Number.POSITIVE_INFINITY, "12"]) {
      expect(jobEvent.safeParse({ ...good, data: { ...good.data, shown: { kind: "value", quantity: "volts", value } } }).success).to.equal(
        false,
      );
    }
  });
});

describe("evidence", () => {
  it("takes the last digit typed as the resolution", () => {
    for (const [text, volts] of [
      ["12.31", 0.01],
      ["12.3 V", 0.1],
      ["440 mV", 1e-3],
      ["0.4mV", 1e-4],
      ["12", 1],
    ] as const)
      expect(resolutionOf(text)).to.be.closeTo(volts, 1e-12);
  });

  it("counts readings of the same state only", () => {
    const log = tracedJob();
    log.read("12.6", "BAT.+", { state: { ...fanOn, key: "off" } });
    expect(voltFacts(viewOf(log).readings, fanOn)).to.have.length(4);
    expect(voltFacts(viewOf(log).readings, { ...fanOn, temperatureC: -5 }), "temperature does not part them").to.have.length(4);
  });

  it("lets the open tray into the model and takes it out again", () => {
    const log = tracedJob();
    const pulled = log.add("temporary-made", { kind: "pulled", at: "f1", to: "", note: "" });
    log.add("temporary-made", { kind: "jumpered", at: "SW1.1", to: "SW1.2", note: "" });
    log.add("temporary-made", { kind: "cover off", at: "sill", to: "", note: "" });
    expect(trayInModel(fan, viewOf(log))).to.deep.equal({ opened: ["F1"], bridged: [["SW1.1", "SW1.2"]], lamps: [] });
    const lamp = log.add("temporary-made", { kind: "lamp fitted", at: "F1.1", to: "F1.2", note: "" });
    expect(trayInModel(fan, viewOf(log)).lamps).to.deep.equal([["F1.1", "F1.2", 21]]);
    log.add("temporary-undone", { target: lamp.id });
    log.add("temporary-undone", { target: pulled.id });
    expect(trayInModel(fan, viewOf(log)).opened).to.deep.equal([]);
    expect(openTray(viewOf(log)).map((t) => t.place)).to.deep.equal(["SW1.1", "sill"]);
  });
});

const SCAN: Scan = {
  format: "rheonom-scan",
  version: 1,
  takenAt: "2026-05-20T10:00:00.000Z",
  source: "typed",
  modules: [{ id: "ECM", answers: false }],
  codes: [{ module: "BCM", code: "U0100", failureType: "87", status: "active" }],
};

describe("questionOfJob", () => {
  it("asks about what is complained of, with everything found since the last mend", () => {
    const log = tracedJob();
    const dead = { state: fanOn, observe: { kind: "part", part: "FAN" }, word: "none", wrong: true } as const;
    log.add("seen", dead);
    const struck = log.add("seen", { ...dead, word: "full", wrong: false });
    log.add("struck", { target: struck.id, why: "mistaken" });
    const q = questionOfJob(fan, viewOf(log), "FAN", { ...fanOn, key: "off" });
    expect([q.focus, q.state.key]).to.deep.equal([["FAN"], fanOn.key]);
    expect(q.evidence.map((e) => e.observe.kind)).to.deep.equal(["volts", "volts", "volts", "volts", "part"]);
    expect(q.evidence[0]!.result).to.deep.include({ kind: "value", resolution: 0.01 });
    log.add("mend-made", MEND);
    expect(evidenceOf(viewOf(log)), "a mend makes what was found before it history").to.deep.equal([]);
    expect(jobEvent.safeParse({ ...log.events.at(-1)!, type: "seen", data: { ...dead, word: "corroded" } }).success).to.equal(false);
  });
  it("takes the latest scan for evidence, knows the one before clearing, and what was said about circumstances", () => {
    const log = tracedJob();
    log.add("codes-read", { scan: { ...SCAN, codes: [] }, state: fanOn });
    log.add("codes-read", { scan: SCAN, state: fanOn });
    log.add("codes-cleared", { note: "" });
    log.add("codes-read", { scan: SCAN, state: fanOn });
    const view = viewOf(log);
    expect(
      evidenceOf(view)
        .slice(-2)
        .map((e) => e.observe),
    ).to.deep.equal([
      { kind: "code", code: "U0100-87" },
      { kind: "answers", module: "ECM" },
    ]);
    expect(scanBeforeClear(view)!.data.scan.codes).to.have.length(1);
    log.add("complaint-changed", { ...COMPLAINT, circumstances: [{ kind: "condition", what: "rain" }] });
    expect(questionOfJob(fan, viewOf(log), "FAN", fanOn).circumstances).to.deep.equal([{ kind: "condition", what: "rain" }]);
  });
  it("takes what was moved, what a module says, and how often it is there", () => {
    const log = tracedJob();
    const leads = { quantity: "volts", red: "FAN.1", black: "BAT.-" } as const;
    const samples = Array.from({ length: 60 }, (_, i): [number, number] => [i * 100, i > 40 && i < 50 ? 7 : 12]);
    const session = {
      state: fanOn,
      leads,
      samples,
      marks: [
        [0, ""],
        [2000, "C1"],
        [4000, "G1"],
      ],
      instrument: "typed",
    } as const;
    const moved = log.add("wiggled", { ...session, marks: session.marks.map((m): [number, string] => [m[0], m[1]]) });
    log.add("seen", { state: fanOn, observe: { kind: "live", module: "ECM", pin: "9" }, value: 4.2, wrong: false, present: true });
    log.add("presence-told", { share: 0.3 });
    const q = questionOfJob(fan, viewOf(log), "FAN", fanOn);
    expect(q.presence).to.equal(0.3);
    const tail = q.evidence
      .slice(-3)
      .map((e) => [e.observe.kind, "word" in e.result ? e.result.word : "value" in e.result ? e.result.value : 0, e.present]);
    expect(tail).to.deep.equal([
      ["wiggle", "steady", undefined],
      ["wiggle", "moves", undefined],
      ["live", 4.2, true],
    ]);
    log.add("struck", { target: moved.id, why: "engine rocked" });
    expect(evidenceOf(viewOf(log)).filter((e) => e.observe.kind === "wiggle")).to.deep.equal([]);
    const event = (data: object): boolean => jobEvent.safeParse({ ...log.events.at(-1)!, type: "seen", data }).success;
    expect(event({ state: fanOn, observe: { kind: "live", module: "ECM", pin: "9" } }), "a live value needs its number").to.equal(false);
  });
});

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
    expect(excused.outcome).to.equal("proven");
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

describe("cautions", () => {
  const ids = (list: readonly { id: string }[]): string[] => list.map((c) => c.id);
  it("come with the risky act", () => {
    const reading = (change: object): string[] =>
      ids(cautionsFor({ kind: "reading", quantity: "volts", state: { ...fanOn, ...change }, loadAmps: 1 }, fan));
    expect(reading({})).to.deep.equal([]);
    expect(reading({ key: "crank", engine: "cranking" })).to.deep.equal(["cranking"]);
    expect(reading({ engine: "idling" })).to.deep.equal(["running"]);
    expect(ids(cautionsFor({ kind: "reading", quantity: "ohms", state: fanOn, loadAmps: 40 }, fan))).to.deep.equal(["ohms", "heat"]);
    expect(ids(cautionsFor({ kind: "temporary", temporary: "jumpered" }, fan))).to.deep.equal(["jumper"]);
    expect(ids(cautionsFor({ kind: "mend", at: "W6", method: "other" }, fan)), "a battery cable").to.deep.equal(["battery"]);
    expect(ids(cautionsFor({ kind: "mend", at: "F1", method: "fuse renewed" }, fan))).to.deep.equal(["fuse"]);
  });

  it("are gathered for the record, each once", () => {
    const log = tracedJob();
    log.add("complaint-changed", { ...COMPLAINT, highVoltage: true });
    log.read("11", "FAN.1", { state: { ...fanOn, engine: "idling" } });
    log.read("11", "FAN.2", { state: { ...fanOn, engine: "idling" } });
    expect(ids(cautionsOfJob(viewOf(log), fan))).to.have.members(["high-voltage", "running"]);
  });
});

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
      vin: "1M8GDM9AXKP042788",
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
    expect(JSON.stringify({ ...copy, circuit: null })).to.not.match(/skv ?7|oddly|KP042788/i);
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
