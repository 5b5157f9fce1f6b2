import { createSlice, type PayloadAction } from "@reduxjs/toolkit";
import type { VehicleState } from "@rheonom/core/circuit";
import { keepItem } from "./kept.ts";

export type MeterMode = "volts" | "ohms" | "amps";

/** What stands on the Trace screen of a job and is not an event yet: the state the vehicle is in, where the leads are, what is being typed. */
export interface BenchDraft {
  /** Without what the tray adds. */
  readonly state: VehicleState;
  readonly red: string;
  readonly black: string;
  readonly around: string;
  readonly text: string;
  readonly mode: MeterMode;
  /** The field that a tap on the drawing fills. */
  readonly armed: "red" | "black";
  readonly scale: "ends" | "even";
  /** When the state was last set on this device, ms since 1970; 0 when never. */
  readonly setAt: number;
}

export const draftKey = (jobId: string): string => `rheonom.bench.${jobId}`;

export function keepDrafts(drafts: Readonly<Record<string, BenchDraft>>): void {
  for (const [jobId, value] of Object.entries(drafts)) keepItem(draftKey(jobId), JSON.stringify(value));
}

interface Change<T> {
  readonly jobId: string;
  readonly change: Partial<T>;
  /** The draft that was shown, when the store holds none yet. */
  readonly before: BenchDraft;
}

const slice = createSlice({
  name: "bench",
  initialState: {} as Readonly<Record<string, BenchDraft>>,
  reducers: {
    benchChanged: (drafts, { payload }: PayloadAction<Change<BenchDraft>>) => ({
      ...drafts,
      [payload.jobId]: { ...(drafts[payload.jobId] ?? payload.before), ...payload.change },
    }),
    stateChanged: {
      // When it was set is told with it, so that the latest of two devices can be known.
      prepare: (change: Change<VehicleState> & { readonly at?: number }) => ({ payload: { at: Date.now(), ...change } }),
      reducer: (drafts, { payload }: PayloadAction<Change<VehicleState> & { readonly at: number }>) => {
        const before = drafts[payload.jobId] ?? payload.before;
        return { ...drafts, [payload.jobId]: { ...before, state: { ...before.state, ...payload.change }, setAt: payload.at } };
      },
    },
  },
});

export const benchReducer = slice.reducer;
export const { benchChanged, stateChanged } = slice.actions;
