import {
  debrief,
  drill,
  learning,
  practiceClass,
  practiceMenu,
  type DebriefShown,
  type DrillShown,
  type Learning,
  type PracticeClass,
  type PracticeMenu,
} from "@rheonom/contract/practice";
import { api } from "./api.ts";

/** What is asked about practice: apart from what the first screen fetches. */
export const practiceApi = api.injectEndpoints({
  endpoints: (build) => ({
    practiceMenu: build.query<PracticeMenu, undefined>({ query: () => "practice", responseSchema: practiceMenu }),
    practiceClass: build.query<PracticeClass, undefined>({
      query: () => "practice/class",
      responseSchema: practiceClass,
      keepUnusedDataFor: 0,
      providesTags: ["jobs"],
    }),
    drill: build.query<DrillShown, { readonly seed: number }>({
      query: ({ seed }) => `practice/drill?seed=${seed}`,
      responseSchema: drill,
    }),
    learning: build.query<Learning, { readonly by: string }>({
      query: ({ by }) => `practice/learning?by=${encodeURIComponent(by)}`,
      responseSchema: learning,
      keepUnusedDataFor: 0,
    }),
    /** `key`: entries of the log, so that it is asked for again when there are more. */
    debrief: build.query<DebriefShown, { readonly id: string; readonly key: number }>({
      query: ({ id }) => `jobs/${id}/debrief`,
      responseSchema: debrief,
    }),
  }),
});

export const { useDebriefQuery, useDrillQuery, useLearningQuery, usePracticeClassQuery, usePracticeMenuQuery } = practiceApi;
