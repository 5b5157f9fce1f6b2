import { createSlice, type PayloadAction } from "@reduxjs/toolkit";
import { z } from "zod";
import { REST_STATE, vehicleState, type VehicleState } from "@rheonom/core/circuit";
import { keepItem } from "./kept.ts";

export type MeterMode = "volts" | "ohms" | "amps";

/** What stands on the Trace screen of a job and is not an event yet: the state the vehicle is in, where the leads are, what is being typed. */
const draft = z.object({
  /** Without what the tray adds. */
  state: vehicleState,
  red: z.string().max(60),
  black: z.string().max(60),
  around: z.string().max(60),
  text: z.string().max(60),
  mode: z.enum(["volts", "ohms", "amps"]),
  /** The field that a tap on the drawing fills. */
  armed: z.enum(["red", "black"]),
  scale: z.enum(["ends", "even"]),
});
export type BenchDraft = z.infer<typeof draft>;

const EMPTY: BenchDraft = { state: REST_STATE, red: "", black: "", around: "", text: "", mode: "volts", armed: "red", scale: "ends" };

const keyOf = (jobId: string): string => `rheonom.bench.${jobId}`;

/** The draft kept in the browser's storage, or an empty one in the state of the job's latest reading. */
export function readDraft(jobId: string, lastState: VehicleState = REST_STATE): BenchDraft {
  const fresh = { ...EMPTY, state: { ...lastState, opened: [], bridged: [] } };
  try {
    const kept = draft.safeParse(JSON.parse(localStorage.getItem(keyOf(jobId)) ?? "null"));
    return kept.success ? kept.data : fresh;
  } catch {
    return fresh;
  }
}

export function keepDrafts(drafts: Readonly<Record<string, BenchDraft>>): void {
  for (const [jobId, value] of Object.entries(drafts)) keepItem(keyOf(jobId), JSON.stringify(value));
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
    stateChanged: (drafts, { payload }: PayloadAction<Change<VehicleState>>) => {
      const before = drafts[payload.jobId] ?? payload.before;
      return { ...drafts, [payload.jobId]: { ...before, state: { ...before.state, ...payload.change } } };
    },
  },
});

export const benchReducer = slice.reducer;
export const { benchChanged, stateChanged } = slice.actions;
