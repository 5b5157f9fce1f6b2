import { expect } from "chai";
import type { JobEvent } from "./events.ts";
import { jobEvent } from "./events.ts";
import { foldJob } from "./fold.ts";
import { pairPictures } from "./pictures.ts";

const JOB = "019e4514-0340-76f7-8819-2a3b4c5d6e7f";
const idOf = (n: number): string => `019e4514-0340-76f7-8819-${n.toString(16).padStart(12, "0")}`;
const event = (n: number, type: string, data: unknown): JobEvent =>
  jobEvent.parse({ id: idOf(n), jobId: JOB, at: "2026-05-20T10:00:00Z", by: "Ada", type, data });
const kept = (n: number, at: string, when: string): JobEvent =>
  event(n, "picture-kept", { hash: n.toString(16).padStart(64, "0"), width: 2000, height: 1500, bytes: 4e5, at, when, caption: "" });

describe("pictures of a job", () => {
  it("stand by place, before beside after, however they were taken", () => {
    const list = [kept(1, "C1", "after"), kept(2, "G7", "before"), kept(3, "C1", "before"), kept(4, "C1", "before")];
    const view = foldJob([event(0, "job-opened", { vehicle: "Van", words: "dead" }), ...list])!;
    expect(pairPictures(view.pictures).map((p) => `${p.data.at} ${p.data.when}`)).to.deep.equal([
      "C1 before",
      "C1 after",
      "C1 before",
      "G7 before",
    ]);
  });

  it("the last layer of marks counts, and a layer over what is not there counts for nothing", () => {
    const mark = (n: number, target: number, marks: unknown[]): JobEvent => event(n, "picture-marked", { target: idOf(target), marks });
    const arrow = { kind: "arrow", from: [0, 0], to: [1, 1] };
    const opened = event(0, "job-opened", { vehicle: "Van", words: "dead" });
    const of = (...events: JobEvent[]) => foldJob([opened, kept(1, "C1", "before"), ...events])!.pictures.map((p) => p.marks.length);
    expect(of(mark(2, 1, [arrow, arrow]), mark(3, 1, [arrow]))).to.deep.equal([1]);
    expect(of(mark(2, 1, [arrow]), mark(3, 1, []))).to.deep.equal([0]);
    expect(of(mark(2, 9, [arrow]))).to.deep.equal([0]);
    const struck = foldJob([opened, kept(1, "C1", "before"), event(2, "struck", { target: idOf(1), why: "wrong car" })])!;
    expect(struck.pictures[0]!.struck).to.equal("wrong car");
  });

  it("a name that is no hash, a size over the limit and a mark far outside are refused", () => {
    const data = { hash: "0".repeat(64), width: 2000, height: 1500, bytes: 4e5, at: "", when: "before", caption: "" };
    const read = (change: object): boolean =>
      jobEvent.safeParse({
        id: idOf(1),
        jobId: JOB,
        at: "2026-05-20T10:00:00Z",
        by: "Ada",
        type: "picture-kept",
        data: { ...data, ...change },
      }).success;
    expect(read({})).to.equal(true);
    for (const change of [{ hash: "../../etc/passwd" }, { width: 2001 }, { bytes: 0 }, { when: "during" }])
      expect(read(change)).to.equal(false);
  });
});
