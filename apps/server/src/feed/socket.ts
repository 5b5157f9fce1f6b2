import type { WebSocket } from "ws";
import type { FromFeed } from "@rheonom/contract/feed";
import type { SocketRoute } from "../doors/upgrade.ts";
import type { Store } from "../store/store.ts";

/** A page that does not take in what it is told is let go beyond so many bytes; it asks by itself then. */
const MOST_BEHIND_BYTES = 256 * 1024;
/** Changes of one job that come in quick succession are told once, ms. */
const GATHER_MS = 100;

/** Tells every open page which job has grown, whichever device or server made it grow. */
export function feedRoute(store: Pick<Store, "onChange">): SocketRoute {
  const pages = new Set<WebSocket>();
  const changed = new Map<string, number>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  const tell = (): void => {
    timer = undefined;
    const messages = [...changed].map(([id, entries]): FromFeed => ({ type: "job", id, entries }));
    changed.clear();
    for (const message of messages) {
      const text = JSON.stringify(message);
      for (const page of pages) {
        if (page.bufferedAmount > MOST_BEHIND_BYTES) page.terminate();
        else if (page.readyState === page.OPEN) page.send(text);
      }
    }
  };
  store.onChange((id, entries) => {
    if (pages.size === 0) return;
    changed.set(id, Math.max(entries, changed.get(id) ?? 0));
    timer ??= setTimeout(tell, GATHER_MS);
  });
  return {
    path: /^\/api\/feed$/,
    // Nothing is expected of a page.
    mostBytes: 64,
    most: 500,
    check: () => Promise.resolve(),
    serve: (ws) => {
      pages.add(ws);
      ws.on("message", () => ws.close(1008));
      ws.on("close", () => pages.delete(ws));
    },
  };
}
