import {
  debrief,
  debriefProgress,
  drill,
  learning,
  practiceClass,
  practiceMenu,
  type DebriefProgress,
  type DebriefShown,
  type DrillShown,
  type Learning,
  type PracticeClass,
  type PracticeMenu,
} from "@rheonom/contract/practice";
import { api } from "./api.ts";

/** How long a debrief may take, ms. */
const DEBRIEF_MS = 300_000;

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
      // A long job on a large vehicle takes a while, and others of a class may be ahead.
      query: ({ id }) => ({ url: `jobs/${id}/debrief`, timeout: DEBRIEF_MS }),
      responseSchema: debrief,
    }),
    debriefProgress: build.query<DebriefProgress, string>({
      query: (id) => `jobs/${id}/debrief/progress`,
      responseSchema: debriefProgress,
      keepUnusedDataFor: 0,
    }),
  }),
});

export const { useDebriefProgressQuery, useDebriefQuery, useDrillQuery, useLearningQuery, usePracticeClassQuery, usePracticeMenuQuery } =
  practiceApi;
