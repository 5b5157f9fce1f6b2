import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import "@fontsource-variable/jetbrains-mono/index.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Provider } from "react-redux";
import { RouterProvider } from "react-router/dom";
import { GlobalStyle } from "../ui/theme.ts";
import { followServer } from "./live.ts";
import { takeUpKept } from "./record.ts";
import { fetchAhead, router } from "./router.tsx";
import { store } from "./store.ts";

const FETCH_AHEAD_MS = 1500;

const place = document.getElementById("root");
if (place === null) throw new Error("the page has no #root");
createRoot(place).render(
  <StrictMode>
    <Provider store={store}>
      <GlobalStyle />
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);
void takeUpKept();
followServer();
// After the first screen has drawn itself and asked for its rows.
setTimeout(() => void fetchAhead().catch(() => undefined), FETCH_AHEAD_MS);
