import { createApi, fetchBaseQuery } from "@reduxjs/toolkit/query/react";
import type { AppendEvents, BenchKept, JobLog, Simulate, SimulateLook, SaveHarness, VersionedHarness } from "@rheonom/contract/api";
import {
  appended,
  begun,
  bundleTaken,
  earlierJobs,
  demoCircuits,
  health,
  jobList,
  savedHarness,
  looked,
  simulated,
  vehicleList,
  vehicleVersions,
  type Appended,
  type Begun,
  type BundleTaken,
  type DemoCircuits,
  type EarlierJobs,
  type Health,
  type JobList,
  type JobQuery,
  type Looked,
  type Simulated,
  type SavedHarness,
  type VehicleList,
  type VehicleVersions,
  jobListPath,
} from "@rheonom/contract/light";
import type { Practising } from "@rheonom/contract/practice";
import type { JobEvent } from "@rheonom/core/job";
import type { KnownLog } from "./known-log.ts";

/** What holds events and circuits is checked by schemas that bring much of the model along; the first screen does without. */
const schemas = () => import("@rheonom/contract/api");

/** The server's resources. Answers are checked against the contract. */
export const api = createApi({
  reducerPath: "api",
  baseQuery: fetchBaseQuery({ baseUrl: "/api", timeout: 15_000 }),
  tagTypes: ["jobs", "vehicles", "health", "shop", "shelf"],
  refetchOnReconnect: true,
  endpoints: (build) => ({
    jobs: build.query<JobList, Partial<JobQuery>>({
      query: (query) => jobListPath(query),
      responseSchema: jobList,
      providesTags: ["jobs"],
    }),
    job: build.query<KnownLog, string>({
      query: (id) => `jobs/${id}`,
      transformResponse: async (answer: unknown) => {
        const log = (await schemas()).jobLog.parse(answer);
        return { ...log, confirmed: log.events.length };
      },
    }),
    /** What has come to a log since a place of it. */
    jobTail: build.query<JobLog, { readonly id: string; readonly after: number }>({
      query: ({ id, after }) => `jobs/${id}?after=${after}`,
      transformResponse: async (answer: unknown) => (await schemas()).jobLog.parse(answer),
    }),
    health: build.query<Health, undefined>({ query: () => "health", responseSchema: health, providesTags: ["health"] }),
    demoCircuits: build.query<DemoCircuits, undefined>({ query: () => "demo-circuits", responseSchema: demoCircuits }),
    vehicles: build.query<VehicleList, undefined>({ query: () => "vehicles", responseSchema: vehicleList, providesTags: ["vehicles"] }),
    vehicle: build.query<VehicleVersions, string>({
      query: (id) => `vehicles/${id}`,
      responseSchema: vehicleVersions,
      providesTags: ["vehicles"],
    }),
    // A version never changes, so that an answer stays good.
    harness: build.query<VersionedHarness, { readonly id: string; readonly version: number }>({
      query: ({ id, version }) => `vehicles/${id}/versions/${version}`,
      transformResponse: async (answer: unknown) => (await schemas()).versionedHarness.parse(answer),
      keepUnusedDataFor: 3600,
    }),
    saveHarness: build.mutation<SavedHarness, { readonly id: string } & SaveHarness>({
      query: ({ id, ...body }) => ({ url: `vehicles/${id}/versions`, method: "POST", body }),
      responseSchema: savedHarness,
      invalidatesTags: ["vehicles"],
    }),
    openJob: build.mutation<Appended, JobEvent>({
      query: (body) => ({ url: "jobs", method: "POST", body }),
      responseSchema: appended,
      invalidatesTags: ["jobs"],
    }),
    appendEvents: build.mutation<Appended, { readonly jobId: string } & AppendEvents>({
      query: ({ jobId, events }) => ({ url: `jobs/${jobId}/events`, method: "POST", body: { events } }),
      responseSchema: appended,
      invalidatesTags: ["jobs"],
    }),
    earlierJobs: build.query<EarlierJobs, string>({
      query: (find) => `earlier-jobs?find=${encodeURIComponent(find)}`,
      responseSchema: earlierJobs,
      providesTags: ["jobs"],
    }),
    practise: build.mutation<Begun, Practising>({
      query: (body) => ({ url: "practice", method: "POST", body }),
      responseSchema: begun,
      invalidatesTags: ["jobs"],
    }),
    takeBundle: build.mutation<BundleTaken, Blob>({
      query: (body) => ({ url: "bundles", method: "POST", body, headers: { "content-type": "application/zip" } }),
      responseSchema: bundleTaken,
      invalidatesTags: ["jobs"],
    }),
    showFinished: build.mutation<Begun, undefined>({
      // Nothing to say, but what comes without JSON is turned away: any page could send it.
      query: () => ({ url: "samples/finished", method: "POST", body: {} }),
      responseSchema: begun,
      invalidatesTags: ["jobs"],
    }),
    keepBench: build.mutation<null, { readonly jobId: string } & BenchKept>({
      query: ({ jobId, ...body }) => ({ url: `jobs/${jobId}/bench`, method: "PUT", body }),
    }),
    simulate: build.mutation<Simulated, { readonly jobId: string } & Simulate>({
      query: ({ jobId, ...body }) => ({ url: `jobs/${jobId}/simulated-reading`, method: "POST", body }),
      responseSchema: simulated,
    }),
    look: build.mutation<Looked, { readonly jobId: string } & SimulateLook>({
      query: ({ jobId, ...body }) => ({ url: `jobs/${jobId}/simulated-look`, method: "POST", body }),
      responseSchema: looked,
    }),
  }),
});

export const {
  useHealthQuery,
  useJobsQuery,
  useJobQuery,
  useDemoCircuitsQuery,
  useOpenJobMutation,
  useEarlierJobsQuery,
  useKeepBenchMutation,
  usePractiseMutation,
  useLookMutation,
  useTakeBundleMutation,
  useShowFinishedMutation,
  useSimulateMutation,
  useVehiclesQuery,
  useVehicleQuery,
  useHarnessQuery,
  useSaveHarnessMutation,
} = api;
