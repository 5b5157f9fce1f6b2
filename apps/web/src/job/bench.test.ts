import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { foldJob } from "@rheonom/core/job";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { freshStorage } from "../test/browser-storage.ts";

const storage = freshStorage();
const { benchChanged, benchReducer, keepDrafts, stateChanged } = await import("./bench.ts");
const { readDraft } = await import("./read-draft.ts");
const { draftOfJob } = await import("./state-of-job.ts");

describe("bench draft", () => {
  beforeEach(() => storage.clear());
  const start = (): ReturnType<typeof benchReducer> => benchReducer(undefined, { type: "start" });

  it("begins in the state of the job's latest reading, without what was unplugged then", () => {
    const last = { ...REST_STATE, key: "run" as const, on: ["SW1"], opened: ["C1"] };
    expect(readDraft("j", last).state).to.deep.equal({ ...last, opened: [] });
    expect(readDraft("j").state).to.deep.equal(REST_STATE);
  });

  it("keeps half a reading over a reload, each job its own", () => {
    const before = readDraft("one");
    let drafts = benchReducer(start(), benchChanged({ jobId: "one", change: { red: "F1.2", text: "12." }, before }));
    drafts = benchReducer(drafts, stateChanged({ jobId: "one", change: { key: "run" }, before, at: 7 }));
    keepDrafts(drafts);
    expect(readDraft("one")).to.deep.include({ red: "F1.2", text: "12." });
    expect(readDraft("one").state.key).to.equal("run");
    expect(readDraft("one").setAt).to.equal(7);
    expect(readDraft("two").red).to.equal("");
  });

  it("begins in the state that was kept with the job where that is newer than what this device set", () => {
    const view = foldJob([new LogWriter().make("job-opened", COMPLAINT)])!;
    const before = readDraft("one");
    keepDrafts(
      benchReducer(start(), stateChanged({ jobId: "one", change: { key: "run" }, before, at: Date.parse("2026-05-20T10:00:00Z") })),
    );
    const kept = (at: string) => ({ at, by: "Inga", state: { ...REST_STATE, key: "accessory" as const }, load: "", next: "", entries: 1 });
    expect(draftOfJob("one", view, kept("2026-05-20T09:59:59Z")).state.key).to.equal("run");
    expect(draftOfJob("one", view, kept("2026-05-20T10:00:01Z")).state.key).to.equal("accessory");
    expect(draftOfJob("two", view, kept("2026-05-20T09:00:00Z")).state.key).to.equal("accessory");
    expect(draftOfJob("two", view, null).state.key).to.equal("off");
  });

  it("starts anew when what was kept cannot be read", () => {
    for (const kept of ["{", "null", '{"red":7}', JSON.stringify({ ...readDraft("x"), mode: "watts" })]) {
      storage.setItem("rheonom.bench.one", kept);
      expect(readDraft("one").mode).to.equal("volts");
    }
  });
});
