import "../ui/fonts.css";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { Provider } from "react-redux";
import { RouterProvider } from "react-router/dom";
import { GlobalStyle } from "../ui/theme.ts";
import { api } from "../api/api.ts";
import { readAddress } from "../features/board/address.ts";
import { followServer } from "./live.ts";
import { fetchAhead, router } from "./router.tsx";
import { store } from "../job/store.ts";

const FETCH_AHEAD_MS = 2500;
/** How long the first drawing waits for the board's rows, ms: drawn with them it is drawn once. */
const ROWS_MS = 200;

const place = document.getElementById("root");
if (place === null) throw new Error("the page has no #root");
async function rowsOfBoard(): Promise<void> {
  if (location.pathname !== "/") return;
  const rows = store.dispatch(api.endpoints.jobs.initiate(readAddress(new URLSearchParams(location.search)), { subscribe: false }));
  await Promise.race([rows, new Promise((done) => setTimeout(done, ROWS_MS))]);
}

void rowsOfBoard().then(() =>
  createRoot(place).render(
    <StrictMode>
      <Provider store={store}>
        <GlobalStyle />
        <RouterProvider router={router} />
      </Provider>
    </StrictMode>,
  ),
);
followServer();
// After the first screen has drawn itself.
setTimeout(() => {
  void import("../job/record.ts").then((record) => record.takeUpKept());
  void import("../job/pictures/take-pictures.ts").then((pictures) => pictures.takeUpPictures());
  void fetchAhead().catch(() => undefined);
}, FETCH_AHEAD_MS);
