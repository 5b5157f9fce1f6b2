import { fromFeed } from "@rheonom/contract/feed";
import { parsedJson } from "./parsed-json.ts";

/** What the feed needs of the page: time, a socket, and what to do. Everything comes in, so that it is tested without a browser. */
export interface FeedParts {
  readonly open: () => FeedSocket;
  /** The log of a job has so many entries now. */
  readonly changed: (jobId: string, entries: number) => void;
  /** Something may have been missed: ask for everything that is shown. */
  readonly catchUp: () => void;
  readonly setTimer: (then: () => void, ms: number) => unknown;
  readonly clearTimer: (timer: unknown) => void;
}

/** As much of a WebSocket as is used. */
export interface FeedSocket {
  onopen: ((event: Event) => void) | null;
  onclose: ((event: CloseEvent) => void) | null;
  onmessage: ((event: MessageEvent) => void) | null;
  close(): void;
}

/** While the server cannot tell, it is asked. */
export const ASK_EVERY_MS = 10_000;
const FIRST_RETRY_MS = 500;
const MOST_RETRY_MS = 10_000;

/** Listens to what other devices enter; while the line is down, asks every ten seconds. Returns how to stop. */
export function followFeed(parts: FeedParts): () => void {
  let stopped = false;
  let socket: FeedSocket | undefined;
  let failures = 0;
  let retry: unknown;
  let asking: unknown;

  const askLater = (): void => {
    asking = parts.setTimer(() => {
      parts.catchUp();
      askLater();
    }, ASK_EVERY_MS);
  };

  function connect(): void {
    const mine = parts.open();
    socket = mine;
    mine.onopen = () => {
      failures = 0;
      parts.clearTimer(asking);
      asking = undefined;
      parts.catchUp();
    };
    mine.onmessage = ({ data }) => {
      const read = fromFeed.safeParse(parsedJson(String(data)));
      if (read.success) parts.changed(read.data.id, read.data.entries);
    };
    mine.onclose = () => {
      if (stopped || socket !== mine) return;
      retry = parts.setTimer(connect, Math.min(MOST_RETRY_MS, FIRST_RETRY_MS * 2 ** failures++));
      if (asking === undefined) askLater();
    };
  }

  connect();
  return () => {
    stopped = true;
    parts.clearTimer(retry);
    parts.clearTimer(asking);
    socket?.close();
  };
}
