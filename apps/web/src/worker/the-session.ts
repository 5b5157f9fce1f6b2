import { proxy, wrap } from "comlink";
import type { SessionHost } from "./host.ts";
import { createSession, type Lane, type RemoteHost } from "./session.ts";

function begin(): Lane {
  const worker = new Worker(new URL("./session.worker.ts", import.meta.url), { type: "module" });
  return { host: wrap<SessionHost>(worker) as unknown as RemoteHost, end: () => worker.terminate() };
}

/** The page's computing session. Its workers start when they are first asked. */
export const session = createSession(begin, (callback) => proxy(callback));
