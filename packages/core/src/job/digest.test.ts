import { expect } from "chai";
import fc from "fast-check";
import { COMPLAINT, LogWriter } from "../test/log.ts";
import { advanceDigest, jobDigest, repairsOfDigest, stageOfDigest, type EntryPlace, type JobDigest } from "./digest.ts";
import type { LogEntry } from "./entry.ts";
import { foldJob, openTray } from "./fold.ts";

/** One more thing that happens to a job: what, and to which earlier entry where it is about one. */
const step = fc.record({
  what: fc.constantFrom(
    "reading",
    "mend",
    "tray",
    "undone",
    "explained",
    "struck",
    "circuit",
    "complaint",
    "note",
    "planned",
    "return-watched",
    "closed",
    "reopened",
    "unreadable",
  ),
  target: fc.nat(60),
});

function logOf(steps: readonly { readonly what: string; readonly target: number }[]): LogEntry[] {
  const log = new LogWriter();
  const entries: LogEntry[] = [log.make("job-opened", COMPLAINT)];
  for (const { what, target } of steps) {
    const id = entries[target % entries.length]!.id;
    const made = ((): LogEntry => {
      switch (what) {
        case "reading":
          return log.read("12.1", "F1.2");
        case "mend":
          return log.make("mend-made", { at: "F1", found: "x", cause: "", method: "other", done: "x" });
        case "tray":
          return log.make("temporary-made", { kind: "pulled", at: "F1", to: "", note: "" });
        case "undone":
          return log.make("temporary-undone", { target: id });
        case "explained":
          return log.make("temporary-explained", { target: id, why: "x" });
        case "struck":
          return log.make("struck", { target: id, why: "x" });
        case "circuit":
          return log.make("circuit-set", { notation: "BAT -- F1" });
        case "complaint":
          return log.make("complaint-changed", { ...COMPLAINT, words: `other ${target}` });
        case "return-watched":
          return log.make("return-watched", { until: target % 3 === 0 ? "" : "2026-12-24", distance: "", what: "lamp" });
        case "planned":
          return log.make("planned", {
            whose: target % 2 === 0 ? "Inga" : "",
            waits: "part",
            until: "2026-12-01",
            ...(target % 3 === 0 ? { promised: "2026-12-01T16:00", hours: 2.5 } : {}),
          });
        case "closed":
          return log.make("job-closed", { safeToDrive: "yes", advice: "", withoutProof: "x" });
        case "reopened":
          return log.make("job-reopened", { why: "x" });
        case "unreadable": {
          const { id: own, jobId, at, by } = log.make("note-added", { text: "x" });
          return { type: "unreadable", id: own, jobId, at, by, raw: "{}", why: "x" };
        }
        default:
          return log.make("note-added", { text: "x" });
      }
    })();
    entries.push(made);
  }
  return entries;
}

function digestOf(entries: readonly LogEntry[], firstPosition = 0): JobDigest {
  const places = new Map<string, EntryPlace>();
  let digest: JobDigest | undefined;
  entries.forEach((entry, i) => {
    const position = firstPosition + 2 * i;
    digest = advanceDigest(digest, entry, position, (id) => places.get(id));
    places.set(entry.id, { type: entry.type, position });
  });
  return digest!;
}

describe("the digest of a job", () => {
  it("says after any log what the fold of the whole log says, whatever places are left out", () => {
    let stages = new Set<string>();
    fc.assert(
      fc.property(fc.array(step, { maxLength: 40 }), fc.nat(3), (steps, first) => {
        const entries = logOf(steps);
        const view = foldJob(entries)!;
        const digest = digestOf(entries, first);
        stages = stages.add(view.stage);
        expect(stageOfDigest(digest)).to.equal(view.stage);
        expect([...digest.tray].sort()).to.deep.equal(
          openTray(view)
            .map((t) => t.id)
            .sort(),
        );
        expect(digest).to.include({
          openedAt: view.openedAt,
          openedBy: view.openedBy,
          lastAt: view.lastAt,
          vehicle: view.complaint.vehicle,
          words: view.complaint.words,
          vin: view.complaint.vin,
          isClosed: view.closed !== undefined,
          entries: first + 2 * (entries.length - 1) + 1,
        });
        expect(repairsOfDigest(digest)).to.have.lengthOf(view.mends.filter((m) => m.struck === undefined).length);
        expect(digest.plan).to.deep.equal(view.plan);
        expect(digest.watch ?? undefined).to.deep.equal(view.watch);
        expect(jobDigest.parse(JSON.parse(JSON.stringify(digest)))).to.deep.equal(digest);
      }),
      { numRuns: 400, seed: 13 },
    );
    expect([...stages].sort(), "every stage was met").to.deep.equal(["circuit", "closed", "prove", "record", "trace"]);
  });
  it("stays small however long the log", () => {
    const log = new LogWriter();
    const entries = [log.make("job-opened", COMPLAINT), ...Array.from({ length: 3000 }, () => log.read("12.1", "F1.2"))];
    expect(JSON.stringify(digestOf(entries)).length).to.be.below(600);
  });
});

describe("an entry that cannot be read", () => {
  it("changes nothing that the rest of the log says, and is told", () => {
    const log = new LogWriter();
    const sound = [log.make("job-opened", COMPLAINT), log.read("12.1", "F1.2"), log.make("note-added", { text: "x" })];
    const bad: LogEntry = { type: "unreadable", id: log.id(), jobId: log.jobId, at: sound[1]!.at, by: "?", raw: "{}", why: "no type" };
    const view = foldJob([sound[0]!, bad, ...sound.slice(1)])!;
    expect({ ...view, unreadable: [] }).to.deep.equal(foldJob(sound));
    expect(view.unreadable).to.deep.equal([bad]);
  });
});
