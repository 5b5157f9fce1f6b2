import { expect } from "chai";
import { LogWriter, COMPLAINT } from "../../../../packages/core/src/test/log.ts";
import { freshStorage } from "../test/browser-storage.ts";
import { failureOf } from "./failure.ts";

const storage = freshStorage();
const { acknowledged, added, dismissed, failed, keep, letGo, outboxReducer } = await import("./outbox.ts");

describe("outbox", () => {
  const log = new LogWriter();
  const [first, second] = [log.make("job-opened", COMPLAINT), log.make("note-added", { text: "x" })];
  beforeEach(() => storage.clear());

  const started = (): ReturnType<typeof outboxReducer> => outboxReducer(undefined, { type: "start" });

  it("finds after a reload what was kept, in the order of making, and passes over what is none", () => {
    keep(second);
    keep(first);
    storage.setItem("rheonom.outbox.broken", "{");
    storage.setItem("rheonom.outbox.odd", JSON.stringify({ ...first, type: "guess" }));
    storage.setItem("rheonom.session", "{}");
    expect(started().waiting).to.deep.equal([first, second]);
    letGo(first.id);
    expect(started().waiting).to.deep.equal([second]);
  });

  it("holds entries while the server is silent and drops them when it has them", () => {
    let state = outboxReducer(outboxReducer(started(), added(first)), added(second));
    const silent = failureOf({ status: "FETCH_ERROR", error: "refused" });
    state = outboxReducer(state, failed({ ids: [first.id], failure: silent }));
    expect(state).to.deep.include({ server: "silent", waiting: [first, second] });
    state = outboxReducer(state, acknowledged([first.id]));
    expect(state).to.deep.include({ server: "answers", waiting: [second] });
  });

  it("takes a server that failed, or talked nonsense, for one to be asked again: nothing leaves the outbox", () => {
    const data = { code: "internal", message: "The server failed on this.", issues: [] };
    for (const error of [
      { status: 500, data },
      { status: 502, data: "<html>" },
      { status: "PARSING_ERROR", data: "" },
    ]) {
      const state = outboxReducer(outboxReducer(started(), added(first)), failed({ ids: [first.id], failure: failureOf(error) }));
      expect(state).to.deep.include({ server: "silent", waiting: [first], refused: [] });
    }
  });

  it("sets aside what the server refused, with its reasons, until that is read", () => {
    const data = {
      code: "event-refused",
      message: "The job does not allow this now.",
      issues: [{ path: "closed", message: "This job is closed." }],
    };
    const refusal = failureOf({ status: 409, data });
    expect(refusal).to.deep.include({ kind: "refused", status: 409 });
    let state = outboxReducer(outboxReducer(started(), added(first)), failed({ ids: [first.id], failure: refusal }));
    expect(state.waiting).to.deep.equal([]);
    expect(state.refused).to.deep.equal([{ event: first, message: "The job does not allow this now. This job is closed." }]);
    state = outboxReducer(state, dismissed(first.id));
    expect(state.refused).to.deep.equal([]);
  });

  it("says so when the storage is full instead of failing", () => {
    storage.limit = 20;
    expect(keep(first)).to.equal(false);
    storage.limit = Number.POSITIVE_INFINITY;
    expect(keep(first)).to.equal(true);
  });
});

describe("failureOf", () => {
  it("tells a silent server from a refusal and from nonsense", () => {
    expect(failureOf({ status: "TIMEOUT_ERROR" }).kind).to.equal("unreachable");
    expect(failureOf({ status: 404, data: { code: "x", message: "There is no job", issues: [] } })).to.include({
      kind: "refused",
      message: "There is no job",
    });
    for (const odd of [{ status: 502, data: "<html>" }, { name: "SchemaError" }, {}]) expect(failureOf(odd).kind).to.equal("odd");
  });
});
