import { configureStore } from "@reduxjs/toolkit";
import { useDispatch, useSelector } from "react-redux";
import { api } from "../api/api.ts";
import { outboxReducer } from "../api/outbox.ts";
import { pictureReducer } from "../api/picture-queue.ts";
import { benchReducer, keepDrafts } from "./bench.ts";
import { keepSession, sessionReducer } from "./session.ts";

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    session: sessionReducer,
    outbox: outboxReducer,
    pictures: pictureReducer,
    bench: benchReducer,
  },
  middleware: (defaults) => defaults().concat(api.middleware),
});

export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();

// What must outlive a reload goes to the browser's storage as it changes.
let seen = store.getState();
store.subscribe(() => {
  const now = store.getState();
  if (now.session !== seen.session) keepSession(now.session);
  if (now.bench !== seen.bench) keepDrafts(now.bench);
  seen = now;
});
