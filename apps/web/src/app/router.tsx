import { createBrowserRouter, Navigate } from "react-router";
import { BoardScreen } from "../features/board/board-screen.tsx";
import { CircuitScreen } from "../features/circuit/circuit-screen.tsx";
import { ComplaintScreen } from "../features/complaint/complaint-screen.tsx";
import { NewJobScreen } from "../features/complaint/new-job-screen.tsx";
import { MendScreen } from "../features/mend/mend-screen.tsx";
import { ProveScreen } from "../features/prove/prove-screen.tsx";
import { RecordScreen } from "../features/record/record-screen.tsx";
import { TraceScreen } from "../features/trace/trace-screen.tsx";
import { BusesTab } from "../features/vehicles/buses-tab.tsx";
import { CircuitTab } from "../features/vehicles/circuit-tab.tsx";
import { FaceTab } from "../features/vehicles/face-tab.tsx";
import { FusesTab } from "../features/vehicles/fuses-tab.tsx";
import { GroundsTab } from "../features/vehicles/grounds-tab.tsx";
import { LoomsTab } from "../features/vehicles/looms-tab.tsx";
import { NewVehicleScreen } from "../features/vehicles/new-vehicle-screen.tsx";
import { SharedTab } from "../features/vehicles/shared-tab.tsx";
import { TextTab } from "../features/vehicles/text-tab.tsx";
import { TransferTab } from "../features/vehicles/transfer-tab.tsx";
import { VehicleLayout } from "../features/vehicles/vehicle-layout.tsx";
import { VehiclesScreen } from "../features/vehicles/vehicles-screen.tsx";
import { VersionsTab } from "../features/vehicles/versions-tab.tsx";
import { PlugScreen } from "../features/plug/plug-screen.tsx";
import { BrokenPage, UnknownPage } from "./error-pages.tsx";
import { CodesScreen } from "../features/codes/codes-screen.tsx";
import { JobLayout } from "./job-layout.tsx";
import { Shell } from "./shell.tsx";

export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <BrokenPage />,
    children: [
      { index: true, element: <BoardScreen /> },
      { path: "jobs/new", element: <NewJobScreen /> },
      {
        path: "jobs/:jobId",
        element: <JobLayout />,
        children: [
          { index: true, element: <Navigate to="trace" replace /> },
          { path: "complaint", element: <ComplaintScreen /> },
          { path: "codes", element: <CodesScreen /> },
          { path: "circuit", element: <CircuitScreen /> },
          { path: "trace", element: <TraceScreen /> },
          { path: "mend", element: <MendScreen /> },
          { path: "prove", element: <ProveScreen /> },
          { path: "record", element: <RecordScreen /> },
        ],
      },
      { path: "vehicles", element: <VehiclesScreen /> },
      { path: "vehicles/new", element: <NewVehicleScreen /> },
      { path: "plug", element: <PlugScreen /> },
      {
        path: "vehicles/:vehicleId",
        element: <VehicleLayout />,
        children: [
          { index: true, element: <Navigate to="circuit" replace /> },
          { path: "circuit", element: <CircuitTab /> },
          { path: "shared", element: <SharedTab /> },
          { path: "grounds", element: <GroundsTab /> },
          { path: "fuses", element: <FusesTab /> },
          { path: "buses", element: <BusesTab /> },
          { path: "looms", element: <LoomsTab /> },
          { path: "faces", element: <FaceTab /> },
          { path: "text", element: <TextTab /> },
          { path: "transfer", element: <TransferTab /> },
          { path: "versions", element: <VersionsTab /> },
        ],
      },
      { path: "*", element: <UnknownPage /> },
    ],
  },
]);
