import { original } from "@reduxjs/toolkit";
import { api } from "../api/api.ts";
import { followFeed } from "../api/feed.ts";
import { mergeTail, type KnownLog } from "../api/known-log.ts";
import { store } from "../job/store.ts";

/** The board is asked again at most so often, ms. */
const BOARD_MS = 1000;

/** Keeps what is shown as it is on the server: jobs that are open here get what others have entered, the board is asked again. */
export function followServer(): () => void {
  let board: ReturnType<typeof setTimeout> | undefined;
  const askBoard = (): void => {
    board ??= setTimeout(() => {
      board = undefined;
      store.dispatch(api.util.invalidateTags(["jobs"]));
    }, BOARD_MS);
  };
  return followFeed({
    open: () => new WebSocket(`${location.origin.replace(/^http/, "ws")}/api/feed`),
    changed: (jobId, entries) => {
      askBoard();
      const known = knownLog(jobId);
      if (known !== undefined && known.next < entries) void fetchTail(jobId);
    },
    catchUp: () => {
      askBoard();
      store.dispatch(api.util.invalidateTags(["health"]));
      for (const jobId of openJobs()) void fetchTail(jobId);
    },
    setTimer: (then, ms) => setTimeout(then, ms),
    clearTimer: (timer) => clearTimeout(timer as ReturnType<typeof setTimeout>),
  });
}

const knownLog = (jobId: string): KnownLog | undefined => api.endpoints.job.select(jobId)(store.getState()).data;

/** Jobs whose log somebody looks at here. */
const openJobs = (): string[] =>
  Object.values(store.getState().api.queries).flatMap((q) =>
    q?.endpointName === "job" && q.status === "fulfilled" ? [q.originalArgs as string] : [],
  );

const fetching = new Map<string, Promise<void>>();

/** Adds what has come to a log since it was last read. Asked for again meanwhile, it is read once more afterwards. */
function fetchTail(jobId: string): Promise<void> {
  const running = fetching.get(jobId);
  const mine = (running ?? Promise.resolve()).then(async () => {
    const known = knownLog(jobId);
    if (known === undefined) return;
    const asked = store.dispatch(
      api.endpoints.jobTail.initiate({ id: jobId, after: known.next }, { forceRefetch: true, subscribe: false }),
    );
    const { data } = await asked;
    if (data !== undefined) store.dispatch(api.util.updateQueryData("job", jobId, (log) => mergeTail(original(log)!, data)));
  });
  fetching.set(jobId, mine);
  return mine.finally(() => fetching.get(jobId) === mine && fetching.delete(jobId));
}
