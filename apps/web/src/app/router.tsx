import { createBrowserRouter, Navigate } from "react-router";
import { BoardScreen } from "../features/board/board-screen.tsx";
import { BrokenPage, UnknownPage } from "./error-pages.tsx";
import type * as JobScreens from "./job-screens.ts";
import { Shell } from "./shell.tsx";
import type * as ShopScreens from "./shop-screens.ts";
import type * as VehicleScreens from "./vehicle-screens.ts";

// The screens of a job come together: once one is open, work goes on without a server on all of them.
const loadJobScreens = (): Promise<typeof JobScreens> => import("./job-screens.ts");
const loadVehicleScreens = (): Promise<typeof VehicleScreens> => import("./vehicle-screens.ts");
const loadShopScreens = (): Promise<typeof ShopScreens> => import("./shop-screens.ts");
const ofShop = (name: keyof Awaited<ReturnType<typeof loadShopScreens>>) => async () => ({ Component: (await loadShopScreens())[name] });
const ofJob = (name: keyof Awaited<ReturnType<typeof loadJobScreens>>) => async () => ({ Component: (await loadJobScreens())[name] });
const ofVehicles = (name: keyof Awaited<ReturnType<typeof loadVehicleScreens>>) => async () => ({
  Component: (await loadVehicleScreens())[name],
});

/** Fetches what the first screen does not need, so that it is there when it is wanted. */
export async function fetchAhead(): Promise<void> {
  await loadJobScreens();
  await loadVehicleScreens();
  await loadShopScreens();
}

export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <BrokenPage />,
    hydrateFallbackElement: <p role="status">Loading …</p>,
    children: [
      { index: true, element: <BoardScreen /> },
      { path: "jobs/new", lazy: ofJob("NewJobScreen") },
      {
        path: "jobs/:jobId",
        lazy: ofJob("JobLayout"),
        children: [
          { index: true, element: <Navigate to="trace" replace /> },
          { path: "complaint", lazy: ofJob("ComplaintScreen") },
          { path: "codes", lazy: ofJob("CodesScreen") },
          { path: "circuit", lazy: ofJob("CircuitScreen") },
          { path: "trace", lazy: ofJob("TraceScreen") },
          { path: "bench", lazy: ofJob("BenchScreen") },
          { path: "mend", lazy: ofJob("MendScreen") },
          { path: "prove", lazy: ofJob("ProveScreen") },
          { path: "record", lazy: ofJob("RecordScreen") },
          { path: "what-if", lazy: ofJob("WhatIfScreen") },
          { path: "debrief", lazy: ofJob("DebriefScreen") },
        ],
      },
      { path: "practice", lazy: ofShop("PracticeScreen") },
      { path: "planner", lazy: ofShop("PlannerScreen") },
      { path: "shop", lazy: ofShop("ShopScreen") },
      { path: "vehicles", lazy: ofVehicles("VehiclesScreen") },
      { path: "vehicles/new", lazy: ofVehicles("NewVehicleScreen") },
      { path: "known-goods", lazy: ofVehicles("ShelfScreen") },
      { path: "plug", lazy: ofVehicles("PlugScreen") },
      {
        path: "vehicles/:vehicleId",
        lazy: ofVehicles("VehicleLayout"),
        children: [
          { index: true, element: <Navigate to="circuit" replace /> },
          { path: "circuit", lazy: ofVehicles("CircuitTab") },
          { path: "shared", lazy: ofVehicles("SharedTab") },
          { path: "grounds", lazy: ofVehicles("GroundsTab") },
          { path: "fuses", lazy: ofVehicles("FusesTab") },
          { path: "buses", lazy: ofVehicles("BusesTab") },
          { path: "what-if", lazy: ofVehicles("WhatIfTab") },
          { path: "looms", lazy: ofVehicles("LoomsTab") },
          { path: "faces", lazy: ofVehicles("FaceTab") },
          { path: "text", lazy: ofVehicles("TextTab") },
          { path: "transfer", lazy: ofVehicles("TransferTab") },
          { path: "known-goods", lazy: ofVehicles("ShelfTab") },
          { path: "versions", lazy: ofVehicles("VersionsTab") },
        ],
      },
      { path: "*", element: <UnknownPage /> },
    ],
  },
]);
