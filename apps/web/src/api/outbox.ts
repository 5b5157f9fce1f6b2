import { createSlice, type PayloadAction } from "@reduxjs/toolkit";
import { jobEvent, type JobEvent } from "@rheonom/core/job";
import { mayPass, type Failure } from "./failure.ts";

/**
 * Events made here that the server has not acknowledged. Each is kept under a key of its own in the browser's storage from the
 * moment it is made, so that a reload, a closed tab or a stopped server loses nothing. Posting twice stores once.
 */
export interface Outbox {
  /** In the order of making. */
  readonly waiting: readonly JobEvent[];
  readonly refused: readonly { readonly event: JobEvent; readonly message: string }[];
  readonly server: "answers" | "silent";
}

const PREFIX = "rheonom.outbox.";

function readKept(): JobEvent[] {
  const kept: JobEvent[] = [];
  for (let i = 0; i < localStorage.length; i++) {
    const key = localStorage.key(i);
    if (key === null || !key.startsWith(PREFIX)) continue;
    const parsed = jobEvent.safeParse(parseJson(localStorage.getItem(key) ?? ""));
    if (parsed.success) kept.push(parsed.data);
  }
  // Version 7 ids sort by time.
  return kept.sort((p, q) => (p.id < q.id ? -1 : 1));
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** False when the browser's storage is full: the event is then held in memory only. */
export function keep(event: JobEvent): boolean {
  try {
    localStorage.setItem(PREFIX + event.id, JSON.stringify(event));
    return true;
  } catch {
    return false;
  }
}
/** Forgets an event: the server has it, or somebody has read why it was refused. */
export const letGo = (id: string): void => localStorage.removeItem(PREFIX + id);

const initialState = (): Outbox => ({ waiting: readKept(), refused: [], server: "answers" });

const slice = createSlice({
  name: "outbox",
  initialState,
  reducers: {
    added: (state, { payload }: PayloadAction<JobEvent>) => ({ ...state, waiting: [...state.waiting, payload] }),
    acknowledged: (state, { payload }: PayloadAction<readonly string[]>) => ({
      ...state,
      server: "answers",
      waiting: state.waiting.filter((e) => !payload.includes(e.id)),
    }),
    failed: (state, { payload }: PayloadAction<{ readonly ids: readonly string[]; readonly failure: Failure }>) => {
      const { ids, failure } = payload;
      if (failure.kind !== "refused" || mayPass(failure)) return { ...state, server: "silent" };
      const message = [failure.message, ...failure.issues.map((i) => i.message)].join(" ");
      return {
        ...state,
        waiting: state.waiting.filter((e) => !ids.includes(e.id)),
        refused: [...state.refused, ...state.waiting.filter((e) => ids.includes(e.id)).map((event) => ({ event, message }))],
      };
    },
    dismissed: (state, { payload }: PayloadAction<string>) => ({ ...state, refused: state.refused.filter((r) => r.event.id !== payload) }),
  },
});

export const outboxReducer = slice.reducer;
export const { added, acknowledged, failed, dismissed } = slice.actions;
