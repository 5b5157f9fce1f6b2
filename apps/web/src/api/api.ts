import { createApi, fetchBaseQuery } from "@reduxjs/toolkit/query/react";
import {
  appended,
  demoCircuits,
  jobList,
  jobLog,
  simulated,
  type AppendEvents,
  type Appended,
  type DemoCircuits,
  type JobList,
  type JobLog,
  type Simulate,
  type Simulated,
} from "@rheonom/contract/api";
import type { JobEvent } from "@rheonom/core/job";

/** The server's resources. Answers are checked against the contract. */
export const api = createApi({
  reducerPath: "api",
  baseQuery: fetchBaseQuery({ baseUrl: "/api", timeout: 15_000 }),
  tagTypes: ["jobs"],
  refetchOnReconnect: true,
  endpoints: (build) => ({
    jobs: build.query<JobList, undefined>({ query: () => "jobs", responseSchema: jobList, providesTags: ["jobs"] }),
    job: build.query<JobLog, string>({ query: (id) => `jobs/${id}`, transformResponse: (answer: unknown) => jobLog.parse(answer) }),
    demoCircuits: build.query<DemoCircuits, undefined>({ query: () => "demo-circuits", responseSchema: demoCircuits }),
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
    simulate: build.mutation<Simulated, { readonly jobId: string } & Simulate>({
      query: ({ jobId, ...body }) => ({ url: `jobs/${jobId}/simulated-reading`, method: "POST", body }),
      responseSchema: simulated,
    }),
  }),
});

export const { useJobsQuery, useJobQuery, useDemoCircuitsQuery, useOpenJobMutation, useSimulateMutation } = api;
