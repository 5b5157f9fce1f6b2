import { createSlice, type PayloadAction } from "@reduxjs/toolkit";
import type { PictureSaid } from "./kept-pictures.ts";

/** A picture on its way to the server. */
export interface QueuedPicture {
  readonly id: string;
  readonly said: PictureSaid;
  readonly name: string;
  /** Address of a small one that this page has made; "" until it has. */
  readonly preview: string;
  /** Share of it that has gone, 0 to 1. */
  readonly sent: number;
  /** Why the server will not have it; undefined while it is on its way. */
  readonly refused: string | undefined;
  /** False: it lives only as long as the page. */
  readonly isKept: boolean;
}

const slice = createSlice({
  name: "pictures",
  initialState: [] as readonly QueuedPicture[],
  reducers: {
    pictureQueued: (state, { payload }: PayloadAction<QueuedPicture>) =>
      state.some((p) => p.id === payload.id) ? state : [...state, payload],
    pictureChanged: (state, { payload }: PayloadAction<Pick<QueuedPicture, "id"> & Partial<QueuedPicture>>) =>
      state.map((p) => (p.id === payload.id ? { ...p, ...payload } : p)),
    pictureGone: (state, { payload }: PayloadAction<string>) => state.filter((p) => p.id !== payload),
  },
});

export const pictureReducer = slice.reducer;
export const { pictureQueued, pictureChanged, pictureGone } = slice.actions;
