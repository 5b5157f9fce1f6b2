import { createBrowserRouter, Navigate } from "react-router";
import { BoardScreen } from "../features/board/board-screen.tsx";
import { CircuitScreen } from "../features/circuit/circuit-screen.tsx";
import { ComplaintScreen } from "../features/complaint/complaint-screen.tsx";
import { NewJobScreen } from "../features/complaint/new-job-screen.tsx";
import { MendScreen } from "../features/mend/mend-screen.tsx";
import { ProveScreen } from "../features/prove/prove-screen.tsx";
import { RecordScreen } from "../features/record/record-screen.tsx";
import { TraceScreen } from "../features/trace/trace-screen.tsx";
import { BrokenPage, UnknownPage } from "./error-pages.tsx";
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
          { path: "circuit", element: <CircuitScreen /> },
          { path: "trace", element: <TraceScreen /> },
          { path: "mend", element: <MendScreen /> },
          { path: "prove", element: <ProveScreen /> },
          { path: "record", element: <RecordScreen /> },
        ],
      },
      { path: "*", element: <UnknownPage /> },
    ],
  },
]);
