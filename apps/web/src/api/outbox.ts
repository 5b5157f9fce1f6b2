import { createSlice, type PayloadAction } from "@reduxjs/toolkit";
import type { JobEvent } from "@rheonom/core/job";
import type { Failure } from "./failure.ts";

/** Events made here that the server has not acknowledged. Posting twice stores once. */
export interface Outbox {
  /** In the order of making. */
  readonly waiting: readonly JobEvent[];
  /** Ids of those that this device has no room to keep: they live only as long as the page. */
  readonly unkept: readonly string[];
  /** What the server refused, or failed on, with the reason. It stays on this device until somebody has read that. */
  readonly aside: readonly { readonly event: JobEvent; readonly message: string }[];
  readonly server: ServerState;
}

export type ServerState =
  | { readonly kind: "answers" }
  /** Nobody answers. */
  | { readonly kind: "silent" }
  /** It answers, and cannot store now. */
  | { readonly kind: "waiting"; readonly why: string };

const initialState: Outbox = { waiting: [], unkept: [], aside: [], server: { kind: "answers" } };

const without = <T extends { readonly id: string }>(events: readonly T[], ids: readonly string[]): readonly T[] =>
  events.filter((e) => !ids.includes(e.id));

const slice = createSlice({
  name: "outbox",
  initialState,
  reducers: {
    /** What an earlier page has kept comes ahead of what this one has made; what this one has set aside meanwhile stays aside. */
    found: (state, { payload }: PayloadAction<readonly JobEvent[]>) => {
      const here = new Set([...state.waiting, ...state.aside.map((a) => a.event)].map((e) => e.id));
      return { ...state, waiting: [...payload.filter((e) => !here.has(e.id)), ...state.waiting] };
    },
    added: (state, { payload }: PayloadAction<JobEvent>) => ({ ...state, waiting: [...state.waiting, payload] }),
    notKept: (state, { payload }: PayloadAction<string>) => ({ ...state, unkept: [...state.unkept, payload] }),
    acknowledged: (state, { payload }: PayloadAction<readonly string[]>) => ({
      ...state,
      server: { kind: "answers" as const },
      waiting: without(state.waiting, payload),
      unkept: state.unkept.filter((id) => !payload.includes(id)),
    }),
    /** Nothing leaves the outbox for a server that cannot be asked now. */
    postponed: (state, { payload }: PayloadAction<Failure>) => ({
      ...state,
      server: payload.kind === "waiting" ? { kind: "waiting" as const, why: payload.message } : { kind: "silent" as const },
    }),
    setAside: (state, { payload }: PayloadAction<{ readonly id: string; readonly message: string }>) => {
      const event = state.waiting.find((e) => e.id === payload.id);
      if (event === undefined) return state;
      return {
        ...state,
        server: { kind: "answers" as const },
        waiting: without(state.waiting, [payload.id]),
        aside: [...state.aside, { event, message: payload.message }],
      };
    },
    /** Once more, behind what waits. */
    triedAgain: (state, { payload }: PayloadAction<string>) => {
      const found = state.aside.find((a) => a.event.id === payload);
      if (found === undefined) return state;
      return { ...state, waiting: [...state.waiting, found.event], aside: state.aside.filter((a) => a !== found) };
    },
    discarded: (state, { payload }: PayloadAction<string>) => ({
      ...state,
      aside: state.aside.filter((a) => a.event.id !== payload),
      unkept: state.unkept.filter((id) => id !== payload),
    }),
  },
});

export const outboxReducer = slice.reducer;
export const { found, added, notKept, acknowledged, postponed, setAside, triedAgain, discarded } = slice.actions;

/** Why an event is set aside, in words. */
export const asideWords = (failure: Failure): string =>
  failure.kind === "refused" ? [failure.message, ...failure.issues.map((i) => i.message)].join(" ") : failure.message;
