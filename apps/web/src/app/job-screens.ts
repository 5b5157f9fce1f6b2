/** The screens of a job, fetched together. */
export { JobLayout } from "./job-layout.tsx";
export { NewJobScreen } from "../features/complaint/new-job-screen.tsx";
export { ComplaintScreen } from "../features/complaint/complaint-screen.tsx";
export { CodesScreen } from "../features/codes/codes-screen.tsx";
export { CircuitScreen } from "../features/circuit/circuit-screen.tsx";
export { TraceScreen } from "../features/trace/trace-screen.tsx";
export { MendScreen } from "../features/mend/mend-screen.tsx";
export { ProveScreen } from "../features/prove/prove-screen.tsx";
export { RecordScreen } from "../features/record/record-screen.tsx";
export { WhatIfScreen } from "../features/practice/what-if-screen.tsx";
export { DebriefScreen } from "../features/practice/debrief-screen.tsx";
export { BenchScreen } from "../features/bench/bench-screen.tsx";
