import "fake-indexeddb/auto";
import { expect } from "chai";
import { LogWriter, COMPLAINT } from "../../../../packages/core/src/test/log.ts";
import { freshStorage } from "../test/browser-storage.ts";
import { failureOf } from "./failure.ts";
import { acknowledged, added, asideWords, discarded, found, notKept, outboxReducer, postponed, setAside, triedAgain } from "./outbox.ts";

const storage = freshStorage();
const { forgetEvents, keepEvent, readKeptEvents } = await import("./kept-events.ts");

const log = new LogWriter();
const [first, second, third] = [
  log.make("job-opened", COMPLAINT),
  log.make("note-added", { text: "x" }),
  log.make("note-added", { text: "y" }),
];
type State = ReturnType<typeof outboxReducer>;
const started = (): State => outboxReducer(undefined, { type: "start" });
const after = (...actions: Parameters<typeof outboxReducer>[1][]): State => actions.reduce((s, a) => outboxReducer(s, a), started());

describe("what a device keeps", () => {
  beforeEach(async () => {
    storage.clear();
    await forgetEvents([first.id, second.id, third.id]);
  });
  it("is found after a reload in the order of making, and forgotten when the server has it", async () => {
    expect(await keepEvent(second)).to.equal(true);
    expect(await keepEvent(first)).to.equal(true);
    expect(await readKeptEvents()).to.deep.equal([first, second]);
    await forgetEvents([first.id]);
    expect(await readKeptEvents()).to.deep.equal([second]);
  });
  it("holds what an earlier version kept elsewhere, and passes over what is not an event", async () => {
    storage.setItem(`rheonom.outbox.${second.id}`, JSON.stringify(second));
    storage.setItem("rheonom.outbox.broken", "{");
    storage.setItem("rheonom.outbox.odd", JSON.stringify({ ...first, type: "guess" }));
    storage.setItem("rheonom.session", "{}");
    expect(await readKeptEvents()).to.deep.equal([second]);
    expect(storage.getItem(`rheonom.outbox.${second.id}`), "moved, not copied").to.equal(null);
    expect(storage.getItem("rheonom.session")).to.equal("{}");
  });
  it("says so when there is no room, instead of failing or keeping quiet", async () => {
    const put = IDBObjectStore.prototype.put;
    IDBObjectStore.prototype.put = () => {
      throw new DOMException("full", "QuotaExceededError");
    };
    try {
      expect(await keepEvent(third)).to.equal(false);
    } finally {
      IDBObjectStore.prototype.put = put;
    }
    expect(await readKeptEvents()).to.deep.equal([]);
  });
});

describe("outbox", () => {
  const data = (code: string): object => ({ code, message: "The server said why.", issues: [] });
  it("puts what an earlier page kept ahead of what this one made, each once", () => {
    expect(after(added(second), found([first, second])).waiting).to.deep.equal([first, second]);
  });
  it("holds entries while the server cannot be asked, with the reason it gave, and drops them when it has them", () => {
    for (const [error, server] of [
      [{ status: "FETCH_ERROR", error: "refused" }, { kind: "silent" }],
      [{ status: 502, data: "<html>" }, { kind: "silent" }],
      [
        { status: 507, data: data("disk-full") },
        { kind: "waiting", why: "The server said why." },
      ],
      [
        { status: 503, data: data("data-opening") },
        { kind: "waiting", why: "The server said why." },
      ],
    ] as const) {
      const state = after(added(first), added(second), postponed(failureOf(error)));
      expect(state).to.deep.include({ server, waiting: [first, second], aside: [] });
      expect(outboxReducer(state, acknowledged([first.id]))).to.deep.include({ server: { kind: "answers" }, waiting: [second] });
    }
  });
  it("sets one entry aside with its reason, and the others go on", () => {
    const refusal = failureOf({
      status: 409,
      data: { ...data("event-refused"), issues: [{ path: "closed", message: "This job is closed." }] },
    });
    expect(refusal).to.deep.include({ kind: "refused", status: 409 });
    expect(failureOf({ status: 500, data: data("internal") }).kind).to.equal("choked");
    let state = after(added(first), added(second), setAside({ id: first.id, message: asideWords(refusal) }));
    expect(state).to.deep.include({ waiting: [second], aside: [{ event: first, message: "The server said why. This job is closed." }] });
    // Kept on the device it is found there by a page that comes late to look.
    expect(outboxReducer(state, found([first, second]))).to.deep.include({ waiting: [second], aside: state.aside });
    expect(outboxReducer(state, triedAgain(first.id))).to.deep.include({ waiting: [second, first], aside: [] });
    state = outboxReducer(state, discarded(first.id));
    expect(state.aside).to.deep.equal([]);
  });
  it("knows what lives on the page only until the server has it", () => {
    const state = after(added(first), notKept(first.id));
    expect(state.unkept).to.deep.equal([first.id]);
    expect(outboxReducer(state, acknowledged([first.id])).unkept).to.deep.equal([]);
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
