import { createSlice, type PayloadAction } from "@reduxjs/toolkit";
import { keepItem } from "./kept.ts";

export type Theme = "system" | "light" | "dark";

/** Who works here and how the page looks; stays on this device. */
export interface Session {
  readonly person: string;
  readonly theme: Theme;
}

const KEY = "rheonom.session";

function readKept(): Session {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<Record<keyof Session, unknown>>;
    return {
      person: typeof kept.person === "string" ? kept.person.slice(0, 80) : "",
      theme: kept.theme === "light" || kept.theme === "dark" ? kept.theme : "system",
    };
  } catch {
    return { person: "", theme: "system" };
  }
}

const slice = createSlice({
  name: "session",
  initialState: readKept,
  reducers: {
    personChanged: (state, { payload }: PayloadAction<string>) => ({ ...state, person: payload }),
    themeChanged: (state, { payload }: PayloadAction<Theme>) => ({ ...state, theme: payload }),
  },
});

export const keepSession = (session: Session): void => void keepItem(KEY, JSON.stringify(session));
export const sessionReducer = slice.reducer;
export const { personChanged, themeChanged } = slice.actions;
