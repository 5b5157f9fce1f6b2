import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { freshStorage } from "../test/browser-storage.ts";

const storage = freshStorage();
const { benchChanged, benchReducer, keepDrafts, stateChanged } = await import("./bench.ts");
const { readDraft } = await import("./read-draft.ts");

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
    drafts = benchReducer(drafts, stateChanged({ jobId: "one", change: { key: "run" }, before }));
    keepDrafts(drafts);
    expect(readDraft("one")).to.deep.include({ red: "F1.2", text: "12." });
    expect(readDraft("one").state.key).to.equal("run");
    expect(readDraft("two").red).to.equal("");
  });

  it("starts anew when what was kept cannot be read", () => {
    for (const kept of ["{", "null", '{"red":7}', JSON.stringify({ ...readDraft("x"), mode: "watts" })]) {
      storage.setItem("rheonom.bench.one", kept);
      expect(readDraft("one").mode).to.equal("volts");
    }
  });
});
