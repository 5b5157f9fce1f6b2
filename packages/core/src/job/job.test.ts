import { expect } from "chai";
import fc from "fast-check";
import { FAN, fanOn } from "../test/circuits.ts";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { cautionsFor, cautionsOfJob } from "./cautions.ts";
import { describeEvent } from "./describe.ts";
import { uuidV7 } from "./event-id.ts";
import { JOB_EVENT_TYPES, jobEvent, uuid7 } from "./events.ts";
import { resolutionOf, trayInModel, voltFacts } from "./evidence.ts";
import { foldJob, openTray } from "./fold.ts";
import { evidenceOf, questionOfJob, scanBeforeClear } from "./question.ts";
import { buildReport } from "./report.ts";
import { CLOSING, fan, MEND, tracedJob, viewOf, SCAN } from "../test/fan-job.ts";

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
    log.add("practice-begun", { advice: "asked", clock: true, speaker: "the net mender" });
    log.add("advice-asked", { on: "next test" });
    log.add("hint-given", { text: "Where does the current come back?" });
    log.add("clock-turned", { running: false });
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
    log.add("time-told", { minutes: 80 });
    log.add("cases-weighed", { weighed: false });
    log.add("known-good-used", { items: [made.id], what: "12.4 V at C1.4" });
    log.add("meter-checked", { meter: "M1", leadsOhms: 0.2, nominalVolts: 12 });
    log.add("customer-removed", { entries: 3, pictures: 0, months: 24 });
    const picture = log.add("picture-kept", { hash: "0".repeat(64), width: 2, height: 1, bytes: 9, at: "", when: "after", caption: "" });
    log.add("picture-marked", { target: picture.id, marks: [] });
    const channels = [{ name: "A", unit: "V", factor: 1, red: "F1.2", black: "BAT.-" }];
    log.add("trace-kept", { hash: "0".repeat(64), bytes: 9, name: "coil", startS: 0, rateHz: 1e6, count: 10, channels });
    log.add("note-added", { text: "x" });
    log.add("clear-to-crank", {});
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
