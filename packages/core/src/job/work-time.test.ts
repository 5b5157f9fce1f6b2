import { expect } from "chai";
import { LogWriter, COMPLAINT } from "../test/log.ts";
import { hoursWords } from "./describe.ts";
import { advanceDigest, openHours, type JobDigest } from "./digest.ts";
import type { JobEvent } from "./events.ts";
import { minutesInLog } from "./work-time.ts";

const at = (minute: number): string => new Date(Date.parse("2026-05-20T08:00:00Z") + minute * 60_000).toISOString();

describe("time worked on a job", () => {
  it("is what lies between entries that are near each other, in whatever order they came in", () => {
    const log = new LogWriter();
    const note = (minute: number): JobEvent => ({ ...log.make("note-added", { text: "x" }), at: at(minute) });
    // Two spells: 0 to 25 with no gap above 20 minutes, and 90 to 100.
    expect(minutesInLog([note(90), note(0), note(10), note(25), note(100)])).to.equal(35);
    expect(minutesInLog([note(0), note(20)])).to.equal(20);
    expect(minutesInLog([note(0), note(21)])).to.equal(0);
    expect(minutesInLog([])).to.equal(0);
  });

  it("is taken off what is planned, else off what is estimated, and never below nothing", () => {
    const log = new LogWriter();
    const digestOf = (...events: JobEvent[]): JobDigest =>
      [log.make("job-opened", COMPLAINT), ...events].reduce<JobDigest | undefined>(
        (d, e, i) => advanceDigest(d, e, i, () => undefined),
        undefined,
      )!;
    const line = (kind: string, quantity: number) => ({ kind, text: "x", quantity, unitPrice: 100 });
    const estimate = log.make("estimate-made", {
      currency: "EUR",
      taxPercent: 0,
      lines: [line("labour", 1.5), line("part", 9), line("labour", 0.5)],
    });
    const worked = log.make("time-told", { minutes: 90 });
    const planned = log.make("planned", { whose: "", waits: "", hours: 4 });
    expect(openHours(digestOf())).to.equal(1);
    expect(openHours(digestOf(estimate))).to.equal(2);
    expect(openHours(digestOf(estimate, worked))).to.equal(0.5);
    expect(openHours(digestOf(estimate, worked, planned))).to.equal(2.5);
    expect(openHours(digestOf(worked))).to.equal(0);
    expect(openHours(digestOf(planned, log.make("job-closed", { safeToDrive: "yes", withoutProof: "x" })))).to.equal(0);
  });

  it("is said in hours and minutes", () => {
    expect([0, 5, 60, 95, 600].map(hoursWords)).to.deep.equal(["0 min", "5 min", "1 h", "1 h 35 min", "10 h"]);
  });
});
