import { expect } from "chai";
import { COMPLAINT, LogWriter } from "../../../../packages/core/src/test/log.ts";
import { ASK_EVERY_MS, followFeed, type FeedSocket } from "./feed.ts";
import { mergeTail, withOwn, type KnownLog } from "./known-log.ts";

/** A page with a clock that is turned by hand. */
function page() {
  const sockets: (FeedSocket & { closed: boolean })[] = [];
  const timers = new Map<number, { readonly at: number; readonly then: () => void }>();
  const seen: string[] = [];
  let now = 0;
  let last = 0;
  const stop = followFeed({
    open: () => {
      const socket = { onopen: null, onclose: null, onmessage: null, closed: false, close: () => (socket.closed = true) } as FeedSocket & {
        closed: boolean;
      };
      sockets.push(socket);
      return socket;
    },
    changed: (id, entries) => seen.push(`${id.slice(-1)}:${entries}`),
    catchUp: () => seen.push("ask"),
    setTimer: (then, ms) => {
      timers.set(++last, { at: now + ms, then });
      return last;
    },
    clearTimer: (timer) => timers.delete(timer as number),
  });
  const pass = (ms: number): void => {
    const end = now + ms;
    for (;;) {
      const [next] = [...timers].filter(([, t]) => t.at <= end).sort((p, q) => p[1].at - q[1].at);
      if (next === undefined) break;
      timers.delete(next[0]);
      now = next[1].at;
      next[1].then();
    }
    now = end;
  };
  return { sockets, seen, pass, stop };
}
const ID = "0190a1b2-c3d4-7e5f-8a9b-000000000007";
const message = (data: unknown): MessageEvent => ({ data: typeof data === "string" ? data : JSON.stringify(data) }) as MessageEvent;

describe("the feed", () => {
  it("catches up when it opens, tells what changed, and passes over what is not a message", () => {
    const { sockets, seen } = page();
    sockets[0]!.onopen!({} as Event);
    sockets[0]!.onmessage!(message({ type: "job", id: ID, entries: 3 }));
    sockets[0]!.onmessage!(message("{"));
    sockets[0]!.onmessage!(message({ type: "job", id: 7, entries: 3 }));
    expect(seen).to.deep.equal(["ask", "7:3"]);
  });
  it("asks every ten seconds while the line is down, and opens it again, ever less often", () => {
    const { sockets, seen, pass } = page();
    sockets[0]!.onopen!({} as Event);
    sockets[0]!.onclose!({} as CloseEvent);
    pass(600);
    expect(sockets).to.have.lengthOf(2);
    for (let i = 1; i < 6; i++) {
      sockets.at(-1)!.onclose!({} as CloseEvent);
      pass(10_000);
    }
    expect(seen.filter((s) => s === "ask").length).to.equal(1 + Math.floor((600 + 50_000) / ASK_EVERY_MS));
    expect(sockets.length).to.be.within(5, 9);
    sockets.at(-1)!.onopen!({} as Event);
    const asked = seen.length;
    pass(60_000);
    expect(seen.length, "nothing is asked while the line is up").to.equal(asked);
  });
  it("ends when the page does", () => {
    const { sockets, seen, pass, stop } = page();
    sockets[0]!.onclose!({} as CloseEvent);
    stop();
    pass(100_000);
    expect(seen).to.deep.equal([]);
    expect(sockets).to.have.lengthOf(1);
  });
});

describe("the log as it is known here", () => {
  const log = new LogWriter();
  const [opened, mine, theirs, later] = [
    log.make("job-opened", COMPLAINT),
    log.make("note-added", { text: "mine" }),
    log.make("note-added", { text: "theirs" }),
    log.make("note-added", { text: "mine, later" }),
  ];
  const known: KnownLog = { id: ID, simulated: false, events: [opened], next: 1, bench: null, hash: "", confirmed: 1 };
  it("takes the server's order, whatever this device thought", () => {
    const sent = withOwn(withOwn(known, [mine]), [mine, later]);
    expect(sent.events).to.deep.equal([opened, mine, later]);
    const merged = mergeTail(sent, { events: [theirs, mine], next: 3 });
    expect(merged).to.deep.include({ events: [opened, theirs, mine, later], next: 3, confirmed: 3 });
    expect(mergeTail(merged, { events: [later], next: 4 })).to.deep.include({
      events: [opened, theirs, mine, later],
      next: 4,
      confirmed: 4,
    });
    expect(mergeTail(merged, { events: [mine], next: 3 }), "what is told twice stands once").to.deep.include({ events: merged.events });
  });
});
